using Microsoft.EntityFrameworkCore;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Stock;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.BenchLedger;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.ServiceMaps;
using Zenrik.Workshop.Teardown;

namespace Zenrik.Workshop.Repairs;

/// <summary>A part promised to a repair.</summary>
public sealed record PromisedPart(string Code, string Number, string Bin);

/// <summary>A repair as the Counter lists it.</summary>
/// <param name="Blocks">What it waits for; empty when it can go ahead.</param>
public sealed record CounterRow(
    Repair Repair,
    string What,
    IReadOnlyList<PromisedPart> Parts,
    Minutes Minutes,
    IReadOnlyList<string> Blocks
);

/// <summary>Everything in the workshop now.</summary>
public sealed record CounterView(
    IReadOnlyList<CounterRow> Ready,
    IReadOnlyList<CounterRow> Waiting,
    IReadOnlyList<BenchView> OnBench
);

/// <summary>Sorts open repairs by what can be done now, with a fixed number of queries however many there are.</summary>
public sealed class ViewCounter(WorkshopDb db, ServiceMapShelf maps, PlanFor plans, BenchOf benches)
{
    public async Task<CounterView> Run(CancellationToken stop = default)
    {
        var repairs = await db
            .Repairs.AsNoTracking()
            .Include(r => r.Unit.Model)
            .Include(r => r.Lines.OrderBy(l => l.Position))
            .Where(r => r.State == RepairState.Open || r.State == RepairState.OnBench)
            .OrderBy(r => r.PromisedOn ?? DateOnly.MaxValue)
            .ThenBy(r => r.Number)
            .ToListAsync(stop);
        var onBench = new List<BenchView>();
        foreach (var repair in repairs.Where(r => r.State == RepairState.OnBench))
        {
            onBench.Add((await benches.Find(repair, stop))!);
        }

        var open = repairs.Where(r => r.State == RepairState.Open).ToList();
        var rows = await Rows(open, stop);
        return new CounterView(
            [.. rows.Where(r => r.Blocks.Count == 0)],
            [.. rows.Where(r => r.Blocks.Count > 0)],
            onBench
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
        var free = await db
            .CatalogueFits.AsNoTracking()
            .Where(f =>
                db.Items.Any(i => i.NumberId == f.NumberId && i.Bin!.Kind == BinKind.Shelf && i.Reservation == null)
            )
            .Select(f => new { f.ModelCode, f.Slot })
            .Distinct()
            .ToListAsync(stop);
        var units = open.Select(r => r.UnitId).ToList();
        var inside = await db.Items.AsNoTracking().Where(i => units.Contains(i.UnitId!.Value)).ToListAsync(stop);
        var consumables = await Consumables.Free(db, stop);

        var rows = new List<CounterRow>();
        foreach (var repair in open)
        {
            var map = (await maps.Newest(repair.Unit.ModelCode, stop))!;
            var fitted = PassportOf.MapOf(map, inside.Where(i => i.UnitId == repair.UnitId));
            var plan = (await plans.Of(fitted, repair.Goals, stop)).Value;
            var mine = promised.Where(p => repair.Lines.Exists(l => l.Id == p.LineId)).ToList();
            rows.Add(
                new CounterRow(
                    repair,
                    string.Join(", ", repair.Lines.Select(l => l.Fault)),
                    [.. mine.Select(p => p.Part)],
                    plan.Minutes,
                    Readiness.Blocks(
                        repair.Lines.Select(l =>
                            (
                                l.AssemblyName,
                                mine.Exists(p => p.LineId == l.Id),
                                free.Exists(f => f.ModelCode == repair.Unit.ModelCode && f.Slot == l.Slot)
                            )
                        ),
                        plan.Consumables.Select(c => (c.Key, c.Value, consumables.GetValueOrDefault(c.Key)?.Free ?? 0))
                    )
                )
            );
        }

        return rows;
    }
}
