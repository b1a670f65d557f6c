using MathNet.Numerics.Distributions;

namespace Zenrik.Core.Reliability;

/// <summary>
/// How many of some parts that serve now will fail within a time, from each one's own age. What is not known of the law is
/// part of the answer: the Weibull laws the data allow are each asked and put together by how well they explain what was
/// seen. For a shape k the rate, scale to the power −k, has a gamma law (conjugate, Jeffreys' prior), so its part is exact
/// and only the shape is taken from a grid (Soland, IEEE Trans. Reliability 18 (1969) 181, for the idea).
/// </summary>
public sealed class Demand
{
    /// <summary>Middles of equal parts of the rate's law.</summary>
    private const int Rates = 11;
    private const int Shapes = 49;

    /// <summary>What is known of shapes before anything was seen: between infant mortality and plain wear. Common practice, no published source.</summary>
    private static readonly (double Middle, double Deviation) LogShape = (Math.Log(1.4), 0.55);

    /// <summary>Of thousands, ages are told apart by the week.</summary>
    private const int ManyParts = 1000;

    private readonly IReadOnlyList<(double Weight, PoissonBinomial Count)> laws;

    private Demand(IReadOnlyList<(double, PoissonBinomial)> laws) => this.laws = laws;

    /// <summary>The expected number.</summary>
    public double Mean => laws.Sum(l => l.Weight * l.Count.Mean);

    /// <summary>Of the number: within each law, and between the laws that may hold.</summary>
    public double Variance => laws.Sum(l => l.Weight * (l.Count.Variance + Math.Pow(l.Count.Mean - Mean, 2)));

    public bool IsExact => laws.All(l => l.Count.IsExact);

    /// <summary>The chance of at most so many.</summary>
    public double AtMost(int most) => laws.Sum(l => l.Weight * l.Count.AtMost(most));

    /// <summary>The least number that is enough with a chance of at least this; for a level below 1.</summary>
    public int Quantile(double level)
    {
        var (least, most) = (laws.Min(l => l.Count.Quantile(level)), laws.Max(l => l.Count.Quantile(level)));
        for (; least < most && AtMost(least) < level - 1e-12; least++) { }

        return least;
    }

    /// <param name="seen">What is known of parts of their kind, dead and living.</param>
    /// <param name="ageDays">Of those that serve now and are asked for.</param>
    /// <param name="withinDays">How far ahead.</param>
    public static Demand Of(IReadOnlyCollection<Lifetime> seen, IReadOnlyCollection<double> ageDays, double withinDays)
    {
        if (ageDays.Count == 0 || seen.Count == 0)
        {
            return new Demand([(1, PoissonBinomial.Of([]))]);
        }

        // Ages, and how many have each, so that thousands cost no more than weeks.
        var ages = ageDays.Select(a => ageDays.Count > ManyParts ? Math.Round(a / 7) * 7 : a).CountBy(a => a).ToList();
        return new Demand([
            .. Laws(seen)
                .Select(law =>
                    (
                        law.Weight,
                        PoissonBinomial.Of([
                            .. ages.SelectMany(a => Enumerable.Repeat(law.FailsWithin(a.Key, withinDays), a.Value)),
                        ])
                    )
                ),
        ]);
    }

    /// <summary>The chance that one part of an age fails within a time, both in days, by all the laws that may hold.</summary>
    /// <param name="seen">As in <see cref="Of"/>; not empty.</param>
    public static Func<double, double, double> Chance(IReadOnlyCollection<Lifetime> seen)
    {
        var laws = Laws(seen);
        return (age, within) => laws.Sum(l => l.Weight * l.FailsWithin(age, within));
    }

    /// <summary>A Weibull law of time over the longest seen, and how well it explains what was seen.</summary>
    private sealed record Law(double Weight, double Rate, double Shape, double Longest)
    {
        public double FailsWithin(double age, double within) =>
            1 - Math.Exp(Rate * (Math.Pow(age / Longest, Shape) - Math.Pow((age + within) / Longest, Shape)));
    }

    /// <summary>The laws that may hold, their weights together 1.</summary>
    private static List<Law> Laws(IReadOnlyCollection<Lifetime> seen)
    {
        var longest = seen.Max(l => l.Days);
        double[] logs = [.. seen.Select(l => Math.Log(l.Days / longest))];
        var failed = seen.Count(l => l.Failed);
        var logFailed = seen.Where(l => l.Failed).Sum(l => Math.Log(l.Days / longest));
        var shapes = Enumerable
            .Range(0, Shapes)
            .Select(i => Math.Exp(LogShape.Middle + (LogShape.Deviation * 3.5 * ((2.0 * i / (Shapes - 1)) - 1))))
            .Select(k =>
            {
                var total = logs.Sum(x => Math.Exp(k * x));
                var off = (Math.Log(k) - LogShape.Middle) / LogShape.Deviation;
                return (
                    Shape: k,
                    Total: total,
                    Log: (failed * Math.Log(k)) + (k * logFailed) - ((failed + 0.5) * Math.Log(total)) - (off * off / 2)
                );
            })
            .ToList();
        var top = shapes.Max(s => s.Log);
        List<Law> laws =
        [
            .. shapes
                .Where(s => s.Log > top - 7)
                .SelectMany(s =>
                    Enumerable
                        .Range(0, Rates)
                        .Select(i => new Law(
                            Math.Exp(s.Log - top),
                            Gamma.InvCDF(failed + 0.5, s.Total, (i + 0.5) / Rates),
                            s.Shape,
                            longest
                        ))
                ),
        ];
        var all = laws.Sum(l => l.Weight);
        return laws.ConvertAll(l => l with { Weight = l.Weight / all });
    }
}
