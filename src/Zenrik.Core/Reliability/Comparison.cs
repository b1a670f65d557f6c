using MathNet.Numerics.Distributions;

namespace Zenrik.Core.Reliability;

/// <summary>Whether some parts live shorter than others of their kind, their ages taken into account.</summary>
/// <param name="Failed">How many of the group failed.</param>
/// <param name="Expected">How many would have, had they lived as all do.</param>
/// <param name="ChiSquare">The log-rank statistic, one degree of freedom (Mantel 1966; Peto and Peto 1972).</param>
/// <param name="P">Two-sided, from the chi-square law; good for many failures.</param>
/// <param name="Worse">
/// The chance of so many failures or more in the group if they lived as the others do: at each failure the group's share
/// of those at risk, put together exactly (a Poisson binomial law); good for few failures too.
/// </param>
/// <param name="MidP">
/// The same with half of the chance of exactly so many (Lancaster, J. Am. Stat. Assoc. 56 (1961) 223): failures are whole, so
/// <paramref name="Worse"/> lies under a bound less often than the bound says; this one as often, over many groups.
/// </param>
public sealed record LogRank(int Failed, double Expected, double ChiSquare, double P, double Worse, double MidP)
{
    public static LogRank Of(IReadOnlyCollection<Lifetime> group, IReadOnlyCollection<Lifetime> others) =>
        RiskTable.Of([.. group, .. others]).Compare(group);
}

/// <summary>At each age at which something failed: how many of all were at risk then, and how many of them failed.</summary>
public sealed class RiskTable
{
    // Ages in days, ascending.
    private readonly double[] ages;
    private readonly int[] atRisk;
    private readonly int[] failed;

    private RiskTable(double[] ages, int[] atRisk, int[] failed) =>
        (this.ages, this.atRisk, this.failed) = (ages, atRisk, failed);

    public static RiskTable Of(IReadOnlyCollection<Lifetime> all)
    {
        var days = Sorted(all);
        var failures = Sorted(all.Where(l => l.Failed));
        double[] ages = [.. failures.Distinct()];
        var (atRisk, failed) = (new int[ages.Length], new int[ages.Length]);
        var (left, f) = (0, 0);
        for (var a = 0; a < ages.Length; a++)
        {
            left = CameOutBefore(days, left, ages[a]);
            atRisk[a] = days.Length - left;
            for (var first = f; f < failures.Length && failures[f] == ages[a]; f++)
            {
                failed[a] = f + 1 - first;
            }
        }

        return new RiskTable(ages, atRisk, failed);
    }

    /// <summary>Some of them against the others.</summary>
    public LogRank Compare(IReadOnlyCollection<Lifetime> group)
    {
        var days = Sorted(group);
        var (left, expected, variance) = (0, 0.0, 0.0);
        var shares = new List<double>();
        for (var a = 0; a < ages.Length; a++)
        {
            left = CameOutBefore(days, left, ages[a]);
            var (all, deaths) = ((double)atRisk[a], failed[a]);
            var share = (days.Length - left) / all;
            expected += deaths * share;
            variance += all > 1 ? deaths * share * (1 - share) * (all - deaths) / (all - 1) : 0;
            for (var d = 0; d < deaths; d++)
            {
                shares.Add(share);
            }
        }

        var own = group.Count(l => l.Failed);
        var square = variance > 0 ? Math.Pow(own - expected, 2) / variance : 0;
        var law = PoissonBinomial.Of(shares);
        var worse = own == 0 ? 1 : law.AtLeast(own);
        return new LogRank(
            own,
            expected,
            square,
            variance > 0 ? 1 - ChiSquared.CDF(1, square) : 1,
            worse,
            (worse + law.AtLeast(own + 1)) / 2
        );
    }

    private static double[] Sorted(IEnumerable<Lifetime> lives)
    {
        double[] days = [.. lives.Select(l => l.Days)];
        Array.Sort(days);
        return days;
    }

    private static int CameOutBefore(double[] days, int from, double age)
    {
        while (from < days.Length && days[from] < age)
        {
            from++;
        }

        return from;
    }
}

/// <summary>
/// Two rates of failures, compared exactly: given all failures, those of the first are binomial (Przyborowski and Wilenski
/// 1940). The interval of the ratio is Clopper and Pearson's (1934), turned over.
/// </summary>
/// <param name="Ratio">First over second; null where the second had none.</param>
/// <param name="Low">Of the ratio.</param>
/// <param name="High">Of the ratio; infinity where the second had none.</param>
/// <param name="Worse">The chance of so many failures or more in the first if the rates were the same.</param>
public sealed record RateComparison(double? Ratio, double Low, double High, double Worse)
{
    /// <param name="failures">Of the first, 0 or more.</param>
    /// <param name="years">It served, above 0.</param>
    /// <param name="level">Of the interval, as 0.95.</param>
    public static RateComparison Of(
        int failures,
        double years,
        int otherFailures,
        double otherYears,
        double level = 0.95
    )
    {
        var all = failures + otherFailures;
        var share = years / (years + otherYears);
        var tail = (1 - level) / 2;
        var low = failures == 0 ? 0 : Beta.InvCDF(failures, otherFailures + 1, tail);
        var high = otherFailures == 0 ? 1 : Beta.InvCDF(failures + 1, otherFailures, 1 - tail);
        return new RateComparison(
            otherFailures == 0 ? null : failures / years / (otherFailures / otherYears),
            Odds(low),
            Odds(high),
            failures == 0 ? 1 : 1 - Binomial.CDF(share, all, failures - 1)
        );

        double Odds(double p) => p >= 1 ? double.PositiveInfinity : p / (1 - p) * otherYears / years;
    }
}

/// <summary>Which of many findings to believe.</summary>
public static class FalseDiscovery
{
    /// <summary>
    /// Those of which, on the average, at most a share is false (Benjamini and Hochberg 1995): the k smallest, k the last at
    /// which p lies under its rank's part of the share.
    /// </summary>
    /// <param name="chances">Each finding's p.</param>
    /// <param name="share">As 0.05.</param>
    /// <returns>The bound: what has no larger p is believed; 0 when nothing is.</returns>
    public static double Threshold(IReadOnlyCollection<double> chances, double share) =>
        chances
            .Order()
            .Select((p, i) => (p, Bound: share * (i + 1) / chances.Count))
            .Where(x => x.p <= x.Bound)
            .Select(x => x.Bound)
            .LastOrDefault();
}
