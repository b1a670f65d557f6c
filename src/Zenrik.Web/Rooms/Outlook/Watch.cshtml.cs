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
        var found = fleet.Found.FirstOrDefault(f =>
            (f.By, f.Model, f.Slot, f.Value) == (what, model ?? "", slot ?? "", value ?? "")
        );
        if (found is null)
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
