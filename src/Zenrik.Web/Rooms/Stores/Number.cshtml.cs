using Microsoft.AspNetCore.Mvc;
using Zenrik.Core.Fit;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Fit;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.Stock;

namespace Zenrik.Web.Rooms.Stores;

[PostingNeeds(Policies.Counter)]
public sealed class NumberModel(ViewStock stock, FitOf fits, PassportOf passports, ProveStock prove, SetLevel level)
    : RoomPage
{
    public NumberView View { get; private set; } = null!;

    public CatalogueNumber Known => View.Number;

    /// <summary>Units in use that it fits.</summary>
    public IReadOnlyList<ServedUnit> Serves { get; private set; } = [];

    /// <summary>The unit asked about, as typed; null when none was.</summary>
    public string? Unit { get; private set; }

    /// <summary>Verdicts on that unit's slots of the number's kind.</summary>
    public IReadOnlyList<(string Slot, FitAnswer Answer)> Here { get; private set; } = [];

    public string? Unknown { get; private set; }

    public IReadOnlyList<ProofLine> Proof { get; private set; } = [];

    public async Task<IActionResult> OnGet(string number, string? unit, CancellationToken stop)
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

        Serves = await fits.Serves(Known, stop);
        Proof = await prove.OfNumber(Known.Number, stop);
        return Page();
    }

    public Task<IActionResult> OnPostLevel(string number, int? minimum, int? orderUpTo, CancellationToken stop) =>
        Say(level.Run(number, minimum, orderUpTo, stop), "/Stores/Number", new { number });
}
