using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Caching.Memory;
using Zenrik.Core;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.HouseRules;
using Zenrik.Core.Parts;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Stock;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.ServiceMaps;
using Zenrik.Workshop.Shipped;
using Zenrik.Workshop.Teardown;

namespace Zenrik.Workshop.BenchLedger;

/// <summary>What is awaited at a bench in place of a new part that proved faulty.</summary>
/// <param name="HasCome">True when it lies ready.</param>
/// <param name="Due">When what was ordered is due; null: nothing was.</param>
public sealed record AwaitedPart(string Slot, string Name, bool HasCome, DateOnly? Due);

/// <summary>A bench session as it stands.</summary>
/// <param name="Sequence">How many lines its ledger has; a page that has seen fewer is stale.</param>
/// <param name="Model">The model's whole map in the session's revision.</param>
public sealed record BenchView(
    BenchSession Session,
    Repair Repair,
    ServiceMap Model,
    Ledger Ledger,
    int Sequence,
    TimeSpan Worked,
    string? LastBy
)
{
    /// <summary>In the order of the repair's lines.</summary>
    public IReadOnlyList<AwaitedPart> Awaited { get; init; } = [];

    /// <summary>The session with one line more; this one stays as it is.</summary>
    internal BenchView After(BenchEntry row, Ledger ledger, Actor by)
    {
        var entries = new List<BenchEntry>(Session.Entries.Count + 1);
        entries.AddRange(Session.Entries);
        entries.Add(row);
        return this with
        {
            Session = Session.With(entries),
            Ledger = ledger,
            Sequence = row.Sequence,
            Worked = WorkingTime.Of(Session.StartedAt, entries.Select(e => e.At)),
            LastBy = by.Name,
        };
    }
}

/// <summary>Reads bench sessions by replaying their lines.</summary>
public sealed class BenchOf(WorkshopDb db, ServiceMapShelf maps, LearnedTimes times, IMemoryCache cache)
{
    /// <summary>The session of a repair by its number.</summary>
    public async Task<Outcome<BenchView>> Run(long repairNumber, CancellationToken stop = default)
    {
        var repair = await db
            .Repairs.AsNoTracking()
            .Include(r => r.Unit.Model)
            .Include(r => r.Lines.OrderBy(l => l.Position))
            .SingleOrDefaultAsync(r => r.Number == repairNumber, stop);
        if (repair is null)
        {
            return new Refusal(RefusalReason.NotFound, $"There is no repair {Repair.CodeOf(repairNumber)}.");
        }

        return await Find(repair, stop) is { } view
            ? view
            : new Refusal(
                RefusalReason.Conflict,
                $"{repair.Code} is not on the bench. Its page says what it still needs."
            );
    }

    /// <summary>The id of a repair's session; null when it has none.</summary>
    public Task<Guid?> IdOf(long repairNumber, CancellationToken stop = default) =>
        db
            .BenchSessions.Where(s => db.Repairs.Any(r => r.Id == s.RepairId && r.Number == repairNumber))
            .Select(s => (Guid?)s.Id)
            .SingleOrDefaultAsync(stop);

    /// <summary>The session of a repair whose unit, model and lines are loaded; null when it has none.</summary>
    public async Task<BenchView?> Find(Repair repair, CancellationToken stop) =>
        (await Find([repair], stop)).GetValueOrDefault(repair.Id);

    /// <summary>The sessions of several repairs, of those that have one.</summary>
    public async Task<IReadOnlyDictionary<RepairId, BenchView>> Find(
        IReadOnlyCollection<Repair> repairs,
        CancellationToken stop
    )
    {
        if (repairs.Count == 0)
        {
            return new Dictionary<RepairId, BenchView>();
        }

        var ids = repairs.Select(r => r.Id).ToList();
        var sessions = await db
            .BenchSessions.AsNoTracking()
            .Include(s => s.StartedBy)
            .Include(s => s.Entries.OrderBy(e => e.Sequence))
            .Where(s => ids.Contains(s.RepairId))
            .Select(s => new
            {
                Session = s,
                LastBy = db
                    .Users.Where(u => u.Id == s.Entries.OrderBy(e => e.Sequence).Last().ById)
                    .Select(u => u.Name)
                    .FirstOrDefault(),
                Awaited = db
                    .RepairLines.Where(l => l.RepairId == s.RepairId && l.FaultyItemId != null)
                    .OrderBy(l => l.Position)
                    .Select(l => new AwaitedPart(
                        l.Slot,
                        l.AssemblyName,
                        db.Reservations.Any(r => r.LineId == l.Id),
                        db.PartOrders.Where(o => o.LineId == l.Id && o.State == OrderState.Ordered)
                            .Min(o => (DateOnly?)o.Expected)
                    ))
                    .ToList(),
            })
            .ToListAsync(stop);
        var views = new Dictionary<RepairId, BenchView>();
        foreach (var s in sessions)
        {
            var repair = repairs.Single(r => r.Id == s.Session.RepairId);
            views[repair.Id] = await View(s.Session, repair, s.LastBy, stop) with { Awaited = s.Awaited };
        }

        return views;
    }

    private async Task<BenchView> View(BenchSession session, Repair repair, string? lastBy, CancellationToken stop)
    {
        var (model, plan) = await PlanOf(session, repair, stop);
        var ledger = Ledger.Replay(
            new Brief(plan, Expected(repair, l => l.ExpectedOut), Expected(repair, l => l.ExpectedIn)),
            session.Entries.Select(e => e.ToEntry())
        );
        return new BenchView(
            session,
            repair,
            model,
            ledger,
            session.Entries.Count,
            WorkingTime.Of(session.StartedAt, session.Entries.Select(e => e.At)),
            lastBy
        );
    }

    /// <remarks>
    /// A session's acts, map revision, house rules and goals never change, so any instance may keep what follows from
    /// them; its minutes are those known when it was first read.
    /// </remarks>
    private async Task<(ServiceMap Model, Plan Plan)> PlanOf(
        BenchSession session,
        Repair repair,
        CancellationToken stop
    )
    {
        var hazards = ShippedTriage.HazardsOf(repair);
        var key = (nameof(BenchOf), session.Id, string.Join('|', hazards));
        if (cache.TryGetValue(key, out (ServiceMap, Plan) kept))
        {
            return kept;
        }

        if (session.MapRevision is not { } revision)
        {
            var bare = FreeMap.Bare(repair.Unit.Model.ToCore());
            return cache.Set(
                key,
                (
                    bare,
                    TeardownPlanner.Restore(
                        bare,
                        [],
                        [.. session.Acts.Select(Act.Parse)],
                        Basis.Default with
                        {
                            Hazards = hazards,
                        }
                    )
                ),
                TimeSpan.FromHours(1)
            );
        }

        var model = await maps.Get(session.ModelCode, revision, stop);
        var unit = model.Filled(
            session.FittedParts.Select(PartId.Of).ToHashSet(),
            session.VacantSlots,
            [.. repair.Lines.Where(l => !l.JoinedAtBench).Select(l => l.Slot)]
        );
        var basis = new Basis(HousePractice.Read(session.Practice), await times.Of(session.ModelCode, stop))
        {
            Hazards = hazards,
        };
        var plan = TeardownPlanner.Restore(unit, repair.GoalsAtStart, [.. session.Acts.Select(Act.Parse)], basis);
        return cache.Set(key, (model, plan), TimeSpan.FromHours(1));
    }

    private static Dictionary<string, PartNumber> Expected(Repair repair, Func<RepairLine, string?> number) =>
        repair.Lines.Where(l => number(l) is not null).ToDictionary(l => l.Slot, l => PartNumber.Read(number(l)).Value);
}
