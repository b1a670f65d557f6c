namespace Zenrik.Core.Stock;

/// <summary>How a count of a bin differs from the book in one thing.</summary>
public abstract record Variance
{
    private Variance() { }

    /// <summary>The book has it in the bin; nobody found it there.</summary>
    public sealed record Missing(ItemId Item) : Variance;

    /// <summary>It lies in the bin; the book has it elsewhere.</summary>
    /// <param name="Book">Where the book has it: another bin, outside the house, or a unit's slot.</param>
    public sealed record Surplus(ItemId Item, Place Book) : Variance;

    /// <summary>A number of things without identity.</summary>
    /// <param name="Lot">Which.</param>
    /// <param name="Book">How many the book has; at least 0.</param>
    /// <param name="Counted">How many there are; at least 0.</param>
    public sealed record Quantity(Guid Lot, int Book, int Counted) : Variance
    {
        /// <summary>Counted less book: below 0 when some are gone.</summary>
        public int Difference => Counted - Book;
    }
}

/// <summary>What a bin holds by the book, beside what was counted in it.</summary>
/// <param name="Bin">The bin counted.</param>
/// <param name="Book">Items the book has there.</param>
/// <param name="Scanned">Items found there.</param>
/// <param name="Elsewhere">Where the book has each scanned item that is not in <paramref name="Book"/>.</param>
/// <param name="Lots">Countable stock: how many the book has, how many were counted; null counted is not counted.</param>
public sealed record BinCount(
    Place.InBin Bin,
    IReadOnlySet<ItemId> Book,
    IReadOnlySet<ItemId> Scanned,
    IReadOnlyDictionary<ItemId, Place> Elsewhere,
    IReadOnlyList<(Guid Lot, int Book, int? Counted)> Lots
)
{
    /// <summary>The largest count taken for one; more is a slip of the keyboard.</summary>
    public const int MostCounted = 99_999;

    /// <summary>Everything that differs, missing first; empty when the bin is as the book says.</summary>
    public IReadOnlyList<Variance> Variances =>
        [
            .. Book.Where(i => !Scanned.Contains(i)).OrderBy(i => i.Value).Select(i => new Variance.Missing(i)),
            .. Scanned
                .Where(i => !Book.Contains(i))
                .OrderBy(i => i.Value)
                .Select(i => new Variance.Surplus(i, Elsewhere[i])),
            .. Lots.Where(l => l.Counted is { } counted && counted != l.Book)
                .Select(l => new Variance.Quantity(l.Lot, l.Book, l.Counted!.Value)),
        ];
}
