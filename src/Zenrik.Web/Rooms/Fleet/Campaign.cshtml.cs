using Microsoft.AspNetCore.Mvc;
using Zenrik.Core.Repairs;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Repairs;

namespace Zenrik.Web.Rooms.Fleet;

/// <summary>One campaign: what is done in it, how far it is, the next units, its end.</summary>
[PostingNeeds(Policies.Counter)]
public sealed class CampaignModel(KeepCampaigns campaigns, TakeInBox takeIn, TimeProvider clock) : RoomPage
{
    private const string Here = "/Fleet/Campaign";

    public CampaignView View { get; private set; } = null!;

    public DateOnly Today => clock.Today();

    public async Task<IActionResult> OnGet(string name, CancellationToken stop)
    {
        if (await campaigns.Of(name, stop) is not { } view)
        {
            return NotFound();
        }

        View = view;
        return Page();
    }

    public Task<IActionResult> OnPostSay(
        string name,
        RepairPurpose? purpose,
        string? part,
        string? why,
        DateOnly? ends,
        CancellationToken stop
    ) => Say(campaigns.Say(name, purpose, part, why, ends, User.Actor(), stop), Here, new { name });

    public Task<IActionResult> OnPostEnd(string name, string? why, CancellationToken stop) =>
        Say(campaigns.End(name, why, User.Actor(), stop), Here, new { name });

    public Task<IActionResult> OnPostTakeUp(string name, CancellationToken stop) =>
        Say(campaigns.TakeUp(name, User.Actor(), stop), Here, new { name });

    /// <summary>Takes units in for it.</summary>
    public Task<IActionResult> OnPostTakeIn(
        string name,
        Guid request,
        [FromForm] string[] tags,
        DateOnly? promised,
        CancellationToken stop
    ) => Say(takeIn.ForCampaign(request, name, tags, promised, User.Actor(), stop), Here, new { name });
}
