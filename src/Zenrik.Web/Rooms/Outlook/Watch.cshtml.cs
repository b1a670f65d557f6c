using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Core.Reliability;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Book;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Reliability;

namespace Zenrik.Web.Rooms.Outlook;

/// <summary>What is worse than its peers, and how the parts of each slot last.</summary>
[MayBeOld]
[PostingNeeds(Policies.Counter)]
public sealed class WatchModel(FleetLives lives, ChangeUnits change) : RoomPage
{
    public FleetLife Fleet { get; private set; } = null!;

    public async Task OnGet(CancellationToken stop) => Fleet = await lives.Run(stop);

    /// <summary>The units that still carry what was found; read only when somebody asks.</summary>
    public async Task<IActionResult> OnGetCarriers(
        WatchBy what,
        string? model,
        string? slot,
        string? value,
        CancellationToken stop
    )
    {
        var fleet = await lives.Run(stop);
        return Partial("_Tags", Found(fleet, what, model, slot, value) is { } found ? fleet.Carriers(found) : []);
    }

    /// <summary>Where they are named.</summary>
    public string CarriersOf(WatchFinding found) =>
        Url.Page(
            "/Outlook/Watch",
            "Carriers",
            new
            {
                what = found.By,
                found.Model,
                found.Slot,
                found.Value,
            }
        )!;

    /// <summary>Marks the units that still carry what was found.</summary>
    public async Task<IActionResult> OnPost(
        Guid request,
        WatchBy what,
        string? model,
        string? slot,
        string? value,
        string? name,
        CancellationToken stop
    )
    {
        var fleet = await lives.Run(stop);
        if (Found(fleet, what, model, slot, value) is not { } found)
        {
            return Refused(
                new Refusal(RefusalReason.NotFound, "That is not worse than its peers any more. Nothing was marked."),
                "/Outlook/Watch"
            );
        }

        return (await change.Mark(request, fleet.Carriers(found), name, User.Actor(), stop)).Try(
            out var said,
            out var refusal
        )
            ? Did(said, "/Fleet/Campaign", new { name = name!.Trim() })
            : Refused(refusal, "/Outlook/Watch");
    }

    private static WatchFinding? Found(FleetLife fleet, WatchBy what, string? model, string? slot, string? value) =>
        fleet.Found.FirstOrDefault(f =>
            (f.By, f.Model, f.Slot, f.Value) == (what, model ?? "", slot ?? "", value ?? "")
        );

    /// <summary>What a campaign for it may be called.</summary>
    public static string NameOf(WatchFinding found)
    {
        var name = $"Watch: {found.Slot} {found.Value}";
        return name.Length > CampaignMark.MaxName ? name[..CampaignMark.MaxName].TrimEnd() : name;
    }

    /// <summary>By when 63 of 100 have failed; what lies beyond a machine's life is not said to the year.</summary>
    public static string Lasts(WeibullLife law) =>
        law.ScaleDays.Value > 30 * 365.25 ? "beyond 30 years" : $"{Show.Tenth(law.ScaleDays.Value / 365.25)} years";
}
