using Microsoft.AspNetCore.Mvc;
using Zenrik.Core.ServiceMaps;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.ServiceMaps;

namespace Zenrik.Web.Rooms.Maps;

/// <summary>Two models' maps side by side: what the one has that the other has not, or has otherwise.</summary>
public sealed class CompareModel(ViewMaps maps) : RoomPage
{
    public ServiceMap Map { get; private set; } = null!;

    /// <summary>The one it is compared with; null while none is chosen, or it has no map.</summary>
    public ServiceMap? Other { get; private set; }

    public IReadOnlyList<MapChange> Changes { get; private set; } = [];

    /// <summary>Models one may choose, by name.</summary>
    public IReadOnlyList<(string Code, string Name)> Models { get; private set; } = [];

    public async Task<IActionResult> OnGet(string code, string? other, CancellationToken stop)
    {
        if (!(await maps.Newest(code, stop)).Try(out var map, out _))
        {
            return NotFound();
        }

        Map = map;
        Models = [.. (await maps.Known(stop)).Where(m => m.Code != code).Select(m => (m.Code, m.Name))];
        if (other is not null && (await maps.Newest(other, stop)).Try(out var found, out _))
        {
            (Other, Changes) = (found, MapComparison.Between(found, map));
        }

        return Page();
    }
}
