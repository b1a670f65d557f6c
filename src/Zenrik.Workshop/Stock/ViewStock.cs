using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Parts;

namespace Zenrik.Workshop.Stock;

/// <summary>One part number on the shelf.</summary>
/// <param name="Free">On a shelf and promised to nobody.</param>
public sealed record StockLine(
    string Number,
    string Name,
    IReadOnlyList<string> Fits,
    IReadOnlyList<string> Bins,
    int Free,
    int Promised,
    int Quarantined
);

/// <summary>What is in the stores.</summary>
public sealed class ViewStock(WorkshopDb db)
{
    /// <summary>One line a part number, parts and consumables alike, by number.</summary>
    public async Task<IReadOnlyList<StockLine>> Run(CancellationToken stop = default)
    {
        var items = await db
            .Items.AsNoTracking()
            .Where(i => i.BinId != null && i.Bin!.Kind != BinKind.Outside)
            .Select(i => new
            {
                i.NumberId,
                Bin = i.Bin!.Code,
                i.Bin.Kind,
                Promised = i.Reservation != null,
            })
            .ToListAsync(stop);
        var lots = await db
            .Lots.AsNoTracking()
            .Select(l => new
            {
                l.NumberId,
                Bin = l.Bin.Code,
                l.OnHand,
                l.Promised,
            })
            .ToListAsync(stop);
        var numbers = await db
            .CatalogueNumbers.AsNoTracking()
            .Where(n =>
                db.Items.Any(i => i.NumberId == n.Id && i.BinId != null) || db.Lots.Any(l => l.NumberId == n.Id)
            )
            .Select(n => new
            {
                n.Id,
                n.Number,
                n.Name,
                Fits = n.Fits.Join(db.Models, f => f.ModelCode, m => m.Code, (f, m) => m.Name + " " + f.Slot).ToList(),
            })
            .OrderBy(n => n.Number)
            .ToListAsync(stop);
        return
        [
            .. numbers.Select(n =>
            {
                var mine = items.Where(i => i.NumberId == n.Id).ToList();
                var lot = lots.Where(l => l.NumberId == n.Id).ToList();
                var shelved = mine.Where(i => i.Kind == BinKind.Shelf).ToList();
                return new StockLine(
                    n.Number,
                    n.Name,
                    n.Fits,
                    [
                        .. shelved
                            .Select(i => i.Bin)
                            .Concat(lot.Select(l => l.Bin))
                            .Distinct()
                            .Order(StringComparer.Ordinal),
                    ],
                    shelved.Count(i => !i.Promised) + lot.Sum(l => l.OnHand - l.Promised),
                    shelved.Count(i => i.Promised) + lot.Sum(l => l.Promised),
                    mine.Count(i => i.Kind == BinKind.Quarantine)
                );
            }),
        ];
    }

    /// <summary>What is known of a part number, and its items wherever they are.</summary>
    public async Task<Outcome<(CatalogueNumber Number, IReadOnlyList<Item> Items)>> OfNumber(
        string number,
        CancellationToken stop = default
    )
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

        var items = await db
            .Items.AsNoTracking()
            .Include(i => i.Number)
            .Include(i => i.Bin)
            .Include(i => i.Unit)
            .Include(i => i.Reservation!.Repair)
            .Where(i => i.NumberId == known.Id)
            .OrderBy(i => i.BinId == null)
            .ThenBy(i => i.Code)
            .Take(200)
            .ToListAsync(stop);
        return (known, items);
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
                m.At,
                By = m.By.Name,
                m.Reason,
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
                    m.At,
                    m.By,
                    m.Reason,
                    m.Repair is { } n ? Repairs.Repair.CodeOf(n) : null,
                    m.FromBin ?? (m.FromUnit is null ? null : $"{m.FromUnit} {m.FromSlot}"),
                    m.ToBin ?? $"{m.ToUnit} {m.ToSlot}"
                )),
            ]
        );
    }
}

/// <summary>A movement as read out.</summary>
public sealed record MovementLine(
    DateTimeOffset At,
    string By,
    MovementReason Reason,
    string? RepairCode,
    string? From,
    string To
);
