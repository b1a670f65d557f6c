using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Core.Fit;
using Zenrik.Core.MapMaking;
using Zenrik.Core.ServiceMaps;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.MapMaking;

namespace Zenrik.Web.Rooms.Maps;

/// <summary>What may go into one slot of a drafted model, or what charger it takes.</summary>
[PostingNeeds(Policies.Bench)]
public sealed class SlotModel(ViewDraft drafts, SayOfModel say) : RoomPage
{
    public DraftView View { get; private set; } = null!;

    public string Slot { get; private set; } = "";

    /// <summary>The part whose slot it is; null of the charger.</summary>
    public Part? Part { get; private set; }

    /// <summary>What it takes; null until somebody has said.</summary>
    public SpecificationKind? Kind { get; private set; }

    public IReadOnlyDictionary<string, string> Values { get; private set; } = new Dictionary<string, string>();

    public Guid RequestId { get; private set; } = Guid.CreateVersion7();

    public Refusal? Refusal { get; private set; }

    /// <param name="kind">What it is asked as; null: as it was said, or as its name says.</param>
    public async Task<IActionResult> OnGet(string code, string slot, SpecificationKind? kind, CancellationToken stop) =>
        await Show(code, slot, kind, stop) ? Page() : NotFound();

    public async Task<IActionResult> OnPost(
        string code,
        string slot,
        Guid request,
        int seen,
        SpecificationKind kind,
        CancellationToken stop
    )
    {
        const string prefix = "fact.";
        var values = Request
            .Form.Where(f => f.Key.StartsWith(prefix, StringComparison.Ordinal))
            .ToDictionary(f => f.Key[prefix.Length..], f => (string?)f.Value.ToString());
        var outcome = SlotFacts.Read(slot, kind, values).Try(out var facts, out var refusal)
            ? await say.Run(request, code, seen, new Statement.Takes(facts), User.Actor(), stop)
            : refusal;
        if (outcome.Try(out var said, out refusal))
        {
            return Did(said, "/Maps/Draft", new { code });
        }

        // What was typed stays, to be put right.
        if (!await Show(code, slot, kind, stop))
        {
            return NotFound();
        }

        (Refusal, RequestId) = (refusal, request);
        Values = values.Where(v => v.Value is { Length: > 0 }).ToDictionary(v => v.Key, v => v.Value!);
        Response.StatusCode = Statuses.OnPage(refusal);
        return Page();
    }

    private async Task<bool> Show(string code, string slot, SpecificationKind? kind, CancellationToken stop)
    {
        if (
            !(await drafts.Run(code, stop)).Try(out var view, out _)
            || view.Draft.IsEmpty
            || (view.Map.PartInSlot(slot) is null && slot != Specification.Charger.Outside)
        )
        {
            return false;
        }

        (View, Slot, Part) = (view, slot, view.Map.PartInSlot(slot));
        var known = view.Map.Specifications.FirstOrDefault(s => s.Slot == slot);
        Kind = Part is null ? SpecificationKind.Charger : kind ?? known?.Kind ?? SlotFacts.KindOf(slot);
        Values = known is not null && known.Kind == Kind ? SlotFacts.Values(known) : Values;
        return true;
    }
}
