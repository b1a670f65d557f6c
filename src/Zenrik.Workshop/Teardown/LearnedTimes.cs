using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Caching.Memory;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.Repairs;
using Zenrik.Core.Teardown;

namespace Zenrik.Workshop.Teardown;

/// <summary>How long acts took on a model, from the sessions of its closed repairs.</summary>
/// <remarks>Kept in memory under the moment a repair was last closed: another one closed gives another key.</remarks>
public sealed class LearnedTimes(WorkshopDb db, IMemoryCache cache)
{
    /// <summary>The newest sessions that count; a fleet's older ones say little about today's hands.</summary>
    private const int Sessions = 200;

    public async Task<ActTimes> Of(string modelCode, CancellationToken stop = default)
    {
        if ((await db.Standing(stop)).LastClosed is not { } newest)
        {
            return ActTimes.Standard;
        }

        var key = (nameof(LearnedTimes), modelCode, newest);
        if (cache.TryGetValue(key, out ActTimes? known))
        {
            return known!;
        }

        var sessions = await db
            .BenchSessions.AsNoTracking()
            .Include(s => s.Entries.OrderBy(e => e.Sequence))
            .Where(s => s.ModelCode == modelCode && s.MapRevision != null)
            .Where(s => db.Repairs.Any(r => r.Id == s.RepairId && r.State == RepairState.Closed))
            .OrderByDescending(s => s.StartedAt)
            .Take(Sessions)
            .AsSplitQuery()
            .ToListAsync(stop);
        var times = ActTimes.From(
            sessions.SelectMany(s =>
                ActDurations.Of(
                    s.Acts.Select(Act.Parse).ToList(),
                    s.StartedAt,
                    s.Entries.Select(e => (e.ToEntry(), e.At))
                )
            )
        );
        return cache.Set(key, times, TimeSpan.FromHours(1));
    }
}
