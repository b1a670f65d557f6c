using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Stock;

namespace Zenrik.Workshop.Stock;

/// <summary>Puts a wrong movement right by one the other way, which names it. Nothing in the book is edited.</summary>
public sealed class TakeBackMovement(WorkshopDb db, TimeProvider clock)
{
    public Task<Outcome<string>> Run(
        Guid request,
        long movementId,
        string? why,
        Actor by,
        CancellationToken stop = default
    )
    {
        var now = clock.GetUtcNow();
        return db.WriteOnce(request, by, $"{movementId}", now, Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!Keeping.Reason(why).Try(out var reason, out var silent))
            {
                return silent;
            }

            if (await db.Movements.SingleOrDefaultAsync(m => m.Id == movementId, stop) is not { } wrong)
            {
                return new Refusal(RefusalReason.NotFound, "There is no such movement.");
            }

            if (wrong.ItemId is not { } itemId)
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    "What has no label is put right by counting its bin: the count and its reason are the record."
                );
            }

            var label = await db.Items.Where(i => i.Id == itemId).Select(i => i.Code).SingleAsync(stop);
            var item = (await db.LockItem(label, stop)).Value;
            var newest = await db.Movements.Where(m => m.ItemId == itemId).MaxAsync(m => m.Id, stop);
            if (newest != wrong.Id)
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"{label} has moved on since: it is in {item.Where()} now. Take back its last movement first."
                );
            }

            if (wrong.FromBinId is null && wrong.FromUnitId is null)
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"With this movement {label} came into the book. If it is not there, count its bin, or set it apart and scrap it."
                );
            }

            if (wrong.RepairId is not null && wrong.Reason is MovementReason.Fitted or MovementReason.Removed)
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"{label} moved by a repair, both parts at once. What is in the unit now is changed by another repair."
                );
            }

            var occasion = new Occasion(by, now, Note: reason);
            if (wrong.FromUnitId is { } unit)
            {
                if (await db.Items.AnyAsync(i => i.UnitId == unit && i.Slot == wrong.FromSlot, stop))
                {
                    return new Refusal(
                        RefusalReason.Conflict,
                        $"There is another item in the {wrong.FromSlot} slot now. Take that out first."
                    );
                }

                db.Movements.Add(
                    item.MoveTo(unit, wrong.FromSlot!, MovementReason.PutRight, occasion) with
                    {
                        RightsId = wrong.Id,
                    }
                );
            }
            else
            {
                var bin = await db.Bins.SingleAsync(b => b.Id == wrong.FromBinId, stop);
                if (bin.Kind == BinKind.Bench)
                {
                    return new Refusal(
                        RefusalReason.Conflict,
                        $"{label} was on the bench before, and the promise it was handed out for is gone. Hand it out again."
                    );
                }

                if (item.Reservation is { } promise)
                {
                    db.Reservations.Remove(promise);
                }

                db.Movements.Add(item.MoveTo(bin, MovementReason.PutRight, occasion) with { RightsId = wrong.Id });
            }

            await db.SaveChangesAsync(stop);
            await db.Entry(item).Reference(i => i.Unit).LoadAsync(stop);
            return $"{label} is back in {item.Where()}.";
        }
    }
}
