using MathNet.Numerics.Distributions;

namespace Zenrik.Core.Economics;

/// <summary>One line of what a year will cost.</summary>
/// <param name="Count">How many are expected.</param>
/// <param name="Variance">Of that number; 0 for what is certain.</param>
/// <param name="Each">What one costs, above 0; null: nobody knows, and it is not in the sum.</param>
public sealed record BudgetLine(string What, double Count, double Variance, decimal? Each)
{
    public decimal? Expected => Each is { } each ? (decimal)Count * each : null;

    /// <summary>Of the money.</summary>
    internal double Spread => Each is { } each ? Variance * (double)each * (double)each : 0;
}

/// <summary>What a year will cost in all.</summary>
/// <param name="Expected">On the average.</param>
/// <param name="Low">In one year of ten less.</param>
/// <param name="High">In one year of ten more.</param>
/// <param name="Unpriced">Lines of which no price is known.</param>
public sealed record Budget(decimal Expected, decimal Low, decimal High, IReadOnlyList<BudgetLine> Unpriced)
{
    /// <summary>
    /// Adds independent lines up; the interval by the central limit theorem, as good as there are many failures in it.
    /// </summary>
    public static Budget Of(IReadOnlyList<BudgetLine> lines)
    {
        var expected = lines.Sum(l => l.Expected ?? 0);
        var reach = (decimal)(Normal.InvCDF(0, 1, 0.9) * Math.Sqrt(lines.Sum(l => l.Spread)));
        return new Budget(
            expected,
            Math.Max(0, expected - reach),
            expected + reach,
            [.. lines.Where(l => l.Each is null && l.Count >= 0.05)]
        );
    }
}
