using Microsoft.AspNetCore.Mvc.RazorPages;
using Zenrik.Workshop.ServiceMaps;

namespace Zenrik.Web.Rooms.Maps;

public sealed class IndexModel(ViewMaps maps, DecideFinding findings) : PageModel
{
    public IReadOnlyList<ModelRow> Models { get; private set; } = [];

    /// <summary>By model: how many findings of the bench wait for a decision.</summary>
    public IReadOnlyDictionary<string, int> Findings { get; private set; } = new Dictionary<string, int>();

    public async Task OnGet(CancellationToken stop)
    {
        Models = await maps.Models(stop);
        Findings = await findings.Waiting(stop);
    }
}
