using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Parts;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Parts;

namespace Zenrik.Workshop.Stock;

/// <summary>One thing the book says, beside what its movements lead to.</summary>
/// <param name="Name">An item's label, or a number and bin.</param>
/// <param name="ByMovements">Null when its movements contradict each other.</param>
public sealed record ProofLine(string Name, string Book, string? ByMovements)
{
    public bool Agrees => Book == ByMovements;
}

/// <summary>Proves what the book says of a part number from nothing but movements.</summary>
public sealed class ProveStock(WorkshopDb db)
{
    /// <summary>More items of one number are not proved on a page.</summary>
    public const int Most = 2000;

    /// <summary>Every item in the house of a number, each replayed movement by movement, and its countable stock.</summary>
    public async Task<IReadOnlyList<ProofLine>> OfNumber(string number, CancellationToken stop = default)
    {
        var canonical = PartNumber.Canonicalise(number);
        var id = await db
            .CatalogueNumbers.Where(n => n.Canonical == canonical)
            .Select(n => n.Id)
            .SingleOrDefaultAsync(stop);
        var items = await db
            .Items.AsNoTracking()
            .Include(i => i.Bin)
            .Include(i => i.Unit)
            .InHouse()
            .Where(i => i.NumberId == id)
            .OrderBy(i => i.Code)
            .Take(Most)
            .ToListAsync(stop);
        var lots = await db
            .Lots.AsNoTracking()
            .Include(l => l.Bin)
            .Where(l => l.NumberId == id)
            .OrderBy(l => l.Bin.Code)
            .ToListAsync(stop);
        var ids = lots.Select(l => l.Id).ToList();
        var moves = await db
            .Movements.AsNoTracking()
            .Where(m => m.LotId != null && ids.Contains(m.LotId.Value))
            .Select(m => new LotMovement(m.FromBinId, m.ToBinId, m.Quantity))
            .ToListAsync(stop);
        return
        [
            .. await Replayed(items, stop),
            .. lots.Select(l => new ProofLine(
                $"bin {l.Bin.Code}",
                $"{l.OnHand}",
                $"{LotProof.OnHand(l.BinId, moves)}"
            )),
        ];
    }

    /// <summary>One item; its bin and unit must be loaded.</summary>
    public async Task<ProofLine> OfItem(Item item, CancellationToken stop = default) =>
        (await Replayed([item], stop))[0];

    private async Task<IReadOnlyList<ProofLine>> Replayed(IReadOnlyList<Item> items, CancellationToken stop)
    {
        var bins = await db.Bins.AsNoTracking().ToDictionaryAsync(b => b.Id, stop);
        // What enters the book comes from outside the house.
        var outside = bins.Values.First(b => b.Kind == BinKind.Outside).Place;
        var ids = items.Select(i => (ItemId?)i.Id).ToList();
        var moves = await db
            .Movements.AsNoTracking()
            .Where(m => ids.Contains(m.ItemId))
            .OrderBy(m => m.Id)
            .ToListAsync(stop);
        var touched = moves.Select(m => m.ToUnitId).OfType<UnitId>().Distinct().ToList();
        var units = await db
            .Units.AsNoTracking()
            .Where(u => touched.Contains(u.Id))
            .ToDictionaryAsync(u => u.Id, u => u.Tag, stop);
        var history = moves.ToLookup(m => m.ItemId!.Value);
        return [.. items.Select(i => new ProofLine(i.Code, i.Where(), Replay(i.Id) is { } at ? Name(at) : null))];

        Place? Replay(ItemId item)
        {
            try
            {
                // A promise is no movement: what is on the bench is replayed as standing there.
                return StockBook.From(history[item].Select(m => Core(item, m))).Places.GetValueOrDefault(item);
            }
            catch (InvalidOperationException)
            {
                return null;
            }
        }

        Movement Core(ItemId item, MovementRecord m) =>
            new(
                item,
                From: m.FromUnitId is { } unit ? new Place.InUnit(unit, m.FromSlot!)
                    : m.FromBinId is { } bin ? bins[bin].Place
                    : outside,
                To: m.ToUnitId is { } into ? new Place.InUnit(into, m.ToSlot!) : bins[m.ToBinId!.Value].Place
            );

        string Name(Place place) =>
            place is Place.InUnit u ? $"the {u.Slot} slot of {units[u.Unit]}" : bins[((Place.InBin)place).Bin].Where();
    }

    /// <summary>
    /// The whole book: how many items are elsewhere than their last movement left them, and how many counts differ from
    /// their movements. Both are 0, or there is a bug; reads every movement, so it is for tests and for a doubt.
    /// </summary>
    public async Task<(long Items, long Lots)> Whole(CancellationToken stop = default)
    {
        var items = await db
            .Database.SqlQuery<long>(
                $"""
                SELECT count(*) AS "Value" FROM items i
                LEFT JOIN LATERAL (SELECT * FROM movements m WHERE m.item_id = i.id ORDER BY m.id DESC LIMIT 1) last ON true
                WHERE last.id IS NULL OR last.to_bin_id IS DISTINCT FROM i.bin_id
                   OR last.to_unit_id IS DISTINCT FROM i.unit_id OR last.to_slot IS DISTINCT FROM i.slot
                """
            )
            .SingleAsync(stop);
        var lots = await db
            .Database.SqlQuery<long>(
                $"""
                SELECT count(*) AS "Value" FROM lots l WHERE l.on_hand <> (
                    SELECT coalesce(sum(CASE WHEN m.to_bin_id = l.bin_id THEN m.quantity ELSE 0 END
                                      - CASE WHEN m.from_bin_id = l.bin_id THEN m.quantity ELSE 0 END), 0)
                    FROM movements m WHERE m.lot_id = l.id)
                """
            )
            .SingleAsync(stop);
        return (items, lots);
    }
}
