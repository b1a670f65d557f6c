using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Parts;

namespace Zenrik.Workshop.Stock;

/// <summary>How many items of a number lie on the shelves, and how many of those are promised.</summary>
internal readonly record struct ShelfCount(int All, int Promised)
{
    public int Free => All - Promised;
}

/// <summary>Something counted of a number.</summary>
internal sealed class NumberRow
{
    /// <summary>On a shelf.</summary>
    public const int There = 0;

    /// <summary>On a shelf and promised.</summary>
    public const int Promised = 1;

    /// <summary>Fitted into units of a model.</summary>
    public const int Fitted = 2;

    public required Guid Number { get; init; }

    public required int What { get; init; }

    public required int Count { get; init; }

    /// <summary>Of those fitted.</summary>
    public required int Failed { get; init; }
}

internal static class Shelves
{
    /// <summary>Items in the stores: on a shelf, at the bench or set apart. The kinds are named, or the index of these is not used.</summary>
    public static IQueryable<Item> InHouse(this IQueryable<Item> items) =>
        items.Where(i => i.BinKind == BinKind.Shelf || i.BinKind == BinKind.Bench || i.BinKind == BinKind.Quarantine);

    /// <summary>Of some items those that are promised, and the repair each is promised to.</summary>
    public static async Task<IReadOnlyDictionary<ItemId, string>> Promises(
        this WorkshopDb db,
        IReadOnlyCollection<Item> items,
        CancellationToken stop
    )
    {
        var ids = items.Select(i => (ItemId?)i.Id).ToList();
        var promises = await db
            .Reservations.Where(r => ids.Contains(r.ItemId))
            .Select(r => new { r.ItemId, r.Repair.Number })
            .ToListAsync(stop);
        return promises.ToDictionary(p => p.ItemId!.Value, p => Repair.CodeOf(p.Number));
    }

    /// <summary>Of each number how many lie free on a shelf, and how many are ordered for the shelf; 0 of those not named.</summary>
    public static async Task<Func<string, (int Free, int Coming)>> FreeAndComing(
        this WorkshopDb db,
        IReadOnlyCollection<string> numbers,
        CancellationToken stop
    )
    {
        var (free, coming) = (await db.Free(numbers, stop), await db.Coming(numbers, stop));
        return number => (free.GetValueOrDefault(number), coming[number].Sum(o => o.Pieces));
    }

    /// <summary>Of each number how many lie free on a shelf; without those of which none does.</summary>
    public static async Task<IReadOnlyDictionary<string, int>> Free(
        this WorkshopDb db,
        IReadOnlyCollection<string> numbers,
        CancellationToken stop
    ) =>
        await db
            .Items.Where(i => numbers.Contains(i.Number.Number) && i.BinKind == BinKind.Shelf && i.Reservation == null)
            .GroupBy(i => i.Number.Number)
            .Select(g => new { g.Key, Count = g.Count() })
            .ToDictionaryAsync(g => g.Key, g => g.Count, stop);

    /// <summary>Of each number what is ordered for the shelf and not here yet, and when it is expected.</summary>
    public static async Task<ILookup<string, (DateOnly Expected, int Pieces)>> Coming(
        this WorkshopDb db,
        IReadOnlyCollection<string> numbers,
        CancellationToken stop
    ) =>
        (
            await db
                .PartOrders.Where(o =>
                    numbers.Contains(o.Number) && o.State == OrderState.Ordered && o.RepairId == null
                )
                .Select(o => new
                {
                    o.Number,
                    o.Expected,
                    Pieces = o.Quantity - o.Arrived,
                })
                .ToListAsync(stop)
        ).ToLookup(o => o.Number, o => (o.Expected, o.Pieces));

    /// <summary>Counts of those numbers of which something is there.</summary>
    public static async Task<Dictionary<Guid, ShelfCount>> OnShelf(
        this WorkshopDb db,
        IReadOnlyCollection<Guid> numbers,
        CancellationToken stop
    )
    {
        return OnShelf(await db.ShelfRows(numbers).ToListAsync(stop));
    }

    /// <summary>What <see cref="OnShelf(WorkshopDb, IReadOnlyCollection{Guid}, CancellationToken)"/> counts, to be asked together with more.</summary>
    public static IQueryable<NumberRow> ShelfRows(this WorkshopDb db, IReadOnlyCollection<Guid> numbers) =>
        // Counted apart, because promises are few: a join of both reads every item to see that it is free.
        db
            .Items.Where(i => numbers.Contains(i.NumberId) && i.BinKind == BinKind.Shelf)
            .GroupBy(i => i.NumberId)
            .Select(g => new NumberRow
            {
                Number = g.Key,
                What = NumberRow.There,
                Count = g.Count(),
                Failed = 0,
            })
            .Concat(
                db.Reservations.Where(r => r.Item!.BinKind == BinKind.Shelf && numbers.Contains(r.Item.NumberId))
                    .GroupBy(r => r.Item!.NumberId)
                    .Select(g => new NumberRow
                    {
                        Number = g.Key,
                        What = NumberRow.Promised,
                        Count = g.Count(),
                        Failed = 0,
                    })
            );

    /// <summary>Counts from rows of <see cref="ShelfRows"/>; others are passed over.</summary>
    public static Dictionary<Guid, ShelfCount> OnShelf(IEnumerable<NumberRow> rows) =>
        rows.Where(r => r.What != NumberRow.Fitted)
            .GroupBy(r => r.Number)
            .ToDictionary(
                g => g.Key,
                g => new ShelfCount(
                    g.Where(r => r.What == NumberRow.There).Sum(r => r.Count),
                    g.Where(r => r.What == NumberRow.Promised).Sum(r => r.Count)
                )
            );
}
