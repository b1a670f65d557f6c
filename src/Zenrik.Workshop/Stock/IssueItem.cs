using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Parts;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Parts;

namespace Zenrik.Workshop.Stock;

/// <summary>Hands parts out: to the bench for the repair they are promised to, or to somebody who uses them.</summary>
public sealed class IssueItem(WorkshopDb db, KnownNumbers numbers, TimeProvider clock)
{
    /// <summary>
    /// Hands out what is promised to a repair. Another free item of the same number may be scanned instead: it lay nearer,
    /// and the promise goes over to it.
    /// </summary>
    public Task<Outcome<string>> ForRepair(
        Guid request,
        long repairNumber,
        string? label,
        Actor by,
        CancellationToken stop = default
    )
    {
        var now = clock.GetUtcNow();
        return db.WriteOnce(request, by, $"{Repair.CodeOf(repairNumber)} {label}", now, Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await db.LockRepair(repairNumber, stop)).Try(out var repair, out var missing))
            {
                return missing;
            }

            if (!(await db.LockItem(label, stop)).Try(out var item, out missing))
            {
                return missing;
            }

            if (!repair.IsUnderway)
            {
                return new Refusal(RefusalReason.Conflict, $"{repair.Code} is closed; nothing is handed out for it.");
            }

            if (item.Reservation is null && item.Bin?.Kind == BinKind.Shelf)
            {
                await GiveOver(repair.Id, item, stop);
            }

            if (ItemLife.MayIssue(item.Place, item.Reservation?.RepairId, repair.Id) is { } refusal)
            {
                return refusal with { Message = $"{item.Code} ({item.Number.Number}): {refusal.Message}" };
            }

            var from = item.Bin!.Code;
            _ = db.Put(
                item,
                await db.TheBin(BinKind.Bench, stop),
                MovementReason.Issued,
                new Occasion(by, now, repair.Id)
            );
            return $"{item.Code} ({item.Number.Number}) from bin {from} is handed out for {repair.Code}.";
        }
    }

    /// <summary>Hands one free item of a number to somebody: a charger to a desk. It leaves the stores.</summary>
    public Task<Outcome<string>> Spare(
        Guid request,
        string? number,
        string? to,
        Actor by,
        CancellationToken stop = default
    )
    {
        var now = clock.GetUtcNow();
        return db.WriteOnce(request, by, $"{number} {to}", now, Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!Keeping.Whom(to).Try(out var whom, out var nobody))
            {
                return nobody;
            }

            if (!PartNumber.Read(number).Try(out var read, out var unreadable))
            {
                return unreadable;
            }

            if (await numbers.Find(read.Text, stop) is not { } known)
            {
                return new Refusal(RefusalReason.NotFound, $"The part number {read.Text} is not known here.");
            }

            if (await db.LockFirstFree(known.Id, stop) is not { } item)
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"No {known.Number} is free any more: what is left is promised, or somebody has just taken it. Nothing was changed."
                );
            }

            await db.Entry(item).Reference(i => i.Bin).LoadAsync(stop);
            var from = item.Bin!.Code;
            _ = db.Put(
                item,
                await db.TheBin(BinKind.Outside, stop),
                MovementReason.Issued,
                new Occasion(by, now, Note: whom)
            );
            return $"{item.Code} ({known.Number}) from bin {from} goes to {whom}.";
        }
    }

    /// <summary>Moves the repair's promise of the same number over to this item.</summary>
    private async Task GiveOver(RepairId repair, Item item, CancellationToken stop)
    {
        await db.LockPromised(repair, item.NumberId, stop);
        var promise = await db
            .Reservations.Include(r => r.Item!.Bin)
            .Include(r => r.Repair)
            .FirstOrDefaultAsync(
                r => r.RepairId == repair && r.Item!.NumberId == item.NumberId && r.Item.BinKind == BinKind.Shelf,
                stop
            );
        if (promise is null)
        {
            return;
        }

        db.Reservations.Remove(promise);
        // Deleted before the new promise is stored: a line has one.
        await db.SaveChangesAsync(stop);
        db.Reservations.Add(
            new Reservation
            {
                Id = Guid.CreateVersion7(),
                RepairId = repair,
                LineId = promise.LineId,
                ItemId = item.Id,
                Quantity = 1,
                At = clock.GetUtcNow(),
                ById = promise.ById,
            }
        );
        await db.SaveChangesAsync(stop);
        await db.Entry(item).Reference(i => i.Reservation).LoadAsync(stop);
    }
}
