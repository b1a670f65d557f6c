using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Stock;

namespace Zenrik.Workshop.Stock;

/// <summary>What is promised to a repair, as a whole.</summary>
internal static class Promises
{
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
