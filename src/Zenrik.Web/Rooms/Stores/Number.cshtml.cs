using Microsoft.AspNetCore.Mvc;
using Zenrik.Core.Fit;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Fit;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.Stock;

namespace Zenrik.Web.Rooms.Stores;

[PostingNeeds(Policies.Counter)]
public sealed class NumberModel(
    ViewStock stock,
    FitOf fits,
    PassportOf passports,
    ProveStock prove,
    SetLevel level,
    DescribeNumber describe,
    ListUnits units
) : RoomPage
{
    private const string ThisPage = "/Stores/Number";

    public NumberView View { get; private set; } = null!;

    public CatalogueNumber Known => View.Number;

    /// <summary>Units in use that it fits.</summary>
    public IReadOnlyList<ServedUnit> Serves { get; private set; } = [];

    /// <summary>The unit asked about, as typed; null when none was.</summary>
    public string? Unit { get; private set; }

    /// <summary>Verdicts on that unit's slots of the number's kind.</summary>
    public IReadOnlyList<(string Slot, FitAnswer Answer)> Here { get; private set; } = [];

    public string? Unknown { get; private set; }

    /// <summary>The kind whose facts are asked for.</summary>
    public ItemKind Kind { get; private set; }

    /// <summary>What is known, or what a unit's slot implies, by field.</summary>
    public IReadOnlyDictionary<string, string> Values { get; private set; } = new Dictionary<string, string>();

    /// <summary>The unit the values were filled in from.</summary>
    public (string Tag, string Slot)? Learned { get; private set; }

    /// <summary>A unit one sits in; null when none does.</summary>
    public (string Tag, string Slot)? SitsIn { get; private set; }

    public IReadOnlyList<(string Code, string Name)> Models { get; private set; } = [];

    public IReadOnlyList<ProofLine> Proof { get; private set; } = [];

    public async Task<IActionResult> OnGet(
        string number,
        string? unit,
        ItemKind? kind,
        string? from,
        CancellationToken stop
    )
    {
        if (!(await stock.OfNumber(number, stop)).Try(out var found, out _))
        {
            return RedirectToPage("/Scan", new { code = number });
        }

        View = found;
        Unit = string.IsNullOrWhiteSpace(unit) ? null : unit.Trim();
        if (Unit is not null)
        {
            if ((await passports.Run(Unit, stop)).Try(out var passport, out var refusal))
            {
                Here = (await fits.InUnit(passport, Known, stop)).Try(out var verdicts, out refusal) ? verdicts : [];
            }

            Unknown = refusal?.Message;
        }

        Kind = kind is { } asked && Enum.IsDefined(asked) ? asked : Known.Kind;
        Values =
            Known.Specification is { } specification && specification.Kind == Kind
                ? SpecificationForm.Values(specification)
                : Values;
        (_, Models, _) = await units.Choices(stop);
        SitsIn = View
            .Items.Where(i => i.Unit is not null)
            .Select(i => ((string, string)?)(i.Unit!.Tag, i.Slot!))
            .FirstOrDefault();
        if (from is not null)
        {
            await Learn(from, stop);
        }

        Serves = await fits.Serves(Known, stop);
        Proof = await prove.OfNumber(Known.Number, stop);
        return Page();
    }

    /// <summary>Fills in what the slot says in which one of these sits, where nothing is known yet.</summary>
    private async Task Learn(string tag, CancellationToken stop)
    {
        if (
            !(await passports.Run(tag, stop)).Try(out var passport, out _)
            || passport.Slots.FirstOrDefault(s => s.Item?.NumberId == Known.Id) is not { } slot
            || passport.Model?.Specifications.FirstOrDefault(s => s.Slot == slot.Slot) is not { } says
        )
        {
            return;
        }

        var implied = SpecificationForm.ImpliedBy(says);
        Kind = implied.Kind;
        var filled = new Dictionary<string, string>(SpecificationForm.Values(implied));
        foreach (var (field, value) in Values)
        {
            filled[field] = value;
        }

        (Values, Learned) = (filled, (passport.Unit.Tag, slot.Slot));
    }

    public IActionResult OnPostKind(string number, ItemKind kind) =>
        RedirectToPage(ThisPage, null, new { number, kind }, "what");

    public Task<IActionResult> OnPostSpecify(string number, ItemKind kind, CancellationToken stop)
    {
        const string prefix = "spec.";
        var values = Request
            .Form.Where(f => f.Key.StartsWith(prefix, StringComparison.Ordinal))
            .ToDictionary(f => f.Key[prefix.Length..], f => (string?)f.Value.ToString());
        return Say(describe.Specify(number, kind, values, User.Actor(), stop), ThisPage, new { number, kind });
    }

    public Task<IActionResult> OnPostList(string number, string? model, string? slot, CancellationToken stop) =>
        Say(describe.List(number, model, slot, User.Actor(), stop), ThisPage, new { number });

    public Task<IActionResult> OnPostUnlist(string number, string? model, string? slot, CancellationToken stop) =>
        Say(describe.Unlist(number, model, slot, User.Actor(), stop), ThisPage, new { number });

    public Task<IActionResult> OnPostLevel(string number, int? minimum, int? orderUpTo, CancellationToken stop) =>
        Say(level.Run(number, minimum, orderUpTo, User.Actor(), stop), "/Stores/Number", new { number });
}
