using Microsoft.AspNetCore.Mvc.RazorPages;
using Zenrik.Core.Economics;
using Zenrik.Workshop.Economics;

namespace Zenrik.Web.Rooms.Outlook;

/// <summary>Which donors to strip of what, for whom.</summary>
public sealed class HarvestModel(PlanHarvest harvest) : PageModel
{
    public HarvestView View { get; private set; } = null!;

    public async Task OnGet(CancellationToken stop) => View = await harvest.Run(stop);

    /// <summary>Minutes of work as money.</summary>
    public string Money(double minutes) =>
        $"{(minutes / 60 * (double)View.Figures.LabourPerHour).ToString("N0", System.Globalization.CultureInfo.InvariantCulture)} {View.Figures.Currency}";

    /// <summary>The strip page with what is to come out ticked.</summary>
    public static Dictionary<string, string> Ticked(DonorToStrip donor) =>
        new() { ["tag"] = donor.Donor.Tag, ["take"] = string.Join(',', donor.Take.Select(t => t.Part.Slot)) };
}
