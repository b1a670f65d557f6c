using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Repairs;

namespace Zenrik.Workshop.Repairs;

/// <summary>What closed repairs have in common.</summary>
internal static class ClosedRepairs
{
    /// <summary>When a repair was last closed; null when none was. What is learned from closed repairs is kept under it.</summary>
    public static Task<DateTimeOffset?> LastClosed(this WorkshopDb db, CancellationToken stop) =>
        db.Repairs.MaxAsync(r => r.ClosedAt, stop);
}

/// <summary>Closed repairs, newest first.</summary>
public sealed class ListHistory(WorkshopDb db)
{
    public const int Most = 100;

    public async Task<IReadOnlyList<Repair>> Run(CancellationToken stop = default) =>
        await db
            .Repairs.AsNoTracking()
            .Include(r => r.Unit.Model)
            .Include(r => r.ClosedBy)
            .Include(r => r.Lines.OrderBy(l => l.Position))
            .Where(r => r.State == RepairState.Closed)
            .OrderByDescending(r => r.ClosedAt)
            .Take(Most)
            .ToListAsync(stop);
}
