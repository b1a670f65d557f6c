using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Parts;

namespace Zenrik.Workshop.Stock;

/// <summary>A bin and what lies in it.</summary>
/// <param name="Promised">The repairs items are promised to.</param>
/// <param name="Faulty">The repairs in whose machine an item is that proved faulty, until another goes in.</param>
/// <param name="Total">Of the items; the list has at most <see cref="ViewBin.Most"/>.</param>
/// <param name="Counting">True while it is being counted.</param>
public sealed record BinView(
    Bin Bin,
    IReadOnlyList<Item> Items,
    IReadOnlyDictionary<ItemId, string> Promised,
    IReadOnlyDictionary<ItemId, string> Faulty,
    int Total,
    IReadOnlyList<Lot> Lots,
    bool Counting,
    DateTimeOffset? CountedAt
);

/// <summary>A bin as it stands among the others.</summary>
/// <param name="Items">How many it holds by the book, promised ones among them.</param>
public sealed record BinLine(Bin Bin, int Items, int Promised);

/// <summary>Looks into bins.</summary>
public sealed class ViewBin(WorkshopDb db)
{
    public const int Most = 300;

    public async Task<Outcome<BinView>> Run(string label, CancellationToken stop = default)
    {
        var code = LabelCode.Of(label);
        var bin = await db.Bins.AsNoTracking().SingleOrDefaultAsync(b => b.Code == code, stop);
        if (bin is null)
        {
            return new Refusal(RefusalReason.NotFound, $"There is no bin {code}.");
        }

        var items = await db
            .Items.AsNoTracking()
            .Include(i => i.Number)
            .Include(i => i.Bin)
            .Where(i => i.BinId == bin.Id && i.BinKind == bin.Kind)
            .OrderByDescending(i => i.Code)
            .Take(Most)
            .ToListAsync(stop);
        var lots = await db
            .Lots.AsNoTracking()
            .Include(l => l.Number)
            .Where(l => l.BinId == bin.Id)
            .OrderBy(l => l.Number.Number)
            .ToListAsync(stop);
        var counts = await db
            .Stocktakes.AsNoTracking()
            .Where(s => s.BinId == bin.Id && (s.EndedAt == null || s.Posted))
            .Select(s => new { s.EndedAt })
            .ToListAsync(stop);
        return new BinView(
            bin,
            items,
            await db.Promises(items, stop),
            bin.Kind == BinKind.Bench
                ? await db.FaultyAtBench()
                    .Join(db.Repairs, l => l.RepairId, r => r.Id, (l, r) => new { l.FaultyItemId, r.Number })
                    .ToDictionaryAsync(f => f.FaultyItemId!.Value, f => Repair.CodeOf(f.Number), stop)
                : new Dictionary<ItemId, string>(),
            items.Count < Most ? items.Count : await db.Items.CountAsync(i => i.BinId == bin.Id, stop),
            lots,
            counts.Exists(c => c.EndedAt is null),
            counts.Max(c => c.EndedAt)
        );
    }

    /// <summary>All bins in the house, by kind and code.</summary>
    public async Task<IReadOnlyList<BinLine>> All(CancellationToken stop = default)
    {
        var bins = await db
            .Bins.AsNoTracking()
            .Where(b => b.Kind != BinKind.Outside)
            .Select(b => new BinLine(
                b,
                db.Items.Count(i => i.BinId == b.Id),
                db.Reservations.Count(r => r.Item!.BinId == b.Id)
            ))
            .ToListAsync(stop);
        return [.. bins.OrderBy(b => b.Bin.Kind).ThenBy(b => b.Bin.Code, StringComparer.Ordinal)];
    }
}
