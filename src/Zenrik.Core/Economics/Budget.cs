using Zenrik.Core.Reliability;

namespace Zenrik.Core.Economics;

/// <summary>One line of what a year will cost.</summary>
/// <param name="Law">How many there will be.</param>
/// <param name="Each">What one costs, above 0; null: nobody knows, and it is not in the sum.</param>
public sealed record BudgetLine(string What, Cumulants Law, decimal? Each)
{
    /// <summary>How many are expected.</summary>
    public double Count => Law.Mean;

    public decimal? Expected => Each is { } each ? (decimal)Count * each : null;
}

/// <summary>What a year will cost in all.</summary>
/// <param name="Expected">On the average.</param>
/// <param name="Low">In one year of ten less.</param>
/// <param name="High">In one year of ten more.</param>
/// <param name="Unpriced">Lines of which no price is known.</param>
public sealed record Budget(decimal Expected, decimal Low, decimal High, IReadOnlyList<BudgetLine> Unpriced)
{
    /// <summary>Adds independent lines up; the interval by their cumulants.</summary>
    public static Budget Of(IReadOnlyList<BudgetLine> lines)
    {
        var sum = lines.Aggregate(
            default(Cumulants),
            (all, l) => l.Each is { } each ? all + (l.Law * (double)each) : all
        );
        return new Budget(
            lines.Sum(l => l.Expected ?? 0),
            (decimal)Math.Max(0, sum.Quantile(0.1)),
            (decimal)sum.Quantile(0.9),
            [.. lines.Where(l => l.Each is null && l.Count >= 0.05)]
        );
    }
}
