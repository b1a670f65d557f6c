namespace Zenrik.Core.Stock;

/// <summary>When to order a number for the shelf, and how many.</summary>
public readonly record struct StockLevel
{
    public const int Most = 9999;

    private StockLevel(int minimum, int orderUpTo) => (Minimum, OrderUpTo) = (minimum, orderUpTo);

    /// <summary>Fewer than this, free and coming together, is too few. At least 1.</summary>
    public int Minimum { get; }

    /// <summary>What an order fills up to; at least <see cref="Minimum"/>.</summary>
    public int OrderUpTo { get; }

    public static Outcome<StockLevel> Of(int minimum, int orderUpTo) =>
        minimum is < 1 or > Most || orderUpTo > Most
            ? new Refusal(RefusalReason.Invalid, $"A level is a whole number from 1 to {Most}.")
        : orderUpTo < minimum
            ? new Refusal(
                RefusalReason.Invalid,
                $"An order that fills up to {orderUpTo} never reaches the minimum of {minimum}. Fill up to the minimum at least."
            )
        : new StockLevel(minimum, orderUpTo);

    /// <summary>How many to order now: none while free and coming together reach the minimum.</summary>
    /// <param name="free">On a shelf and promised to nobody; at least 0.</param>
    /// <param name="coming">Ordered for the shelf and not here yet; at least 0.</param>
    public int ToOrder(int free, int coming) => free + coming >= Minimum ? 0 : OrderUpTo - free - coming;
}

/// <summary>One change of a stock that has no identities.</summary>
/// <param name="Quantity">Above 0.</param>
public readonly record struct LotMovement(BinId? From, BinId? To, int Quantity);

/// <summary>Proves a count of things without identity from its movements.</summary>
public static class LotProof
{
    /// <summary>What the movements leave in a bin. Below 0 is a contradiction, which the caller shows.</summary>
    public static int OnHand(BinId bin, IEnumerable<LotMovement> movements) =>
        movements.Sum(m => (m.To == bin ? m.Quantity : 0) - (m.From == bin ? m.Quantity : 0));
}
