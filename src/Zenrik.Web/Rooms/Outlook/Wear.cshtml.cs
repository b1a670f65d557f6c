using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zenrik.Core.Reliability;
using Zenrik.Web.Drawing;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Reliability;

namespace Zenrik.Web.Rooms.Outlook;

/// <summary>How the parts of one slot of one model last, and each of them.</summary>
[MayBeOld]
public sealed class WearModel(FleetLives lives) : PageModel
{
    public SlotLife Slot { get; private set; } = null!;

    public SurvivalCurve Curve { get; private set; } = null!;

    public SurvivalChart Chart { get; private set; } = null!;

    /// <summary>What failed, the latest first.</summary>
    public IReadOnlyList<ServedPart> Failed { get; private set; } = [];

    /// <summary>By the maker's lot: parts and failures.</summary>
    public IReadOnlyList<(string Lot, int Parts, int Failed)> Lots { get; private set; } = [];

    public async Task<IActionResult> OnGet(string model, string slot, CancellationToken stop)
    {
        var fleet = await lives.Run(stop);
        if (fleet.Slots.FirstOrDefault(s => s.ModelCode == model && s.Slot == slot) is not { } found)
        {
            return NotFound();
        }

        var parts = fleet.Parts.Where(p => p.Life.Model == model && p.Life.Slot == slot).ToList();
        Slot = found;
        Curve = SurvivalCurve.Of(parts.ConvertAll(p => p.Life.Life));
        Chart = new SurvivalChart(Curve, found.Law);
        Failed =
        [
            .. parts
                .Where(p => p.Cause is RemovalCause.Wear or RemovalCause.Accident)
                .OrderByDescending(p => p.Life.Life.To),
        ];
        Lots =
        [
            .. parts
                .Where(p => p.Life.Lot is not null)
                .GroupBy(p => p.Life.Lot!)
                .Select(g => (g.Key, g.Count(), g.Count(p => p.Life.Life.Failed)))
                .OrderByDescending(l => l.Item3)
                .ThenBy(l => l.Key, StringComparer.Ordinal),
        ];
        return Page();
    }
}
