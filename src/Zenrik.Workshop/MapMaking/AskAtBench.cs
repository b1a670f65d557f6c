using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Caching.Memory;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.MapMaking;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Stock;
using Zenrik.Core.Teardown;

namespace Zenrik.Workshop.MapMaking;

/// <summary>What a bench is asked at an act, and what the two things are called.</summary>
/// <param name="Version">Of the draft that is asked about.</param>
/// <param name="Probe">Where it is worth finding out by trying; null: by looking.</param>
public sealed record BenchQuestion(SeenWait Wait, string What, string After, int Version, Probe? Probe = null);

/// <summary>Whether a new part comes with another on it: asked when that is about to be moved over for the first time.</summary>
/// <param name="On">The part that is exchanged, and what it is called.</param>
/// <param name="Part">What rides on it, and what it is called.</param>
/// <param name="Version">Of the draft that is asked about.</param>
public sealed record TransferQuestion(PartId On, string New, PartId Part, string Name, int Version);

/// <summary>Finds the one question that is worth asking while a part of a drafted model is about to come out.</summary>
public sealed class AskAtBench(WorkshopDb db, IMemoryCache cache)
{
    /// <summary>Repairs of a part that are reckoned with beyond those seen: even a part never exchanged may fail.</summary>
    private const double AtLeast = 2;

    /// <param name="ledger">The session.</param>
    /// <returns>Null when nothing is worth asking, or the model has a published map.</returns>
    public async Task<BenchQuestion?> Run(string modelCode, Ledger ledger, CancellationToken stop = default)
    {
        if (
            ledger.Trying is not null
            || ledger.Current is not { Stage: Stage.Out, Act: var next }
            || !(await db.Standing(stop)).Drafts.TryGetValue(modelCode, out var version)
        )
        {
            return null;
        }

        var off = ledger.Off;
        var key = (
            nameof(AskAtBench),
            modelCode,
            version,
            next,
            string.Join('|', off),
            ledger.Plan.Map.Revision,
            string.Join('|', ledger.Plan.Acts.Skip(ledger.DoneSteps))
        );
        if (cache.TryGetValue(key, out BenchQuestion? known))
        {
            return known;
        }

        var draft = await db.DraftOf(modelCode, version, stop);
        if (!ledger.Plan.Map.IsFree())
        {
            // A session goes by the draft it began with; what was said since is not tried again.
            var begun =
                ledger.Plan.Map.Revision == version
                    ? draft
                    : await db.DraftOf(modelCode, ledger.Plan.Map.Revision, stop);
            var limit = new SearchLimit(default, stop);
            if (
                Probes.Best(begun, ledger.Plan, ledger.Goals, ledger.DoneSteps, limit) is { } probe
                && draft.Doubtful.Any(w => w.What == probe.Wait.What && w.After == probe.Wait.After)
            )
            {
                return cache.Set(key, Question(draft, version, probe.Wait, probe), Kept);
            }
        }

        if (ledger.Lifting is not { } part)
        {
            return cache.Set<BenchQuestion?>(key, null, Kept);
        }

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
        var best = Questions.Best(draft, Act.LiftOut(part), off.ToHashSet(), goals);
        if (!ledger.Plan.Map.IsFree() && best is not null && !IsDoubtful(ledger.Plan.Map, best.Wait))
        {
            best = null;
        }

        return cache.Set(key, best is null ? null : Question(draft, version, best.Wait, null), Kept);
    }

    /// <summary>What a whole plan by a draft may try, each before the act of that number; empty where a map is published.</summary>
    public async Task<IReadOnlyList<(int Step, BenchQuestion Try)>> Along(
        string modelCode,
        Plan plan,
        CancellationToken stop = default
    )
    {
        if (!(await db.Standing(stop)).Drafts.TryGetValue(modelCode, out var version))
        {
            return [];
        }

        var draft = await db.DraftOf(modelCode, version, stop);
        return
        [
            .. Probes
                .Along(draft, plan, new SearchLimit(default, stop))
                .Select(p => (p.Step, Question(draft, version, p.Probe.Wait, p.Probe))),
        ];
    }

    private static bool IsDoubtful(ServiceMap map, SeenWait wait) =>
        map.Waits.Any(w => w.What == wait.What && w.After == wait.After);

    private static BenchQuestion Question(Draft draft, int version, SeenWait wait, Probe? probe) =>
        new(wait, draft.NameOf(wait.Waiting), draft.NameOf(wait.First), version, probe);

    /// <summary>What of a drafted model is about to move over to a new part and may be on it already; null: nothing.</summary>
    public async Task<TransferQuestion?> Transfer(string modelCode, Ledger ledger, CancellationToken stop = default)
    {
        if (
            ledger.Lifting is not { } part
            || ledger.Plan.Replaced.FirstOrDefault(a => a.MovesOver.Contains(part)) is not { } assembly
            || !(await db.Standing(stop)).Drafts.TryGetValue(modelCode, out var version)
        )
        {
            return null;
        }

        var draft = await db.DraftOf(modelCode, version, stop);
        return draft.Brings(assembly.Part, part) is not null
            ? null
            : new TransferQuestion(
                assembly.Part,
                draft.NameOf(Act.LiftOut(assembly.Part)),
                part,
                draft.NameOf(Act.LiftOut(part)),
                version
            );
    }

    private static readonly TimeSpan Kept = TimeSpan.FromMinutes(30);
}
