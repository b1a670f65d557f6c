using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Caching.Memory;
using Zenrik.Core.Fleet;

namespace Zenrik.Workshop.Fleet;

/// <summary>One unit on the wall.</summary>
/// <param name="Health">As in <see cref="UnitRow.Health"/>.</param>
/// <param name="Meant">True when the list below the wall means it.</param>
public sealed record WallTile(double? Health, UnitState State, bool Meant);

/// <summary>The units of one model at one site.</summary>
/// <param name="Count">How many there are.</param>
/// <param name="Tiles">Each of them, the most worn first; empty where the whole fleet has too many to draw.</param>
public sealed record WallGroup(string Site, string ModelCode, string Model, int Count, IReadOnlyList<WallTile> Tiles);

/// <summary>The fleet as a wall: by site, then by model, the largest group first.</summary>
public sealed class WallOf(WorkshopDb db, ListUnits units, IMemoryCache cache)
{
    /// <summary>More are shown as numbers.</summary>
    public const int MostTiles = 1500;

    /// <summary>More groups than this are no wall any more; the largest are shown.</summary>
    public const int MostGroups = 120;

    public async Task<IReadOnlyList<WallGroup>> Run(UnitQuery query, CancellationToken stop = default)
    {
        // Counting a large fleet reads all of it; a minute makes no difference to what a wall shows.
        if (cache.TryGetValue(nameof(WallOf), out IReadOnlyList<WallGroup>? large))
        {
            return large!;
        }

        return await db.Units.Select(u => u.Id).Take(MostTiles + 1).CountAsync(stop) > MostTiles
            ? cache.Set(nameof(WallOf), await Groups(null, stop), TimeSpan.FromMinutes(1))
            : await Groups(await Tiles(query, stop), stop);
    }

    private async Task<IReadOnlyList<WallGroup>> Groups(
        ILookup<(string, string), WallTile>? tiles,
        CancellationToken stop
    )
    {
        var counts = await db
            .Units.GroupBy(u => new
            {
                u.Site,
                u.ModelCode,
                u.Model.Name,
            })
            .Select(g => new
            {
                g.Key.Site,
                g.Key.ModelCode,
                g.Key.Name,
                Count = g.Count(),
            })
            .OrderByDescending(g => g.Count)
            .ThenBy(g => g.Site)
            .ThenBy(g => g.ModelCode)
            .Take(MostGroups)
            .ToListAsync(stop);
        return
        [
            .. counts
                .GroupBy(g => g.Site)
                .OrderByDescending(s => s.Sum(g => g.Count))
                .SelectMany(s => s)
                .Select(g => new WallGroup(
                    g.Site,
                    g.ModelCode,
                    g.Name,
                    g.Count,
                    tiles is null ? [] : [.. tiles[(g.Site, g.ModelCode)]]
                )),
        ];
    }

    private async Task<ILookup<(string, string), WallTile>> Tiles(UnitQuery query, CancellationToken stop)
    {
        var meant =
            query with { Order = UnitOrder.Tag, Page = 0 } == new UnitQuery()
                ? null
                : (await units.Tags(query, stop)).ToHashSet();
        var said = db.ReadingsOfPresentBatteries();
        var all = await db
            .Units.AsNoTracking()
            .Select(u => new
            {
                u.Tag,
                u.Site,
                u.ModelCode,
                u.State,
                Health = said.Where(r => r.UnitId == u.Id)
                    .OrderByDescending(r => r.At)
                    .Select(r => (double?)r.Health)
                    .FirstOrDefault(),
            })
            .ToListAsync(stop);
        return all.OrderBy(u => u.Health ?? 2)
            .ThenBy(u => u.Tag, StringComparer.Ordinal)
            .ToLookup(
                u => (u.Site, u.ModelCode),
                u => new WallTile(u.Health, u.State, meant is null || meant.Contains(u.Tag))
            );
    }
}
