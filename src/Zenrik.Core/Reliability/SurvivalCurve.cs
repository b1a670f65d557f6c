using MathNet.Numerics.Distributions;

namespace Zenrik.Core.Reliability;

/// <summary>What is left after the failures of one age.</summary>
/// <param name="AtRisk">How many had reached this age.</param>
/// <param name="Survival">Share that lives longer, from 0 to 1.</param>
/// <param name="Low">Of the interval.</param>
/// <param name="High">Of the interval.</param>
public sealed record SurvivalPoint(double Days, int AtRisk, int Failed, double Survival, double Low, double High);

/// <summary>
/// The share that survives each age, where some still live: the product-limit estimate (Kaplan and Meier 1958) with
/// Greenwood's variance (1926) and intervals on the log-log scale, which never leave 0 to 1 (Kalbfleisch and Prentice 1980).
/// </summary>
public sealed class SurvivalCurve
{
    private SurvivalCurve(IReadOnlyList<SurvivalPoint> points, int count, double longest) =>
        (Points, Count, LongestDays) = (points, count, longest);

    /// <summary>One for each age at which something failed, youngest first; empty where nothing did.</summary>
    public IReadOnlyList<SurvivalPoint> Points { get; }

    /// <summary>How many lifetimes it is made of.</summary>
    public int Count { get; }

    /// <summary>The longest of them; beyond it nothing is known.</summary>
    public double LongestDays { get; }

    /// <param name="level">Of the intervals, as 0.95.</param>
    public static SurvivalCurve Of(IReadOnlyCollection<Lifetime> lifetimes, double level = 0.95)
    {
        var z = Normal.InvCDF(0, 1, (1 + level) / 2);
        var (survival, variance, atRisk) = (1.0, 0.0, lifetimes.Count);
        var points = new List<SurvivalPoint>();
        foreach (var age in lifetimes.GroupBy(l => l.Days).OrderBy(g => g.Key))
        {
            var failed = age.Count(l => l.Failed);
            if (failed > 0)
            {
                survival *= 1 - ((double)failed / atRisk);
                variance += failed == atRisk ? 0 : failed / ((double)atRisk * (atRisk - failed));
                var (low, high) = Interval(survival, variance, z);
                points.Add(new SurvivalPoint(age.Key, atRisk, failed, survival, low, high));
            }

            atRisk -= age.Count();
        }

        return new SurvivalCurve(points, lifetimes.Count, lifetimes.Select(l => l.Days).DefaultIfEmpty(0).Max());
    }

    /// <summary>The same in no more steps than can be read or drawn: those of each equal span of age taken together.</summary>
    /// <param name="most">Spans, at least 1.</param>
    /// <returns>
    /// For each span something failed in: where it stands after the last of them, who was at risk before the first, and how many
    /// failed within. As it is where there are no more steps than that.
    /// </returns>
    public IReadOnlyList<SurvivalPoint> InSpans(int most)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(most, 1);
        return Points.Count <= most
            ? Points
            :
            [
                .. Points
                    .GroupBy(p => Math.Min(most - 1, (int)(p.Days / LongestDays * most)))
                    .Select(span =>
                        span.Last() with
                        {
                            AtRisk = span.First().AtRisk,
                            Failed = span.Sum(p => p.Failed),
                        }
                    ),
            ];
    }

    /// <summary>The share that lives longer than an age.</summary>
    public double At(double days) => Points.LastOrDefault(p => p.Days <= days)?.Survival ?? 1;

    /// <summary>The age half of them do not outlive; null where more than half still live.</summary>
    public double? Median => Points.FirstOrDefault(p => p.Survival <= 0.5)?.Days;

    private static (double Low, double High) Interval(double survival, double variance, double z)
    {
        if (survival <= 0)
        {
            return (0, 0);
        }

        var spread = z * Math.Sqrt(variance) / -Math.Log(survival);
        return (Math.Pow(survival, Math.Exp(spread)), Math.Pow(survival, Math.Exp(-spread)));
    }
}
