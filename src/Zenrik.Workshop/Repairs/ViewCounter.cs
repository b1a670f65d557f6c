using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Repairs;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Stock;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.BenchLedger;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.ServiceMaps;
using Zenrik.Workshop.Shipped;
using Zenrik.Workshop.Stock;
using Zenrik.Workshop.Teardown;

namespace Zenrik.Workshop.Repairs;

/// <summary>A part promised to a repair.</summary>
public sealed record PromisedPart(string Code, string Number, string Bin);

/// <summary>A repair as the Counter lists it.</summary>
/// <param name="Blocks">What it waits for; empty when it can go ahead.</param>
/// <param name="Late">True when what it waits for is due after the day it is promised for.</param>
/// <param name="Coming">The day the last of what it waits for is due; null: nobody knows, or it waits for nothing that comes.</param>
public sealed record CounterRow(
    Repair Repair,
    string What,
    IReadOnlyList<PromisedPart> Parts,
    Minutes Minutes,
    IReadOnlyList<string> Blocks,
    bool Late,
    DateOnly? Coming = null
)
{
    /// <summary>True when all it waits for is to be chosen from the shelf or is on its way.</summary>
    public bool CanBeLaid { get; init; }

    /// <summary>Its lines of which the part is not here.</summary>
    public IReadOnlyList<RepairLine> Lacking { get; init; } = [];
}

/// <summary>Everything in the workshop now.</summary>
/// <param name="Finding">Repairs of which it is not known yet what to exchange.</param>
/// <param name="Stopped">Dangerous ones, set apart.</param>
/// <param name="FollowUps">Stop-gaps units were handed back with, oldest first.</param>
public sealed record CounterView(
    IReadOnlyList<CounterRow> Ready,
    IReadOnlyList<CounterRow> Waiting,
    IReadOnlyList<BenchView> OnBench,
    IReadOnlyList<Repair> Finding,
    IReadOnlyList<Repair> Stopped,
    IReadOnlyList<FollowUp> FollowUps
);

/// <summary>Sorts open repairs by what can be done now, with a fixed number of queries however many there are.</summary>
public sealed class ViewCounter(WorkshopDb db, ServiceMapShelf maps, PlanFor plans, BenchOf benches)
{
    public async Task<CounterView> Run(CancellationToken stop = default)
    {
        var repairs = await db
            .Repairs.AsNoTracking()
            .Include(r => r.Unit.Model)
            .Include(r => r.AssignedTo)
            .Include(r => r.Lines.OrderBy(l => l.Position))
            .Where(Repair.Underway)
            .OrderBy(r =>
                r.Priority == Priority.High ? 0
                : r.Priority == Priority.Normal ? 1
                : 2
            )
            .ThenBy(r => r.PromisedOn ?? DateOnly.MaxValue)
            .ThenBy(r => r.Number)
            .ToListAsync(stop);
        var steps = (await db.StepsOf([.. repairs.Select(r => r.Id)]).AsNoTracking().ToListAsync(stop)).ToLookup(s =>
            s.RepairId
        );
        repairs.ForEach(r => r.Triage.AddRange(steps[r.Id]));
        List<Repair> working = [.. repairs.Where(r => r.State == RepairState.OnBench)];
        var sessions = await benches.Find(working, stop);
        var open = repairs.Where(r => r.State == RepairState.Open && r.HasGoals).ToList();
        var rows = await Rows(open, stop);
        return new CounterView(
            [.. rows.Where(r => r.Blocks.Count == 0)],
            [.. rows.Where(r => r.Blocks.Count > 0)],
            [.. working.Select(r => sessions[r.Id])],
            [.. repairs.Where(r => r.State == RepairState.Open && !r.HasGoals)],
            [.. repairs.Where(r => r.State == RepairState.Stopped)],
            await db
                .FollowUps.AsNoTracking()
                .Include(f => f.Unit)
                .Include(f => f.Repair)
                .Include(f => f.By)
                .Where(f => f.PutRightAt == null)
                .OrderBy(f => f.At)
                .ToListAsync(stop)
        );
    }

    private async Task<List<CounterRow>> Rows(List<Repair> open, CancellationToken stop)
    {
        var ids = open.Select(r => r.Id).ToList();
        var promised = await db
            .Reservations.AsNoTracking()
            .Where(r => ids.Contains(r.RepairId) && r.LineId != null)
            .Select(r => new
            {
                r.LineId,
                Part = new PromisedPart(r.Item!.Code, r.Item.Number.Number, r.Item.Bin!.Code),
            })
            .ToListAsync(stop);
        var models = open.Select(r => r.Unit.ModelCode).Distinct().ToList();
        var fits = await db.CatalogueFits.AsNoTracking().Where(f => models.Contains(f.ModelCode)).ToListAsync(stop);
        var shelf = await db.OnShelf([.. fits.Select(f => f.NumberId).Distinct()], stop);
        var free = fits.Where(f => shelf.GetValueOrDefault(f.NumberId).Free > 0)
            .Select(f => (f.ModelCode, f.Slot))
            .ToHashSet();
        var coming = (
            await db
                .PartOrders.AsNoTracking()
                .Where(o => o.State == OrderState.Ordered && o.LineId != null && ids.Contains(o.RepairId!.Value))
                .Select(o => new { o.LineId, o.Expected })
                .ToListAsync(stop)
        )
            .GroupBy(o => o.LineId!.Value)
            .ToDictionary(g => g.Key, g => (DateOnly?)g.Min(o => o.Expected));
        var units = open.Select(r => r.UnitId).ToList();
        var inside = await db.Items.AsNoTracking().Where(i => units.Contains(i.UnitId!.Value)).ToListAsync(stop);
        var consumables = await Consumables.AtHand(db, stop);

        var rows = new List<CounterRow>();
        foreach (var repair in open)
        {
            var map = (await maps.Newest(repair.Unit.ModelCode, stop))!;
            var fitted = PassportOf.MapOf(map, inside.Where(i => i.UnitId == repair.UnitId), repair);
            var mine = promised.Where(p => repair.Lines.Exists(l => l.Id == p.LineId)).ToList();
            var notYet = ShippedTriage.NotYet(repair, repair.Triage);
            if (
                !(await plans.Of(fitted, repair.Goals, stop)).Try(out var plan, out var unplannable)
                || notYet is not null
            )
            {
                rows.Add(
                    new CounterRow(
                        repair,
                        repair.What,
                        [.. mine.Select(p => p.Part)],
                        Minutes.Total([]),
                        Readiness.Blocks(notYet ?? unplannable!),
                        false
                    )
                );
                continue;
            }

            var lines = repair
                .Lines.Select(l => new LineReadiness(
                    l.AssemblyName,
                    mine.Exists(p => p.LineId == l.Id),
                    free.Contains((repair.Unit.ModelCode, l.Slot)),
                    null,
                    coming.GetValueOrDefault(l.Id)
                ))
                .ToList();
            var lacking = plan
                .Consumables.Where(c => !repair.OwnConsumables.ContainsKey(c.Key.ToString()))
                .Select(c => (c.Key, c.Value, consumables.GetValueOrDefault(c.Key)?.Free ?? 0))
                .ToList();
            rows.Add(
                new CounterRow(
                    repair,
                    repair.What,
                    [.. mine.Select(p => p.Part)],
                    plan.Minutes,
                    Readiness.Blocks(lines, lacking),
                    lines.Exists(l => l.IsLate(repair.PromisedOn)),
                    lines.FindAll(l => !l.IsHere).Max(l => l.Coming)
                )
                {
                    Lacking = [.. repair.Lines.Where((_, i) => !lines[i].IsHere)],
                    CanBeLaid =
                        lines.TrueForAll(l => l.IsHere || l.Coming is not null)
                        && lacking.TrueForAll(c => c.Item3 >= c.Value),
                }
            );
        }

        return rows;
    }
}
