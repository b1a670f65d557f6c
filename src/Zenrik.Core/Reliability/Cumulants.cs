using MathNet.Numerics.Distributions;

namespace Zenrik.Core.Reliability;

/// <summary>
/// The first four cumulants of a number or a sum of money: enough for its quantiles where it is neither symmetric nor
/// normal. Those of independent ones add up.
/// </summary>
/// <param name="Mean">In its unit.</param>
/// <param name="Variance">0 or more.</param>
/// <param name="Third">Above 0 where much more than the mean is likelier than much less.</param>
/// <param name="Fourth">Above 0 where both ends are likelier than the normal law has them.</param>
public readonly record struct Cumulants(double Mean, double Variance = 0, double Third = 0, double Fourth = 0)
{
    /// <summary>Of how many of some things happen, each with a chance of its own.</summary>
    public static Cumulants Of(IEnumerable<double> chances)
    {
        var sum = default(Cumulants);
        foreach (var p in chances)
        {
            var v = p * (1 - p);
            sum += new Cumulants(p, v, v * (1 - (2 * p)), v * (1 - (6 * v)));
        }

        return sum;
    }

    /// <summary>Of a number by its chances of 0, 1, …</summary>
    /// <param name="mass">Together 1.</param>
    public static Cumulants OfLaw(IReadOnlyList<double> mass)
    {
        var mean = mass.Select((p, n) => p * n).Sum();
        double Central(int power) => mass.Select((p, n) => p * Math.Pow(n - mean, power)).Sum();
        var variance = Central(2);
        return new Cumulants(mean, variance, Central(3), Central(4) - (3 * variance * variance));
    }

    public static Cumulants operator +(Cumulants a, Cumulants b) =>
        new(a.Mean + b.Mean, a.Variance + b.Variance, a.Third + b.Third, a.Fourth + b.Fourth);

    public static Cumulants operator *(Cumulants of, double each) =>
        new(of.Mean * each, of.Variance * each * each, of.Third * Math.Pow(each, 3), of.Fourth * Math.Pow(each, 4));

    /// <summary>
    /// What it is at most with a chance, by the expansion of E. A. Cornish and R. A. Fisher (Revue de l'Institut
    /// International de Statistique 5 (1938) 307), to the fourth cumulant.
    /// </summary>
    /// <param name="level">Above 0 and below 1; good between 0.05 and 0.95.</param>
    public double Quantile(double level)
    {
        var deviation = Math.Sqrt(Variance);
        if (deviation == 0)
        {
            return Mean;
        }

        var z = Normal.InvCDF(0, 1, level);
        // Beyond these the expansion turns back on itself.
        var skew = Math.Clamp(Third / Math.Pow(deviation, 3), -2, 2);
        var peak = Math.Clamp(Fourth / (Variance * Variance), -2, 4);
        var at =
            z
            + (((z * z) - 1) * skew / 6)
            + (((z * z * z) - (3 * z)) * peak / 24)
            - (((2 * z * z * z) - (5 * z)) * skew * skew / 36);
        return Mean + (deviation * at);
    }
}
