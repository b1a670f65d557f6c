using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Repairs;
using Zenrik.Core.Stock;

namespace Zenrik.Workshop.Stock;

/// <summary>What is promised to a repair, as a whole.</summary>
internal static class Promises
{
    /// <summary>Promises an item to a line of a repair.</summary>
    public static void Promise(this WorkshopDb db, RepairLine line, Item item, Actor by, DateTimeOffset at) =>
        db.Reservations.Add(
            new Reservation
            {
                Id = Guid.CreateVersion7(),
                RepairId = line.RepairId,
                LineId = line.Id,
                ItemId = item.Id,
                Quantity = 1,
                At = at,
                ById = by.Id,
            }
        );

    /// <summary>Lines of sessions whose new part proved faulty and is in the machine until another goes in.</summary>
    public static IQueryable<RepairLine> FaultyAtBench(this WorkshopDb db) =>
        db.RepairLines.Where(l =>
            l.FaultyItemId != null
            && db.Repairs.Any(r =>
                r.Id == l.RepairId && (r.State == RepairState.OnBench || r.State == RepairState.Stopped)
            )
        );

    /// <summary>Why an item is not promised twice within a repair: it goes into one slot.</summary>
    public static Refusal AnotherLine(string code, Repair repair) =>
        new(RefusalReason.Conflict, $"{code} is promised to another line of {repair.Code}. Choose another one.");

    /// <summary>Why an item does not take a faulty one's place: the session has read the other's number.</summary>
    public static Refusal AnotherNumber(Item item, RepairLine line) =>
        new(
            RefusalReason.Conflict,
            $"{item.Code} is a {item.Number.Number}; in goes another {line.ExpectedIn}. One of another number is for a repair of its own."
        );

    /// <summary>Makes everything promised to a repair free again; part of the caller's transaction.</summary>
    public static async Task Release(this WorkshopDb db, RepairId repair, CancellationToken stop)
    {
        var lots = await db.Reservations.Where(r => r.RepairId == repair && r.LotId != null).ToListAsync(stop);
        foreach (var promise in lots)
        {
            await db
                .Lots.Where(l => l.Id == promise.LotId)
                .ExecuteUpdateAsync(l => l.SetProperty(x => x.Promised, x => x.Promised - promise.Quantity), stop);
        }

        await db.Reservations.Where(r => r.RepairId == repair).ExecuteDeleteAsync(stop);
    }
}
