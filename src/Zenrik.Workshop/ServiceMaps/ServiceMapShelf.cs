using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Caching.Memory;
using Zenrik.Core;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Workshop.ServiceMaps;

/// <summary>Gives out service maps by model and revision.</summary>
/// <remarks>An accepted revision never changes, so a parsed one may be kept in memory by any instance.</remarks>
public sealed class ServiceMapShelf(WorkshopDb db, IMemoryCache cache)
{
    /// <summary>The newest map of a model, or null when it has none.</summary>
    public async Task<ServiceMap?> Newest(string modelCode, CancellationToken stop = default) =>
        (await db.Standing(stop)).Editions.TryGetValue(modelCode, out var newest)
            ? await Get(modelCode, newest, stop)
            : null;

    /// <summary>Says that a model has no such slot, and which it has. Of a model without a map any name stands.</summary>
    public async Task<Refusal?> Lacks(string modelCode, string slot, CancellationToken stop = default)
    {
        if (await Newest(modelCode, stop) is not { } map || map.Parts.Any(p => p.Slot == slot))
        {
            return null;
        }

        var slots = map.Parts.Select(p => p.Slot).OfType<string>().Distinct().Order(StringComparer.Ordinal);
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
