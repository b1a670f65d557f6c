using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Caching.Memory;
using Zenrik.Core;
using Zenrik.Core.Repairs;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Triage;
using Zenrik.Workshop.Shipped;

namespace Zenrik.Workshop.Triage;

/// <summary>What closed repairs have taught about which faults are met.</summary>
/// <remarks>Kept in memory under the moments of the last closing and the last reset.</remarks>
public sealed class LearnedFaults(WorkshopDb db, IMemoryCache cache, TimeProvider clock)
{
    public async Task<IReadOnlyList<LearnedWeight>> Of(
        string modelCode,
        DeviceClass device,
        CancellationToken stop = default
    ) => LearnedWeights.Of(ShippedTriage.Knowledge, modelCode, device, await Counts(device, stop));

    /// <summary>Faults found in closed repairs of a class since it was last reset.</summary>
    public async Task<IReadOnlyList<FaultCount>> Counts(DeviceClass device, CancellationToken stop = default)
    {
        var since = await db
            .LearnedResets.Where(r => r.Class == device)
            .Select(r => (DateTimeOffset?)r.At)
            .SingleOrDefaultAsync(stop);
        var key = (nameof(LearnedFaults), device, since, (await db.Standing(stop)).LastClosed);
        if (cache.TryGetValue(key, out IReadOnlyList<FaultCount>? known))
        {
            return known!;
        }

        var counts = await db
            .Repairs.Where(r =>
                r.State == RepairState.Closed
                && r.FaultId != null
                && r.Unit.Model.Class == device
                && (since == null || r.ClosedAt > since)
            )
            .GroupBy(r => new { r.Unit.ModelCode, r.FaultId })
            .Select(g => new FaultCount(g.Key.ModelCode, device, g.Key.FaultId!, g.Count()))
            .ToListAsync(stop);
        return cache.Set<IReadOnlyList<FaultCount>>(key, counts, TimeSpan.FromHours(1));
    }

    /// <summary>When and by whom each class was last reset.</summary>
    public async Task<IReadOnlyList<LearnedReset>> Resets(CancellationToken stop = default) =>
        await db.LearnedResets.AsNoTracking().Include(r => r.By).ToListAsync(stop);

    /// <summary>Sets aside what was learned so far; repairs stay as they are, they only count no more.</summary>
    public Task<Outcome<string>> Reset(DeviceClass device, Actor by, CancellationToken stop = default)
    {
        var (name, now) = (device.ToString(), clock.GetUtcNow());
        return db.Write(by, name, now, Work, stop);

        async Task<Outcome<string>> Work()
        {
            db.NoteChange(nameof(LearnedReset), name);
            await db.Database.ExecuteSqlAsync(
                $"""
                INSERT INTO learned_resets (class, at, by_id) VALUES ({name}, {now}, {by.Id})
                ON CONFLICT (class) DO UPDATE SET at = EXCLUDED.at, by_id = EXCLUDED.by_id
                """,
                stop
            );
            return $"Faults of {name.ToLowerInvariant()}s are weighed as shipped again; what is closed from now on counts.";
        }
    }
}
