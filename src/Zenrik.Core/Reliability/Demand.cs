using MathNet.Numerics.Distributions;

namespace Zenrik.Core.Reliability;

/// <summary>
/// How many of some parts that serve now will fail within a time, from each one's own age. What is not known of the law is
/// part of the answer: the laws the data allow are each asked and put together by how well they explain what was seen.
/// </summary>
public sealed class Demand
{
    private const int Grid = 13;
    private const double Widest = 3;

    private readonly IReadOnlyList<(double Weight, PoissonBinomial Count)> laws;

    private Demand(IReadOnlyList<(double, PoissonBinomial)> laws) => this.laws = laws;

    /// <summary>The expected number.</summary>
    public double Mean => laws.Sum(l => l.Weight * l.Count.Mean);

    public bool IsExact => laws.All(l => l.Count.IsExact);

    /// <summary>The chance of at most so many.</summary>
    public double AtMost(int most) => laws.Sum(l => l.Weight * l.Count.AtMost(most));

    /// <summary>The least number that is enough with a chance of at least this; for a level below 1.</summary>
    public int Quantile(double level)
    {
        var most = laws.Max(l => l.Count.Quantile(level));
        var least = laws.Min(l => l.Count.Quantile(level));
        for (; least < most && AtMost(least) < level - 1e-12; least++) { }

        return least;
    }

    /// <param name="seen">What is known of parts of their kind, dead and living.</param>
    /// <param name="ageDays">Of those that serve now and are asked for.</param>
    /// <param name="withinDays">How far ahead.</param>
    public static Demand Of(
        IReadOnlyCollection<Lifetime> seen,
        IReadOnlyCollection<double> ageDays,
        double withinDays
    ) =>
        WeibullLife.Sample.Of(seen) is { Failed: >= 3 } sample
            ? ByWear(sample, ageDays, withinDays)
            : ByChance(seen, ageDays, withinDays);

    /// <summary>
    /// A grid over the logarithms of shape and scale about the likeliest, weighed by likelihood: posterior weights under a
    /// prior that is flat in both.
    /// </summary>
    private static Demand ByWear(WeibullLife.Sample sample, IReadOnlyCollection<double> ages, double within)
    {
        var shape = sample.Shape();
        var scale = sample.Scale(shape);
        var top = sample.LogLikelihood(shape, scale);
        // Curvature by differences: how far each may lie from its best.
        var byShape = Spread(x => sample.LogLikelihood(shape * Math.Exp(x), sample.Scale(shape * Math.Exp(x))));
        var steps = Enumerable.Range(0, Grid).Select(i => Widest * ((2.0 * i / (Grid - 1)) - 1)).ToList();
        var laws = new List<(double Weight, PoissonBinomial Count)>();
        foreach (var i in steps)
        {
            var k = shape * Math.Exp(i * byShape);
            var best = sample.Scale(k);
            // For a shape, the logarithm of scale to the shape is nearly normal with the deviation 1 / √failures.
            var byScale = 1 / (k * Math.Sqrt(sample.Failed));
            foreach (var j in steps)
            {
                var s = best * Math.Exp(j * byScale);
                var weight = Math.Exp(sample.LogLikelihood(k, s) - top) * byScale;
                if (weight > 1e-6 * byScale)
                {
                    laws.Add(
                        (weight, PoissonBinomial.Of([.. ages.Select(a => WeibullLife.FailsWithin(a, within, k, s))]))
                    );
                }
            }
        }

        return Together(laws);

        double Spread(Func<double, double> log)
        {
            const double step = 0.02;
            var curvature = (log(step) - (2 * top) + log(-step)) / (step * step);
            return curvature < 0 ? 1 / Math.Sqrt(-curvature) : 0.5;
        }
    }

    /// <summary>By chance alone at a rate: Jeffreys' gamma law for the rate, at the middles of equal parts of it.</summary>
    private static Demand ByChance(IReadOnlyCollection<Lifetime> seen, IReadOnlyCollection<double> ages, double within)
    {
        const int parts = 41;
        var days = seen.Sum(l => l.Days);
        if (days <= 0)
        {
            return new Demand([(1, PoissonBinomial.Of([]))]);
        }

        var failed = seen.Count(l => l.Failed);
        return Together([
            .. Enumerable
                .Range(0, parts)
                .Select(i => Gamma.InvCDF(failed + 0.5, days, (i + 0.5) / parts))
                .Select(rate => (1.0, PoissonBinomial.Of([.. ages.Select(_ => 1 - Math.Exp(-rate * within))]))),
        ]);
    }

    private static Demand Together(List<(double Weight, PoissonBinomial Count)> laws)
    {
        var all = laws.Sum(l => l.Weight);
        return new Demand([.. laws.Select(l => (l.Weight / all, l.Count))]);
    }
}
