using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.Parts;
using Zenrik.Core.Stock;
using Zenrik.Workshop.BenchLedger;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.People;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Repairs;

/// <summary>
/// Closes a repair whose bench session is finished: what came out goes to quarantine, what was promised is now in the
/// unit, consumables are used up, and the numbers read are kept. All of it or nothing.
/// </summary>
public sealed class CloseRepair(WorkshopDb db, BenchOf benches, TimeProvider clock)
{
    /// <returns>The repair's code. Closing twice changes nothing the second time.</returns>
    public async Task<Outcome<string>> Run(long repairNumber, Actor by, CancellationToken stop = default)
    {
        await using var transaction = await db.Database.BeginTransactionAsync(stop);
        if (!(await db.LockRepair(repairNumber, stop)).Try(out var repair, out var missing))
        {
            return missing;
        }

        if (repair.State == RepairState.Closed)
        {
            return repair.Code;
        }

        if (repair.State != RepairState.OnBench || await benches.Find(repair, stop) is not { } bench)
        {
            return new Refusal(
                RefusalReason.Conflict,
                $"{repair.Code} is not on the bench; there is nothing to close."
            );
        }

        if (!bench.Ledger.IsFinished)
        {
            return new Refusal(
                RefusalReason.Conflict,
                $"{repair.Code} cannot be closed yet. Still open: {string.Join("; ", bench.Ledger.Open)}."
            );
        }

        var occasion = new Occasion(by, clock.GetUtcNow(), repair.Id);
        foreach (var line in repair.Lines)
        {
            if (await Exchange(repair, line, bench.Ledger, occasion, stop) is { } refusal)
            {
                return refusal;
            }
        }

        await UseUp(repair, occasion, stop);
        repair.State = RepairState.Closed;
        repair.ClosedAt = occasion.At;
        repair.ClosedById = by.Id;
        repair.MinutesTaken = bench.Worked.TotalMinutes;
        await db.SaveChangesAsync(stop);
        await transaction.CommitAsync(stop);
        return repair.Code;
    }

    private async Task<Refusal?> Exchange(
        Repair repair,
        RepairLine line,
        Ledger ledger,
        Occasion occasion,
        CancellationToken stop
    )
    {
        var quarantine = await db.Bins.FirstAsync(b => b.Kind == BinKind.Quarantine, stop);
        var incoming = await db
            .Reservations.Include(r => r.Item!.Bin)
            .SingleOrDefaultAsync(r => r.LineId == line.Id, stop);
        if (incoming is null)
        {
            return new Refusal(
                RefusalReason.Conflict,
                $"No {line.AssemblyName} is promised to {repair.Code} any more. Choose the fitted one on its page."
            );
        }

        var read = ledger.Numbers.Where(n => n.Slot == line.Slot).ToList();
        var (removed, fitted) = (read.Single(n => !n.Fitted), read.Single(n => n.Fitted));
        var outgoing =
            await db.Items.SingleOrDefaultAsync(i => i.UnitId == repair.UnitId && i.Slot == line.Slot, stop)
            ?? await NotRecordedBefore(repair, line, removed.Number, occasion, stop);
        db.Movements.Add(outgoing.MoveTo(quarantine, MovementReason.Removed, occasion));
        // Written before the successor arrives: a slot holds one item at every moment.
        await db.SaveChangesAsync(stop);

        db.Movements.Add(incoming.Item!.MoveTo(repair.UnitId, line.Slot, MovementReason.Fitted, occasion));
        db.Reservations.Remove(incoming);
        line.ItemOutId = outgoing.Id;
        line.ItemInId = incoming.Item.Id;
        line.NumberOut = removed.Number.Text;
        line.NumberIn = fitted.Number.Text;
        line.Surprise = removed.Likeness == Likeness.Different;
        return null;
    }

    /// <summary>The passport knew nothing of what came out: it enters the book now, as built into this unit.</summary>
    private async Task<Item> NotRecordedBefore(
        Repair repair,
        RepairLine line,
        PartNumber number,
        Occasion occasion,
        CancellationToken stop
    )
    {
        var canonical = number.Canonical;
        var known = await db.CatalogueNumbers.SingleOrDefaultAsync(n => n.Canonical == canonical, stop);
        if (known is null)
        {
            known = CatalogueNumber.Of(number, line.AssemblyName);
            db.CatalogueNumbers.Add(known);
        }

        var item = await Items.Create(db, known, null, stop);
        db.Items.Add(item);
        db.Movements.Add(item.MoveTo(repair.UnitId, line.Slot, MovementReason.AsBuilt, occasion));
        await db.SaveChangesAsync(stop);
        return item;
    }

    private async Task UseUp(Repair repair, Occasion occasion, CancellationToken stop)
    {
        var gone = await db.Bins.FirstAsync(b => b.Kind == BinKind.Outside, stop);
        var promised = await db
            .Reservations.Include(r => r.Lot)
            .Where(r => r.RepairId == repair.Id && r.LotId != null)
            .ToListAsync(stop);
        foreach (var use in promised)
        {
            // Counted down in the database, not from what was read: other benches use the same lot.
            await db
                .Lots.Where(l => l.Id == use.LotId)
                .ExecuteUpdateAsync(
                    l =>
                        l.SetProperty(x => x.OnHand, x => x.OnHand - use.Quantity)
                            .SetProperty(x => x.Promised, x => x.Promised - use.Quantity),
                    stop
                );
            db.Reservations.Remove(use);
            db.Movements.Add(
                MovementRecord.Of(occasion, MovementReason.UsedUp) with
                {
                    LotId = use.LotId,
                    Quantity = use.Quantity,
                    FromBinId = use.Lot!.BinId,
                    ToBinId = gone.Id,
                }
            );
        }
    }
}
