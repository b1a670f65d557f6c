using Microsoft.EntityFrameworkCore;
using Zenrik.Core;

namespace Zenrik.Workshop.Repairs;

internal static class RepairLock
{
    /// <summary>
    /// A repair with its lines, its row locked until the transaction ends: everything that changes one repair happens
    /// one after the other, whichever instance it comes from.
    /// </summary>
    public static async Task<Outcome<Repair>> LockRepair(this WorkshopDb db, long number, CancellationToken stop)
    {
        var id = await db
            .Database.SqlQuery<Guid>($"SELECT id AS \"Value\" FROM repairs WHERE number = {number} FOR UPDATE")
            .ToListAsync(stop);
        return id is [var found]
            ? await db
                .Repairs.Include(r => r.Unit.Model)
                .Include(r => r.Lines.OrderBy(l => l.Position))
                .Include(r => r.ClosedBy)
                .SingleAsync(r => r.Id == new Core.Stock.RepairId(found), stop)
            : new Refusal(RefusalReason.NotFound, $"There is no repair {Repair.CodeOf(number)}.");
    }
}
