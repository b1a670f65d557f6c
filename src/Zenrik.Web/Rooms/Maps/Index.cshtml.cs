using Microsoft.AspNetCore.Mvc.RazorPages;
using Zenrik.Workshop.ServiceMaps;

namespace Zenrik.Web.Rooms.Maps;

public sealed class IndexModel(ViewMaps maps) : PageModel
{
    public IReadOnlyList<ModelRow> Models { get; private set; } = [];

    public async Task OnGet(CancellationToken stop) => Models = await maps.Models(stop);
}
