using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Repairs;
using Zenrik.Workshop.Parts;

namespace Zenrik.Workshop.Repairs;

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
