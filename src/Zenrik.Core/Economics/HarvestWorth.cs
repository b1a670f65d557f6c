using MathNet.Numerics.Distributions;

namespace Zenrik.Core.Economics;

/// <summary>What a part out of a donor is worth to whom. Shares and minutes are common practice, no published source.</summary>
public static class HarvestWorth
{
    /// <summary>Days a part takes that nobody has ordered yet.</summary>
    public const int UsualDays = 10;

    /// <summary>Minutes to open a machine, and to take one part out of it, where no plan says.</summary>
    public const double UsualOpening = 12;

    public const double UsualTaking = 5;

    /// <summary>A need less likely than this is not looked at.</summary>
    public const double LeastChance = 0.05;

    /// <summary>The chance that a part of a machine that was given up is good; a battery, worn as it is, less.</summary>
    public static double Works(bool battery) => battery ? 0.4 : 0.85;

    /// <summary>To a repair that waits, in money: the days its user waits less, and the price of what is not paid for yet.</summary>
    /// <param name="price">Of a new part; 0: nobody knows.</param>
    /// <param name="comesInDays">Until one on order is here; null: none was ordered.</param>
    public static double Waiting(double price, int? comesInDays, double loanPerDay) =>
        comesInDays is { } days ? Math.Max(0, days) * loanPerDay : price + (UsualDays * loanPerDay);

    /// <summary>
    /// The chance that more fail than the shelf has: of so many that are expected, the one that finds it empty for the
    /// <paramref name="nth"/> time. Normal, with a correction for whole numbers.
    /// </summary>
    /// <param name="there">On the shelf or coming.</param>
    /// <param name="nth">From 1.</param>
    public static double Needed(double expected, double variance, int there, int nth) =>
        1 - Normal.CDF(expected, Math.Sqrt(Math.Max(variance, 1e-9)), there + nth - 0.5);
}
