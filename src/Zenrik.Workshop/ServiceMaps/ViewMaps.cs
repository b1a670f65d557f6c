using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.ServiceMaps;
using Zenrik.Workshop.MapMaking;
using Model = Zenrik.Workshop.Book.Model;

namespace Zenrik.Workshop.ServiceMaps;

/// <summary>A model the organisation owns.</summary>
/// <param name="Map">Its newest map, or its draft; null when nothing is known yet.</param>
/// <param name="IsDraft">True when nobody has published the map.</param>
/// <param name="IsRetired">True when none is bought any more.</param>
public sealed record ModelRow(
    string Code,
    string Name,
    string Maker,
    int Units,
    ServiceMap? Map,
    bool IsDraft,
    bool IsRetired
);

/// <summary>An edition of a map and what it changed against the one before.</summary>
public sealed record MapEdition(
    int Revision,
    DateTimeOffset AcceptedAt,
    string? Said,
    IReadOnlyList<MapChange> Changes
);

/// <summary>Reads models and their maps.</summary>
public sealed class ViewMaps(WorkshopDb db, ServiceMapShelf shelf)
{
    /// <summary>What can be exchanged in any model, by id and name, each once.</summary>
    public async Task<IReadOnlyList<(string Id, string Name)>> Assemblies(CancellationToken stop = default) =>
        [
            .. (await Models(stop))
                .SelectMany(m => m.Map?.Assemblies ?? [])
                .DistinctBy(a => a.Id)
                .OrderBy(a => a.Name, StringComparer.Ordinal)
                .Select(a => (a.Id.Value, a.Name)),
        ];

    public async Task<IReadOnlyList<ModelRow>> Models(CancellationToken stop = default)
    {
        var models = await db
            .Models.AsNoTracking()
            .Where(m => m.MergedInto == null)
            .OrderBy(m => m.IsRetired)
            .ThenBy(m => m.Name)
            .Select(m => new
            {
                m.Code,
                m.Name,
                m.Maker,
                m.IsRetired,
                Units = db.Units.Count(u => u.ModelCode == m.Code),
            })
            .ToListAsync(stop);
        var rows = new List<ModelRow>();
        foreach (var m in models)
        {
            rows.Add(
                new ModelRow(
                    m.Code,
                    m.Name,
                    m.Maker,
                    m.Units,
                    await shelf.Newest(m.Code, stop),
                    await shelf.IsDraft(m.Code, stop),
                    m.IsRetired
                )
            );
        }

        return rows;
    }

    /// <summary>The models the organisation owns, by name.</summary>
    public async Task<IReadOnlyList<Model>> Known(CancellationToken stop = default) =>
        await db.Models.AsNoTracking().Where(m => m.MergedInto == null).OrderBy(m => m.Name).ToListAsync(stop);

    /// <summary>True when a model is planned by a draft that nobody has published.</summary>
    public Task<bool> IsDraft(string code, CancellationToken stop = default) => shelf.IsDraft(code, stop);

    /// <summary>True when a model's map is made here, by working: its draft goes on after it was published.</summary>
    public Task<bool> HasDraft(string code, CancellationToken stop = default) => db.HasDraft(code, stop);

    /// <summary>The newest map of a model, or its draft.</summary>
    public async Task<Outcome<ServiceMap>> Newest(string code, CancellationToken stop = default) =>
        await shelf.Newest(code, stop) is { } map
            ? map
            : new Refusal(RefusalReason.NotFound, $"There is no service map for a model \"{code}\".");

    /// <summary>A model's editions, newest first.</summary>
    public async Task<IReadOnlyList<MapEdition>> Editions(string code, CancellationToken stop = default)
    {
        var revisions = await db
            .ServiceMapRevisions.AsNoTracking()
            .Where(r => r.ModelCode == code && !r.IsDraft)
            .OrderBy(r => r.Revision)
            .Select(r => new { r.Revision, r.AcceptedAt })
            .ToListAsync(stop);
        var editions = new List<MapEdition>();
        ServiceMap? before = null;
        foreach (var r in revisions)
        {
            var map = await shelf.Get(code, r.Revision, stop);
            editions.Insert(
                0,
                new MapEdition(
                    r.Revision,
                    r.AcceptedAt,
                    map.Changed,
                    before is null ? [] : MapComparison.Between(before, map)
                )
            );
            before = map;
        }

        return editions;
    }
}
