using Microsoft.AspNetCore.Mvc.RazorPages;
using Zenrik.Workshop.Fleet;

namespace Zenrik.Web.Rooms.Fleet;

/// <summary>What is to be done on many units, and how far it is.</summary>
public sealed class CampaignsModel(KeepCampaigns campaigns, TimeProvider clock) : PageModel
{
    public IReadOnlyList<CampaignLine> Lines { get; private set; } = [];

    public DateOnly Today => clock.Today();

    public async Task OnGet(CancellationToken stop) => Lines = await campaigns.List(stop);
}
