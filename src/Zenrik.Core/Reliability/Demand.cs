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

    /// <summary>Chances of 0, 1, … as far as they matter.</summary>
    private readonly double[] mass;

    private Demand(double[] mass, bool exact)
    {
        (this.mass, IsExact) = (mass, exact);
        Law = Cumulants.OfLaw(mass);
    }

    /// <summary>Of the number: within each law, and between the laws that may hold.</summary>
    public Cumulants Law { get; }

    /// <summary>The expected number.</summary>
    public double Mean => Law.Mean;

    public bool IsExact { get; }

    /// <summary>The chance of at most so many.</summary>
    public double AtMost(int most) => Math.Min(1, mass.Take(most + 1).Sum());

    /// <summary>The least number that is enough with a chance of at least this; for a level below 1.</summary>
    public int Quantile(double level)
    {
        var (at, sum) = (0, mass[0]);
        for (; at < mass.Length - 1 && sum < level - 1e-12; sum += mass[++at]) { }

        return at;
    }

    /// <summary>What is wanted of a shelf that several serve themselves from: demands that are independent of each other.</summary>
    public static Demand Together(IEnumerable<Demand> demands) =>
        demands.Aggregate(Nothing, (all, d) => new Demand(Trimmed(Added(all.mass, d.mass)), all.IsExact && d.IsExact));

    /// <summary>
    /// What several slots want of the shelf they share, where a repair takes one part or two (a compound law): sticks and
    /// speakers are exchanged in pairs.
    /// </summary>
    /// <param name="slots">Of each what is known of its parts, and the ages in days of those that serve; as in <see cref="Of"/>.</param>
    /// <param name="inPairs">The share of repairs that take two, 0 to 1.</param>
    public static Demand OfShelf(
        IEnumerable<(IReadOnlyCollection<Lifetime> Seen, IReadOnlyCollection<double> AgeDays)> slots,
        double withinDays,
        double inPairs
    )
    {
        // Of parts that fail, in pairs or not, there are as many; so there are fewer repairs.
        var repairs = Together(slots.Select(s => Repairs(s.Seen, s.AgeDays, withinDays, 1 + inPairs)));
        return inPairs > 0 ? repairs.InPairs(inPairs) : repairs;
    }

    private Demand InPairs(double two)
    {
        var parts = new double[(2 * mass.Length) - 1];
        for (var repairs = 0; repairs < mass.Length; repairs++)
        {
            for (var pairs = 0; pairs <= repairs; pairs++)
            {
                parts[repairs + pairs] += mass[repairs] * Binomial.PMF(two, repairs, pairs);
            }
        }

        return new Demand(Trimmed(parts), IsExact);
    }

    private static Demand Nothing { get; } = new([1], true);

    private static double[] Added(double[] a, double[] b)
    {
        var sum = new double[a.Length + b.Length - 1];
        for (var i = 0; i < a.Length; i++)
        {
            for (var j = 0; j < b.Length; j++)
            {
                sum[i + j] += a[i] * b[j];
            }
        }

        return sum;
    }

    /// <summary>Without an end that hardly ever happens.</summary>
    private static double[] Trimmed(double[] mass)
    {
        const double never = 1e-13;
        var last = Array.FindLastIndex(mass, p => p > never);
        return mass[..(Math.Max(0, last) + 1)];
    }

    /// <param name="seen">What is known of parts of their kind, dead and living.</param>
    /// <param name="ageDays">Of those that serve now and are asked for.</param>
    /// <param name="withinDays">How far ahead.</param>
    public static Demand Of(
        IReadOnlyCollection<Lifetime> seen,
        IReadOnlyCollection<double> ageDays,
        double withinDays
    ) => Repairs(seen, ageDays, withinDays, 1);

    /// <param name="partsEach">Parts that a repair takes on the average, 1 or more: what is counted is repairs.</param>
    private static Demand Repairs(
        IReadOnlyCollection<Lifetime> seen,
        IReadOnlyCollection<double> ageDays,
        double withinDays,
        double partsEach
    )
    {
        // Ages, and how many have each, so that thousands cost no more than weeks.
        var ages = ageDays.Select(a => ageDays.Count > ManyParts ? Math.Round(a / 7) * 7 : a).CountBy(a => a).ToList();
        return Counted(
            seen,
            law => ages.SelectMany(a => Enumerable.Repeat(law.FailsWithin(a.Key, withinDays) / partsEach, a.Value))
        );
    }

    /// <summary>
    /// The same over a long time, to the end of each unit's own use, where what is put in can fail too.
    /// </summary>
    /// <param name="seen">As in <see cref="Of"/>.</param>
    /// <param name="parts">Of those that serve now, each part's age and how long its unit will still be used; days, not negative.</param>
    public static Demand Until(
        IReadOnlyCollection<Lifetime> seen,
        IReadOnlyCollection<(double Age, double Serves)> parts
    )
    {
        // To the month: nobody knows the end of a unit's use better.
        var alike = parts
            .Select(p => (Age: Math.Round(p.Age / Month) * Month, Serves: Math.Round(p.Serves / Month) * Month))
            .CountBy(p => p)
            .ToList();
        return Counted(
            seen,
            law =>
                alike.SelectMany(a =>
                {
                    var (chance, times) = law.Chances(a.Key.Age, a.Key.Serves);
                    return Enumerable.Repeat(chance, times * a.Value);
                })
        );
    }

    /// <param name="chances">By each law, the independent chances whose number is asked for.</param>
    private static Demand Counted(IReadOnlyCollection<Lifetime> seen, Func<WeibullLaw, IEnumerable<double>> chances)
    {
        if (seen.Count == 0)
        {
            return Nothing;
        }

        var (mass, exact) = (new List<double>(), true);
        foreach (var law in Laws(seen))
        {
            var count = PoissonBinomial.Of([.. chances(law)]);
            exact &= count.IsExact;
            foreach (var (n, chance) in count.Chances.Index())
            {
                if (n == mass.Count)
                {
                    mass.Add(0);
                }

                mass[n] += law.Weight * chance;
            }
        }

        return new Demand(Trimmed([.. mass]), exact);
    }

    private const double Month = 365.25 / 12;
    private const double Never = 1e-6;

    /// <summary>The chance that one part of an age fails within a time, both in days, by all the laws that may hold.</summary>
    /// <param name="seen">As in <see cref="Of"/>; not empty.</param>
    public static Func<double, double, double> Chance(IReadOnlyCollection<Lifetime> seen)
    {
        var laws = Laws(seen);
        return (age, within) => laws.Sum(l => l.Weight * l.FailsWithin(age, within));
    }

    /// <summary>A Weibull law of time over the longest seen, and how well it explains what was seen.</summary>
    private sealed record WeibullLaw(double Weight, double Rate, double Shape, double Longest)
    {
        public double FailsWithin(double age, double within) =>
            1 - Math.Exp(Rate * (Math.Pow(age / Longest, Shape) - Math.Pow((age + within) / Longest, Shape)));

        /// <summary>
        /// A number of equal chances, independent of each other, that together are expected to give as many failures as a
        /// part and what is put in for it, spread as nearly as whole chances can be.
        /// </summary>
        public (double Chance, int Times) Chances(double age, double within)
        {
            // When the last failure fell, a chance for each piece of the time; each stands in the middle of its piece.
            var last = Pieces(i => FailsWithin(age, within * i / Steps));
            var first = last.Sum();
            var (mean, square) = (first, first);
            var fresh = Pieces(i => FailsWithin(0, within * i / Steps));
            double[] rest =
            [
                .. Enumerable.Range(0, Steps).Select(i => FailsWithin(0, within * (Steps - i - 0.5) / Steps)),
            ];
            for (var failures = 2; ; failures++)
            {
                var again = 0.0;
                for (var i = 0; i < Steps; i++)
                {
                    again += last[i] * rest[i];
                }

                if (again < Never || failures > MostFailures)
                {
                    break;
                }

                // At least so many: the square of the number grows by 2k − 1 with each.
                (mean, square) = (mean + again, square + (((2 * failures) - 1) * again));
                last = After(last, fresh);
            }

            if (mean < Never)
            {
                return (0, 0);
            }

            // n chances of m ÷ n have the variance m(1 − m ÷ n).
            var less = mean - (square - (mean * mean));
            var least = (int)Math.Ceiling(mean - Never);
            var times = less <= mean * mean / MostFailures ? MostFailures : (int)Math.Round(mean * mean / less);
            times = Math.Max(least, times);
            return (Math.Min(1, mean / times), times);
        }

        private static double[] Pieces(Func<int, double> until)
        {
            var pieces = new double[Steps];
            var before = 0.0;
            for (var i = 0; i < Steps; i++)
            {
                var at = until(i + 1);
                pieces[i] = at - before;
                before = at;
            }

            return pieces;
        }

        /// <summary>Two middles add up to the border of two pieces: half to each.</summary>
        private static double[] After(double[] last, double[] fresh)
        {
            var next = new double[Steps];
            for (var i = 0; i < Steps; i++)
            {
                for (var j = 0; i + j < Steps; j++)
                {
                    var both = last[i] * fresh[j] / 2;
                    next[i + j] += both;
                    if (i + j + 1 < Steps)
                    {
                        next[i + j + 1] += both;
                    }
                }
            }

            return next;
        }

        /// <summary>Pieces the time is cut into.</summary>
        private const int Steps = 24;

        /// <summary>More failures of one slot than that nobody goes on repairing.</summary>
        private const int MostFailures = 12;
    }

    /// <summary>The laws that may hold, their weights together 1.</summary>
    private static List<WeibullLaw> Laws(IReadOnlyCollection<Lifetime> seen)
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
        List<WeibullLaw> laws =
        [
            .. shapes
                .Where(s => s.Log > top - 7)
                .SelectMany(s =>
                    Enumerable
                        .Range(0, Rates)
                        .Select(i => new WeibullLaw(
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
