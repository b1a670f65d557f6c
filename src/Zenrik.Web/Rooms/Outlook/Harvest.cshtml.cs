using Microsoft.AspNetCore.Mvc;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Economics;

namespace Zenrik.Web.Rooms.Outlook;

/// <summary>Which donors to strip of what, for whom; and who is to do it.</summary>
[MayBeOld]
[PostingNeeds(Policies.Counter)]
public sealed class HarvestModel(PlanHarvest harvest, AskForStrip strips) : RoomPage
{
    private const string Here = "/Outlook/Harvest";

    public HarvestView View { get; private set; } = null!;

    public async Task OnGet(CancellationToken stop) => View = await harvest.Run(stop);

    public Task<IActionResult> OnPostAsk(
        Guid request,
        string? tag,
        [FromForm] string[] slots,
        [FromForm] string[] repairs,
        CancellationToken stop
    ) => Say(strips.Run(request, tag ?? "", slots, repairs, User.Actor(), stop), Here);

    public Task<IActionResult> OnPostCallOff(Guid request, string? tag, CancellationToken stop) =>
        Say(strips.CallOff(request, tag ?? "", User.Actor(), stop), Here);

    /// <summary>Minutes of work as money.</summary>
    public string Money(double minutes) =>
        $"{(minutes / 60 * (double)View.Figures.LabourPerHour).ToString("N0", System.Globalization.CultureInfo.InvariantCulture)} {View.Figures.Currency}";

    /// <summary>The strip page with what is to come out ticked.</summary>
    public static Dictionary<string, string> Ticked(DonorToStrip donor) =>
        new() { ["tag"] = donor.Donor.Tag, ["take"] = string.Join(',', donor.Slots) };
}
