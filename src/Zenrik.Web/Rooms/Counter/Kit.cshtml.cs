using Microsoft.AspNetCore.Mvc.RazorPages;
using Zenrik.Workshop.Triage;

namespace Zenrik.Web.Rooms.Counter;

/// <summary>What to take along to a site.</summary>
public sealed class KitModel(KitForSite kits) : PageModel
{
    /// <summary>Of a hundred machines, cured on the spot: what is offered.</summary>
    public static IReadOnlyList<int> Shares { get; } = [80, 90, 95];

    private const int Usual = 90;

    public IReadOnlyList<(string Site, int Repairs)> Sites { get; private set; } = [];

    public int Share { get; private set; } = Usual;

    /// <summary>Null where no repair waits anywhere.</summary>
    public SiteKit? View { get; private set; }

    public async Task OnGet(string? site, int? share, CancellationToken stop)
    {
        Share = share is { } s && Shares.Contains(s) ? s : Usual;
        Sites = await kits.Sites(stop);
        if ((site ?? Sites.Select(s => s.Site).FirstOrDefault()) is { } where)
        {
            View = await kits.Run(where, Share / 100.0, stop);
        }
    }
}
