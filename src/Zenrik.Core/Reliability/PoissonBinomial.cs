using MathNet.Numerics.Distributions;

namespace Zenrik.Core.Reliability;

/// <summary>
/// How many of some things happen, each with a chance of its own: failures of a fleet's parts within a time. Exact by
/// adding one after the other, up to <see cref="ExactUpTo"/> of them; beyond, the refined normal approximation (Volkova
/// 1996; Hong, On computing the distribution function for the Poisson binomial distribution, 2013).
/// </summary>
public sealed class PoissonBinomial
{
    public const int ExactUpTo = 4000;

    /// <summary>Of the exact one: chances of 0, 1, … as far as they matter.</summary>
    private readonly double[]? mass;
    private readonly double deviation;
    private readonly double skewness;
    private readonly int count;

    private PoissonBinomial(double[]? mass, Cumulants law, int count)
    {
        (this.mass, Law, this.count) = (mass, law, count);
        deviation = Math.Sqrt(law.Variance);
        skewness = deviation == 0 ? 0 : law.Third / (deviation * law.Variance);
    }

    public Cumulants Law { get; }

    public double Mean => Law.Mean;

    /// <summary>True where it is exact, false where approximated.</summary>
    public bool IsExact => mass is not null;

    /// <param name="chances">Each from 0 to 1.</param>
    public static PoissonBinomial Of(IReadOnlyCollection<double> chances)
    {
        var law = Cumulants.Of(chances);
        return new PoissonBinomial(
            chances.Count <= ExactUpTo ? Mass(chances, law.Mean + (12 * Math.Sqrt(law.Variance)) + 20) : null,
            law,
            chances.Count
        );
    }

    /// <summary>The chances of 0, 1, … as far as they matter.</summary>
    public IEnumerable<double> Chances =>
        mass
        ?? Enumerable
            .Range(0, Math.Min(count, (int)(Mean + (8 * deviation)) + 20) + 1)
            .Select(n => Math.Max(0, AtMost(n) - AtMost(n - 1)));

    /// <summary>The chance of at most so many.</summary>
    public double AtMost(int most)
    {
        if (most < 0)
        {
            return 0;
        }

        if (mass is not null)
        {
            return Math.Min(1, mass.Take(most + 1).Sum());
        }

        if (most >= count || deviation == 0)
        {
            return most >= Mean ? 1 : 0;
        }

        var x = (most + 0.5 - Mean) / deviation;
        var refined = Normal.CDF(0, 1, x) + (skewness * (1 - (x * x)) * Normal.PDF(0, 1, x) / 6);
        return Math.Clamp(refined, 0, 1);
    }

    /// <summary>The chance of so many or more.</summary>
    public double AtLeast(int least) =>
        least <= 0 ? 1
        : mass is not null ? Math.Min(1, mass.Skip(least).Sum())
        : Math.Max(0, 1 - AtMost(least - 1));

    /// <summary>The least number that is enough with a chance of at least this: a base stock for a service level below 1.</summary>
    public int Quantile(double level)
    {
        var at = 0;
        // Begins near the mean where there are thousands; the chance of at most so many rises throughout.
        if (mass is null)
        {
            at = Math.Max(0, (int)(Mean - (6 * deviation)));
        }

        for (; at < count && AtMost(at) < level - 1e-12; at++) { }

        return at;
    }

    private static double[] Mass(IReadOnlyCollection<double> chances, double farthest)
    {
        var mass = new double[Math.Min(chances.Count, (int)farthest) + 1];
        mass[0] = 1;
        var reached = 0;
        foreach (var p in chances)
        {
            reached = Math.Min(reached + 1, mass.Length - 1);
            for (var k = reached; k >= 1; k--)
            {
                mass[k] = (mass[k] * (1 - p)) + (mass[k - 1] * p);
            }

            mass[0] *= 1 - p;
        }

        return mass;
    }
}
