using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Caching.Memory;
using Zenrik.Core.MapMaking;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Stock;
using Zenrik.Core.Teardown;

namespace Zenrik.Workshop.MapMaking;

/// <summary>What a bench is asked at an act, and what the two things are called.</summary>
/// <param name="Version">Of the draft that is asked about.</param>
public sealed record BenchQuestion(SeenWait Wait, string What, string After, int Version);

/// <summary>Finds the one question that is worth asking while a part of a drafted model is about to come out.</summary>
public sealed class AskAtBench(WorkshopDb db, IMemoryCache cache)
{
    /// <summary>Repairs of a part that are reckoned with beyond those seen: even a part never exchanged may fail.</summary>
    private const double AtLeast = 2;

    /// <param name="next">The act that is next; only lifting a part out is asked about.</param>
    /// <param name="off">What is off.</param>
    /// <returns>Null when nothing is worth asking, or the model has a published map.</returns>
    public async Task<BenchQuestion?> Run(
        string modelCode,
        Act next,
        IReadOnlyList<Act> off,
        CancellationToken stop = default
    )
    {
        if (next.Kind != ActKind.LiftOut || !(await db.Standing(stop)).Drafts.TryGetValue(modelCode, out var version))
        {
            return null;
        }

        var key = (nameof(AskAtBench), modelCode, version, next, string.Join('|', off));
        if (cache.TryGetValue(key, out BenchQuestion? known))
        {
            return known;
        }

        var draft = await db.DraftOf(modelCode, version, stop);
        var exchanged = await db
            .Movements.Where(m =>
                m.Reason == MovementReason.Fitted && db.Units.Any(u => u.Id == m.ToUnitId && u.ModelCode == modelCode)
            )
            .GroupBy(m => m.ToSlot!)
            .Select(g => new { g.Key, Count = g.Count() })
            .ToDictionaryAsync(g => g.Key, g => g.Count, stop);
        var goals = draft
            .Map.Assemblies.Select(a => (a.Part, AtLeast + exchanged.GetValueOrDefault(draft.Map.Part(a.Part).Slot!)))
            .ToList();
        var best = Questions.Best(draft, next, off.ToHashSet(), goals);
        return cache.Set(
            key,
            best is null
                ? null
                : new BenchQuestion(best.Wait, draft.NameOf(best.Wait.Waiting), draft.NameOf(best.Wait.First), version),
            TimeSpan.FromMinutes(30)
        );
    }
}
