using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Parts;

namespace Zenrik.Workshop.Sourcing;

/// <summary>What is on its way.</summary>
public sealed class ViewOrders(WorkshopDb db)
{
    private const int Most = 200;

    /// <summary>Orders not yet here, the earliest due first.</summary>
    /// <param name="number">Only of this number, in any spelling; empty for all.</param>
    public async Task<IReadOnlyList<PartOrder>> Coming(string? number = null, CancellationToken stop = default)
    {
        var open = await db
            .PartOrders.AsNoTracking()
            .Include(o => o.Supplier)
            .Include(o => o.Repair)
            .Where(o => o.State == OrderState.Ordered || o.State == OrderState.Wrong)
            .OrderBy(o => o.Expected)
            .ThenBy(o => o.Number)
            .Take(Most)
            .ToListAsync(stop);
        return string.IsNullOrWhiteSpace(number) ? open
            : PartNumber.Read(number).Try(out var read, out _)
                ? [.. open.Where(o => read.Readings.Contains(PartNumber.Canonicalise(o.Number)))]
            : [];
    }

    public async Task<Outcome<PartOrder>> One(Guid id, CancellationToken stop = default) =>
        await db
            .PartOrders.AsNoTracking()
            .Include(o => o.Supplier)
            .Include(o => o.Repair)
            .Include(o => o.By)
            .SingleOrDefaultAsync(o => o.Id == id, stop)
            is { } order
            ? order
            : new Refusal(RefusalReason.NotFound, "There is no such order.");
}
