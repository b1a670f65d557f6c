using Zenrik.Core.Batteries;

namespace Zenrik.Core.Economics;

/// <summary>
/// How far another part pays when it can be bought for the last time. A part too few costs another unit sooner, one too many
/// its price, for nothing asks for it any more.
/// </summary>
public static class LastBuy
{
    /// <summary>With which chance there should be enough where nobody knows a price. Common practice, no published source.</summary>
    public const double UsualLevel = 0.95;

    /// <summary>Months counted for a unit that should be out of use by now and is not. Common practice, no published source.</summary>
    public const int OverdueMonths = 6;

    /// <summary>The months a unit is still counted with.</summary>
    /// <param name="left">As <see cref="MonthsLeft"/> has them.</param>
    public static double Used(double left) => left > 0 ? left : OverdueMonths;

    /// <summary>What a missing part costs: of another unit the share that the old one would still have served.</summary>
    /// <param name="another">What another unit costs, with all that goes with it; not negative.</param>
    /// <param name="used">Of each unit the months it is counted with. A part fails half way through them on the average.</param>
    /// <param name="lifeMonths">How long the house uses such units; at least 1.</param>
    /// <returns>In the currency of <paramref name="another"/>, to the hundredth.</returns>
    public static decimal Missing(decimal another, IReadOnlyCollection<double> used, int lifeMonths) =>
        used.Count == 0 ? 0 : decimal.Round(another * (decimal)Math.Min(1, used.Average() / 2 / lifeMonths), 2);

    /// <summary>
    /// The chance of having enough up to which another part pays: missing ÷ (missing + price), the critical fractile
    /// (K. J. Arrow, T. Harris, J. Marschak, "Optimal inventory policy", Econometrica 19, 1951; from memory).
    /// </summary>
    /// <returns>Above 0 and below 1; null where one of the two costs nothing or is not known.</returns>
    public static double? Pays(decimal missing, decimal? price) =>
        price > 0 && missing > 0 ? (double)(missing / (missing + price.Value)) : null;

    /// <summary>True for what grows old lying on the shelf: cells do.</summary>
    public static bool Ages(string slot) => BatterySlot.Is(slot);
}
