using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Parts;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Parts;

namespace Zenrik.Workshop.Stock;

/// <summary>One part number on the shelf.</summary>
/// <param name="Free">On a shelf and promised to nobody.</param>
/// <param name="Promised">On a shelf or a bench, and promised to a repair.</param>
/// <param name="Coming">Ordered and not here yet.</param>
/// <param name="Minimum">Fewer than this free and coming is too few; null when no level is kept.</param>
public sealed record StockLine(
    string Number,
    string Name,
    IReadOnlyList<string> Fits,
    IReadOnlyList<string> Bins,
    int Free,
    int Promised,
    int Quarantined,
    int Coming,
    int? Minimum
)
{
    public bool TooFew => Free + Coming < Minimum;
}

/// <summary>A part number and what the workshop has of it.</summary>
/// <param name="Replaces">Numbers it is sold in place of.</param>
/// <param name="Items">Those in the stores, then those inside units; <see cref="ViewStock.MostItems"/> at most.</param>
/// <param name="Promised">The repairs items are promised to.</param>
public sealed record NumberView(
    CatalogueNumber Number,
    IReadOnlyList<string> Replaces,
    IReadOnlyList<Item> Items,
    IReadOnlyDictionary<ItemId, string> Promised,
    bool More
);

/// <summary>What of the stores is wanted.</summary>
/// <param name="Search">Part of a number, name or type code; empty for all.</param>
/// <param name="BelowLevel">Only numbers of which there are too few.</param>
/// <param name="Page">From 0.</param>
public sealed record StockQuery(string? Search = null, bool BelowLevel = false, int Page = 0);

/// <summary>What is in the stores.</summary>
public sealed class ViewStock(WorkshopDb db)
{
    public const int PageSize = 60;

    /// <summary>Part numbers of which the stores have or had something, by number.</summary>
    /// <returns>The page, and whether there is another one.</returns>
    public async Task<(IReadOnlyList<StockLine> Lines, bool More)> Run(
        StockQuery query,
        CancellationToken stop = default
    )
    {
        var numbers = db
            .CatalogueNumbers.AsNoTracking()
            .Where(n =>
                n.MinimumLevel != null
                || db.Items.Any(i => i.NumberId == n.Id && i.UnitId == null)
                || db.Lots.Any(l => l.NumberId == n.Id)
            );
        if (!string.IsNullOrWhiteSpace(query.Search))
        {
            var pattern = Patterns.Containing(query.Search);
            var canonical = $"%{PartNumber.Canonicalise(query.Search)}%";
            numbers = numbers.Where(n =>
                EF.Functions.ILike(n.Number, pattern)
                || EF.Functions.ILike(n.Name, pattern)
                || EF.Functions.ILike(n.TypeCode!, pattern)
                || (canonical.Length > 4 && EF.Functions.Like(n.Canonical, canonical))
            );
        }

        if (query.BelowLevel)
        {
            numbers = numbers.Where(n => n.MinimumLevel != null);
        }

        var page = await numbers
            .OrderBy(n => n.Number)
            .Select(n => new
            {
                n.Id,
                n.Number,
                n.Name,
                n.MinimumLevel,
                Fits = n.Fits.Join(db.Models, f => f.ModelCode, m => m.Code, (f, m) => m.Name + " " + f.Slot).ToList(),
            })
            // Levels are kept for few numbers; which of them are low is counted below, so all of them are looked at.
            .Skip(query.BelowLevel ? 0 : Math.Max(0, query.Page) * PageSize)
            .Take(query.BelowLevel ? int.MaxValue : PageSize + 1)
            .ToListAsync(stop);
        var more = !query.BelowLevel && page.Count > PageSize;
        if (more)
        {
            page.RemoveAt(PageSize);
        }

        var counts = await Count([.. page.Select(n => n.Id)], stop);
        var texts = page.Select(n => n.Number).ToList();
        var coming = await db
            .PartOrders.AsNoTracking()
            .Where(o => o.State == OrderState.Ordered && texts.Contains(o.Number))
            .GroupBy(o => o.Number)
            .Select(g => new { Number = g.Key, Left = g.Sum(o => o.Quantity - o.Arrived) })
            .ToDictionaryAsync(g => g.Number, g => g.Left, stop);
        var lines = page.Select(n =>
        {
            var mine = counts[n.Id].ToList();
            return new StockLine(
                n.Number,
                n.Name,
                n.Fits,
                [.. mine.Where(c => c.Kind == BinKind.Shelf).Select(c => c.Bin).Order(StringComparer.Ordinal)],
                mine.Where(c => c.Kind == BinKind.Shelf).Sum(c => c.Count - c.Promised),
                mine.Where(c => c.Kind is BinKind.Shelf or BinKind.Bench).Sum(c => c.Promised),
                mine.Where(c => c.Kind == BinKind.Quarantine).Sum(c => c.Count),
                coming.GetValueOrDefault(n.Number),
                n.MinimumLevel
            );
        });
        return ([.. lines.Where(l => !query.BelowLevel || l.TooFew)], more);
    }

    /// <summary>Repairs with parts promised that still lie on their shelf, the longest waiting first.</summary>
    public async Task<IReadOnlyList<(string Repair, int Parts)>> ToHandOut(CancellationToken stop = default)
    {
        var waiting = await db
            .Reservations.AsNoTracking()
            .Where(r => r.Item!.BinKind == BinKind.Shelf)
            .GroupBy(r => r.Repair.Number)
            .Select(g => new { Number = g.Key, Parts = g.Count() })
            .OrderBy(g => g.Number)
            .Take(40)
            .ToListAsync(stop);
        return [.. waiting.Select(w => (Repair.CodeOf(w.Number), w.Parts))];
    }

    /// <summary>
    /// What was handed out to the bench and is needed by nobody any more, as where its repair was withdrawn; with the repair
    /// it was handed out for. At most 40, by label.
    /// </summary>
    public async Task<IReadOnlyList<(Item Item, string? Repair)>> ToPutBack(CancellationToken stop = default)
    {
        var idle = await db
            .Items.AsNoTracking()
            .Include(i => i.Number)
            .Where(i => i.BinKind == BinKind.Bench && i.Reservation == null)
            .Where(i => !db.FaultyAtBench().Any(l => l.FaultyItemId == i.Id))
            .OrderBy(i => i.Code)
            .Take(40)
            .Select(i => new
            {
                Item = i,
                Repair = db
                    .Movements.Where(m => m.ItemId == i.Id && m.Reason == MovementReason.Issued)
                    .OrderByDescending(m => m.Id)
                    .Select(m =>
                        db.Repairs.Where(r => r.Id == m.RepairId).Select(r => (long?)r.Number).FirstOrDefault()
                    )
                    .FirstOrDefault(),
            })
            .ToListAsync(stop);
        return [.. idle.Select(i => (i.Item, i.Repair is { } number ? Repair.CodeOf(number) : null))];
    }

    /// <summary>What is promised to a repair, and where it lies.</summary>
    public async Task<IReadOnlyList<Item>> PromisedTo(long repair, CancellationToken stop = default) =>
        await db
            .Items.AsNoTracking()
            .Include(i => i.Number)
            .Include(i => i.Bin)
            .Where(i => i.Reservation!.Repair.Number == repair)
            .OrderBy(i => i.Bin!.Code)
            .ThenBy(i => i.Code)
            .ToListAsync(stop);

    /// <summary>What each bin in the house holds of some numbers, items and lots alike.</summary>
    private async Task<ILookup<Guid, BinCounted>> Count(IReadOnlyList<Guid> numbers, CancellationToken stop)
    {
        var bins = await db.Bins.AsNoTracking().ToDictionaryAsync(b => b.Id, b => b.Code, stop);
        var items = await db
            .Items.InHouse()
            .Where(i => numbers.Contains(i.NumberId))
            .GroupBy(i => new
            {
                i.NumberId,
                i.BinKind,
                i.BinId,
            })
            .Select(g => new { g.Key, Count = g.Count() })
            .ToListAsync(stop);
        // Apart, because promises are few: one query over both looks every item up to see that it is free.
        var promised = (
            await db
                .Reservations.Where(r => numbers.Contains(r.Item!.NumberId))
                .GroupBy(r => new { r.Item!.NumberId, r.Item.BinId })
                .Select(g => new { g.Key, Count = g.Count() })
                .ToListAsync(stop)
        ).ToDictionary(g => (g.Key.NumberId, g.Key.BinId), g => g.Count);
        var lots = await db
            .Lots.AsNoTracking()
            .Where(l => numbers.Contains(l.NumberId))
            .Select(l => new BinCounted(l.NumberId, l.Bin.Code, l.Bin.Kind, l.OnHand, l.Promised))
            .ToListAsync(stop);
        return items
            .Select(i => new BinCounted(
                i.Key.NumberId,
                bins[i.Key.BinId!.Value],
                i.Key.BinKind!.Value,
                i.Count,
                promised.GetValueOrDefault((i.Key.NumberId, i.Key.BinId))
            ))
            .Concat(lots)
            .ToLookup(c => c.NumberId);
    }

    private sealed record BinCounted(Guid NumberId, string Bin, BinKind Kind, int Count, int Promised);

    /// <summary>Items of a number that are listed one by one; of a fleet's boards there are thousands.</summary>
    public const int MostItems = 120;

    /// <summary>What is known of a part number, and its items: those in the stores first, then some of those inside units.</summary>
    public async Task<Outcome<NumberView>> OfNumber(string number, CancellationToken stop = default)
    {
        var known = await db
            .CatalogueNumbers.AsNoTracking()
            .Include(n => n.Fits)
            .Include(n => n.SupersededBy)
            .SingleOrDefaultAsync(n => n.Number == number, stop);
        if (known is null)
        {
            return new Refusal(RefusalReason.NotFound, $"The part number {number} is not known here.");
        }

        var items = db
            .Items.AsNoTracking()
            .Include(i => i.Number)
            .Include(i => i.Bin)
            .Include(i => i.Unit)
            .Where(i => i.NumberId == known.Id);
        // Asked apart, so that each walks its own index and stops: one order over both would sort them all.
        var kept = await items.InHouse().OrderBy(i => i.Code).Take(MostItems).ToListAsync(stop);
        var fitted = await items
            .Where(i => i.UnitId != null)
            .OrderBy(i => i.UnitId)
            .Take(MostItems - kept.Count)
            .ToListAsync(stop);
        return new NumberView(
            known,
            await db
                .CatalogueNumbers.Where(n => n.SupersededById == known.Id)
                .OrderBy(n => n.Number)
                .Select(n => n.Number)
                .ToListAsync(stop),
            [.. kept, .. fitted],
            await db.Promises(kept, stop),
            kept.Count + fitted.Count == MostItems
        );
    }

    /// <summary>One item with every movement it made, oldest first.</summary>
    public async Task<Outcome<(Item Item, IReadOnlyList<MovementLine> Movements)>> Item(
        string code,
        CancellationToken stop = default
    )
    {
        var item = await db
            .Items.AsNoTracking()
            .Include(i => i.Number)
            .Include(i => i.Bin)
            .Include(i => i.Unit)
            .Include(i => i.Reservation!.Repair)
            .Include(i => i.Order!.Supplier)
            .SingleOrDefaultAsync(i => i.Code == code, stop);
        if (item is null)
        {
            return new Refusal(RefusalReason.NotFound, $"No item carries the label {code}.");
        }

        var rows = await db
            .Movements.AsNoTracking()
            .Where(m => m.ItemId == item.Id)
            .OrderBy(m => m.Id)
            .Select(m => new
            {
                m.Id,
                m.At,
                By = m.By.Name,
                m.Reason,
                m.Note,
                m.RightsId,
                Righted = db.Movements.Any(r => r.RightsId == m.Id),
                Repair = m.Repair != null ? (long?)m.Repair.Number : null,
                FromBin = db.Bins.Where(b => b.Id == m.FromBinId).Select(b => b.Code).FirstOrDefault(),
                FromUnit = db.Units.Where(u => u.Id == m.FromUnitId).Select(u => u.Tag).FirstOrDefault(),
                m.FromSlot,
                ToBin = db.Bins.Where(b => b.Id == m.ToBinId).Select(b => b.Code).FirstOrDefault(),
                ToUnit = db.Units.Where(u => u.Id == m.ToUnitId).Select(u => u.Tag).FirstOrDefault(),
                m.ToSlot,
            })
            .ToListAsync(stop);
        return (
            item,
            [
                .. rows.Select(m => new MovementLine(
                    m.Id,
                    m.At,
                    m.By,
                    m.Reason,
                    m.Repair is { } n ? Repair.CodeOf(n) : null,
                    m.FromBin ?? (m.FromUnit is null ? null : $"{m.FromUnit} {m.FromSlot}"),
                    m.ToBin ?? $"{m.ToUnit} {m.ToSlot}",
                    m.Note,
                    m.RightsId,
                    m.Righted
                )),
            ]
        );
    }
}

/// <summary>A movement as read out.</summary>
/// <param name="RightsId">The movement it takes back; null for most.</param>
/// <param name="Righted">True when a later movement takes this one back.</param>
public sealed record MovementLine(
    long Id,
    DateTimeOffset At,
    string By,
    MovementReason Reason,
    string? RepairCode,
    string? From,
    string To,
    string? Note,
    long? RightsId,
    bool Righted
);
