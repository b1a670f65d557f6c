using MathNet.Numerics.Distributions;
using MathNet.Numerics.RootFinding;

namespace Zenrik.Core.Reliability;

/// <summary>A figure and the interval it lies in.</summary>
public readonly record struct Estimate(double Value, double Low, double High);

/// <summary>
/// Lifetimes as a Weibull law, by maximum likelihood where some still live (right censoring), with likelihood-ratio
/// intervals. Formulas: NIST/SEMATECH e-Handbook of Statistical Methods, 8.4.1.
/// </summary>
/// <param name="Shape">Below 1: early failures; 1: by chance; above 1: wear.</param>
/// <param name="ScaleDays">63 in 100 have failed by this age.</param>
/// <param name="LogLikelihood">Of the data, at the estimate.</param>
/// <param name="AgainstChance">
/// The chance of such data if failures came by chance alone (shape 1), from the likelihood ratio; small: they do not.
/// </param>
public sealed record WeibullLife(Estimate Shape, Estimate ScaleDays, double LogLikelihood, double AgainstChance)
{
    /// <summary>The share that lives longer than an age.</summary>
    public double Survival(double days) => Survival(days, Shape.Value, ScaleDays.Value);

    /// <summary>How such parts fail, where the shape's interval says it.</summary>
    public string Says =>
        Shape.Low > 1 ? "wears out"
        : Shape.High < 1 ? "fails early"
        : "by chance, as far as is known";

    /// <summary>The chance that a part of an age fails within some days more.</summary>
    public double FailsWithin(double ageDays, double moreDays) =>
        FailsWithin(ageDays, moreDays, Shape.Value, ScaleDays.Value);

    internal static double Survival(double days, double shape, double scale) =>
        Math.Exp(-Math.Pow(Math.Max(0, days) / scale, shape));

    internal static double FailsWithin(double age, double more, double shape, double scale) =>
        1 - Math.Exp(Math.Pow(Math.Max(0, age) / scale, shape) - Math.Pow((Math.Max(0, age) + more) / scale, shape));

    /// <summary>Fits the law; refused in words where the data do not bear one.</summary>
    /// <param name="level">Of the intervals, as 0.95.</param>
    public static Outcome<WeibullLife> Of(IReadOnlyCollection<Lifetime> lifetimes, double level = 0.95)
    {
        if (Sample.Of(lifetimes) is not { } sample)
        {
            return new Refusal(
                RefusalReason.Conflict,
                "A law of wear needs failures at two ages at least; until then only a rate can be said."
            );
        }

        var shape = sample.Shape();
        var scale = sample.Scale(shape);
        var best = sample.LogLikelihood(shape, scale);
        var fall = ChiSquared.InvCDF(1, level) / 2;
        var chance = sample.LogLikelihood(1, sample.Scale(1));
        return new WeibullLife(
            Interval(shape, k => best - sample.LogLikelihood(k, sample.Scale(k)) - fall),
            Interval(scale, s => best - sample.LogLikelihood(sample.ShapeAt(s), s) - fall),
            best,
            1 - ChiSquared.CDF(1, Math.Max(0, 2 * (best - chance)))
        );
    }

    /// <summary>Where the likelihood has fallen by so much on either side; the profile falls away from its top both ways.</summary>
    private static Estimate Interval(double top, Func<double, double> fallen)
    {
        return new Estimate(top, Side(0.8), Side(1.25));

        double Side(double step)
        {
            var (near, far) = (top, top * step);
            for (var i = 0; i < 200 && fallen(far) < 0; i++)
            {
                (near, far) = (far, far * step);
            }

            return Brent.TryFindRoot(fallen, Math.Min(near, far), Math.Max(near, far), 1e-10, 200, out var root)
                ? root
                : far;
        }
    }

    /// <summary>Lifetimes with the sums the likelihood asks for over and over. Scaled by the longest, so that powers stay finite.</summary>
    internal sealed class Sample
    {
        private readonly double[] log;
        private readonly double meanLogFailed;
        private readonly int failed;
        private readonly double longest;

        private Sample(double[] log, double meanLogFailed, int failed, double longest) =>
            (this.log, this.meanLogFailed, this.failed, this.longest) = (log, meanLogFailed, failed, longest);

        public int Failed => failed;

        /// <returns>Null where no law can be fitted.</returns>
        public static Sample? Of(IReadOnlyCollection<Lifetime> lifetimes)
        {
            var ages = lifetimes.Where(l => l.Failed).Select(l => l.Days).Distinct().Count();
            if (ages < 2)
            {
                return null;
            }

            var longest = lifetimes.Max(l => l.Days);
            return new Sample(
                [.. lifetimes.Select(l => Math.Log(l.Days / longest))],
                lifetimes.Where(l => l.Failed).Average(l => Math.Log(l.Days / longest)),
                lifetimes.Count(l => l.Failed),
                longest
            );
        }

        /// <summary>The shape that satisfies the likelihood equation, which rises with the shape throughout.</summary>
        public double Shape()
        {
            var (low, high) = (0.05, 2.0);
            while (Equation(low) > 0 && low > 1e-6)
            {
                low /= 4;
            }

            while (Equation(high) < 0 && high < 1e4)
            {
                high *= 2;
            }

            return Brent.FindRoot(Equation, low, high, 1e-12, 300);

            double Equation(double k)
            {
                var (sum, weighted) = (0.0, 0.0);
                foreach (var x in log)
                {
                    var p = Math.Exp(k * x);
                    sum += p;
                    weighted += p * x;
                }

                return (weighted / sum) - (1 / k) - meanLogFailed;
            }
        }

        /// <summary>The best scale for a shape, in days.</summary>
        public double Scale(double shape) => longest * Math.Pow(log.Sum(x => Math.Exp(shape * x)) / failed, 1 / shape);

        /// <summary>The best shape for a scale in days.</summary>
        public double ShapeAt(double scale)
        {
            var s = Math.Log(scale / longest);
            // The derivative by the shape falls throughout: the likelihood is concave in it.
            double Slope(double k) =>
                (failed / k) + (failed * (meanLogFailed - s)) - log.Sum(x => Math.Exp(k * (x - s)) * (x - s));
            var (low, high) = (1e-3, 2.0);
            while (Slope(high) > 0 && high < 1e4)
            {
                high *= 2;
            }

            return Brent.TryFindRoot(Slope, low, high, 1e-12, 300, out var root) ? root : low;
        }

        public double LogLikelihood(double shape, double scale)
        {
            var s = Math.Log(scale / longest);
            return (failed * (Math.Log(shape) - Math.Log(scale)))
                + ((shape - 1) * failed * (meanLogFailed - s))
                - log.Sum(x => Math.Exp(shape * (x - s)));
        }
    }
}
