using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Stock;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.BenchLedger;

/// <summary>Promises a repair the consumables its plan uses up, so that none is missing when the machine is open.</summary>
public sealed class PromiseConsumables(WorkshopDb db, TimeProvider clock)
{
    /// <summary>Promises what the plan needs beyond what is promised already; part of the caller's transaction.</summary>
    /// <returns>Null when all is promised; otherwise what there is not enough of.</returns>
    internal async Task<Refusal?> For(Repair repair, Plan plan, Actor by, CancellationToken stop)
    {
        foreach (var (kind, needed) in plan.Consumables)
        {
            var name = kind.ToString();
            if (repair.OwnConsumables.ContainsKey(name))
            {
                continue;
            }

            var promised = await db
                .Reservations.Where(r => r.RepairId == repair.Id && r.Lot!.Number.Consumable == name)
                .SumAsync(r => r.Quantity, stop);
            if (needed > promised && await Promise(repair, kind, needed - promised, by, stop) is { } lacking)
            {
                return lacking;
            }
        }

        return null;
    }

    private async Task<Refusal?> Promise(Repair repair, Consumable kind, int needed, Actor by, CancellationToken stop)
    {
        var name = kind.ToString();
        var lot = await db
            .Lots.Where(l =>
                l.Number.Consumable == name && l.Bin.Kind == BinKind.Shelf && l.OnHand - l.Promised >= needed
            )
            .OrderBy(l => l.Bin.Code)
            .Select(l => (Guid?)l.Id)
            .FirstOrDefaultAsync(stop);
        // Counted up only where there is still enough: another bench may have been quicker.
        var promised = await db
            .Lots.Where(l => l.Id == lot && l.OnHand - l.Promised >= needed)
            .ExecuteUpdateAsync(l => l.SetProperty(x => x.Promised, x => x.Promised + needed), stop);
        if (promised == 0)
        {
            return new Refusal(
                RefusalReason.Conflict,
                $"This plan uses {kind.Name()} ({needed} of it), and there is not enough free on the shelf. "
                    + "Fetch some in before the machine is opened."
            );
        }

        db.Reservations.Add(
            new Reservation
            {
                Id = Guid.CreateVersion7(),
                RepairId = repair.Id,
                LotId = lot,
                Quantity = needed,
                At = clock.GetUtcNow(),
                ById = by.Id,
            }
        );
        return null;
    }
}
