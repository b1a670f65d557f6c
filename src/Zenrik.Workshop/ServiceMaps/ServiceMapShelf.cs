using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Caching.Memory;
using Zenrik.Core;
using Zenrik.Core.ServiceMaps;
using Zenrik.Workshop.MapMaking;

namespace Zenrik.Workshop.ServiceMaps;

/// <summary>Gives out service maps by model and revision.</summary>
/// <remarks>An accepted revision never changes, so a parsed one may be kept in memory by any instance.</remarks>
public sealed class ServiceMapShelf(WorkshopDb db, IMemoryCache cache)
{
    /// <summary>The newest published map of a model; its draft where none is published; null when nothing is known of it.</summary>
    public async Task<ServiceMap?> Newest(string modelCode, CancellationToken stop = default)
    {
        var standing = await db.Standing(stop);
        return standing.Editions.TryGetValue(modelCode, out var newest) ? await Get(modelCode, newest, stop)
            : standing.Drafts.TryGetValue(modelCode, out var version) ? await Draft(modelCode, version, stop)
            : null;
    }

    /// <summary>True when a model is planned by a draft that nobody has published.</summary>
    public async Task<bool> IsDraft(string modelCode, CancellationToken stop = default) =>
        (await db.Standing(stop)).Drafts.ContainsKey(modelCode);

    /// <summary>A draft at a version never changes either; null while no session has shown anything.</summary>
    private async Task<ServiceMap?> Draft(string modelCode, int version, CancellationToken stop)
    {
        var key = (nameof(ServiceMapShelf), nameof(Draft), modelCode, version);
        if (cache.TryGetValue(key, out ServiceMap? known))
        {
            return known;
        }

        var draft = await db.DraftOf(modelCode, version, stop);
        return cache.Set(key, draft.IsEmpty ? null : draft.MapAt(version), TimeSpan.FromHours(1));
    }

    /// <summary>Says that a model has no such slot, and which it has. Of a model without a map any name stands.</summary>
    /// <param name="inside">True where something is to be inside it: its charger is not.</param>
    public async Task<Refusal?> Lacks(
        string modelCode,
        string slot,
        bool inside = false,
        CancellationToken stop = default
    )
    {
        if (await Newest(modelCode, stop) is not { } map)
        {
            return null;
        }

        var slots = (inside ? map.Parts.Select(p => p.Slot).OfType<string>().Distinct() : map.Slots()).Order(
            StringComparer.Ordinal
        );
        if (slots.Contains(slot))
        {
            return null;
        }

        return new Refusal(
            RefusalReason.NotFound,
            $"The {map.Model.Name} has no slot “{slot}”. It has: {string.Join(", ", slots)}."
        );
    }

    /// <summary>One edition of a map.</summary>
    /// <exception cref="InvalidOperationException">It is not stored, or no longer passes the checks.</exception>
    public async Task<ServiceMap> Get(string modelCode, int revision, CancellationToken stop = default)
    {
        var key = (nameof(ServiceMapShelf), modelCode, revision);
        if (cache.TryGetValue(key, out ServiceMap? map))
        {
            return map!;
        }

        var json = await db
            .ServiceMapRevisions.Where(r => r.ModelCode == modelCode && r.Revision == revision)
            .Select(r => r.Json)
            .SingleAsync(stop);
        var reading = ServiceMapReader.Read($"{modelCode} revision {revision}", json);
        map = reading.Map ?? throw new InvalidOperationException(string.Join("; ", reading.Findings));
        return cache.Set(key, map, TimeSpan.FromHours(1));
    }
}
