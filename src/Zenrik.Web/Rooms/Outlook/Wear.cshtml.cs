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
    public SlotWear Wear { get; private set; } = null!;

    /// <summary>Rows of the table beneath the drawing, at the most.</summary>
    private const int MostRows = 40;

    /// <summary>The curve as it is read.</summary>
    public IReadOnlyList<SurvivalPoint> Points { get; private set; } = [];

    /// <summary>True where several ages stand in one row.</summary>
    public bool InSpans => Points.Count < Wear.Curve.Points.Count;

    public SurvivalChart Chart { get; private set; } = null!;

    public async Task<IActionResult> OnGet(string model, string slot, CancellationToken stop)
    {
        if ((await lives.Run(stop)).WearOf(model, slot) is not { } wear)
        {
            return NotFound();
        }

        Wear = wear;
        Points = wear.Curve.InSpans(MostRows);
        Chart = new SurvivalChart(wear.Curve, wear.Slot.Law);
        return Page();
    }
}
