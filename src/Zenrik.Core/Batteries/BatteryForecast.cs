using MathNet.Numerics.Distributions;

namespace Zenrik.Core.Batteries;

/// <summary>A battery and what was read of it.</summary>
/// <param name="Kind">Batteries of one kind wear alike: a part number in a model.</param>
/// <param name="Since">The day it went in, about when it was new; null when not known.</param>
/// <param name="Readings">Of this battery alone, by day; health as read.</param>
public sealed record BatterySeen(string Kind, DateOnly? Since, IReadOnlyList<(DateOnly On, double Health)> Readings);

/// <summary>How batteries of a kind wear: what is known of one before it has said much itself.</summary>
/// <param name="PerDay">Health lost a day, below 0.</param>
/// <param name="Deviation">Of that between batteries of the kind.</param>
/// <param name="Noise">Standard deviation of a reading about its battery's line.</param>
/// <param name="Batteries">How many with a trend of their own it comes from; 0: <see cref="Unknown"/>.</param>
public sealed record WearPrior(double PerDay, double Deviation, double Noise, int Batteries)
{
    /// <summary>Fewer tell more of themselves than of their kind.</summary>
    public const int Fewest = 3;

    private const double LeastNoise = 0.004;
    private const double LeastDeviation = 0.00002;

    /// <summary>
    /// At the limit of 60 % after two to five years. Common practice, no published source.
    /// </summary>
    public static WearPrior Unknown { get; } = new(-0.000_35, 0.000_12, 0.015, 0);

    /// <summary>
    /// The mean wear of batteries that have a trend, each weighed by how well it is known, and how much they differ beyond
    /// that (DerSimonian and Laird 1986).
    /// </summary>
    /// <param name="otherwise">Answers where too few have a trend.</param>
    public static WearPrior Of(IEnumerable<BatterySeen> batteries, WearPrior otherwise)
    {
        var trends = batteries
            .Select(b => Trend(b.Readings))
            .OfType<(double Slope, double Spread, double[] Off)>()
            .ToList();
        if (trends.Count < Fewest)
        {
            return otherwise;
        }

        var noise = Math.Max(LeastNoise, NoiseOf(trends));
        var weights = trends.ConvertAll(t => Math.Pow(t.Spread / noise, 2));
        var mean = trends.Zip(weights, (t, w) => t.Slope * w).Sum() / weights.Sum();
        var q = trends.Zip(weights, (t, w) => w * Math.Pow(t.Slope - mean, 2)).Sum();
        var c = weights.Sum() - (weights.Sum(w => w * w) / weights.Sum());
        var between = c > 0 ? Math.Max(0, (q - (trends.Count - 1)) / c) : 0;
        var again = trends.ConvertAll(t => 1 / (between + Math.Pow(noise / t.Spread, 2)));
        var perDay = trends.Zip(again, (t, w) => t.Slope * w).Sum() / again.Sum();
        return new WearPrior(
            Math.Min(perDay, -0.000_01),
            // The mean itself is not known better than so many batteries tell.
            Math.Max(LeastDeviation, Math.Sqrt(between + (1 / again.Sum()))),
            noise,
            trends.Count
        );
    }

    /// <summary>Slope by least squares, √Σ(x − mean)², and how far each reading lies off; null where it has no trend.</summary>
    private static (double Slope, double Spread, double[] Off)? Trend(
        IReadOnlyList<(DateOnly On, double Health)> readings
    )
    {
        if (
            readings.Count < BatteryWear.Fewest
            || readings[^1].On.DayNumber - readings[0].On.DayNumber < BatteryWear.ShortestDays
        )
        {
            return null;
        }

        var x = readings.Select(r => (double)r.On.DayNumber).ToList();
        var y = readings.Select(r => BatteryReading.Counted(r.Health)).ToList();
        var (mx, my) = (x.Average(), y.Average());
        var squares = x.Sum(v => (v - mx) * (v - mx));
        var slope = x.Zip(y, (a, b) => (a - mx) * (b - my)).Sum() / squares;
        return (slope, Math.Sqrt(squares), [.. x.Zip(y, (a, b) => b - my - (slope * (a - mx)))]);
    }

    /// <summary>Pooled over the batteries, without what lies far off, so that a wild reading says nothing.</summary>
    private static double NoiseOf(List<(double Slope, double Spread, double[] Off)> trends)
    {
        // A line through n points takes two of them: the rest are as many too close to it.
        var off = trends
            .SelectMany(t => t.Off.Select(o => Math.Abs(o) * Math.Sqrt(t.Off.Length / Math.Max(1.0, t.Off.Length - 2))))
            .Order()
            .ToList();
        // Scaled to a normal law's deviation; what lies within two and a half of it, 0.947 of a normal law's, gives the rest.
        var cut = 2.5 * 1.4826 * off[off.Count / 2];
        return Math.Sqrt(off.TakeWhile(o => o <= cut).Average(o => o * o)) / 0.947;
    }
}

/// <summary>
/// When a battery comes to a limit. Its own readings and what is known of its kind are put together: a line whose slope is
/// drawn towards the kind's the less there are of them (Bayesian linear regression with a normal prior, as in Gelman et al.,
/// Bayesian Data Analysis, chapter 14), and the chance of being under the limit on a day from the line's own uncertainty.
/// </summary>
public sealed class BatteryForecast
{
    /// <summary>Nothing is said of a day farther off.</summary>
    public const int FarthestYears = 12;

    /// <summary>A chance above this calls a battery due.</summary>
    public const double Likely = 0.5;

    /// <summary>A new one is not quite at 100 %, nor is the day it went in quite the day it was made.</summary>
    private const double NewDeviation = 0.03;

    /// <summary>What a line has not: a bend. So much of what is lost until then may be lost more or less.</summary>
    private const double Wander = 0.03;

    private readonly double middle;
    private readonly double level;
    private readonly double slope;
    private readonly (double Level, double Both, double Slope) covariance;
    private readonly double lastSeen;
    private readonly DateOnly today;
    private readonly double limit;

    private BatteryForecast(
        double middle,
        double level,
        double slope,
        (double, double, double) covariance,
        double lastSeen,
        DateOnly today,
        double limit
    )
    {
        (this.middle, this.level, this.slope, this.covariance, this.lastSeen, this.today, this.limit) = (
            middle,
            level,
            slope,
            covariance,
            lastSeen,
            today,
            limit
        );
        Due = Reached(Likely);
    }

    /// <summary>Health as it is likely today, 0 to 1.</summary>
    public double Now => Math.Clamp(At(today.DayNumber), 0, 1);

    /// <summary>Health lost a day, below 0 for one that wears.</summary>
    public double PerDay => slope;

    /// <summary>The day it is as likely under the limit as not; null: not within <see cref="FarthestYears"/>.</summary>
    public DateOnly? Due { get; }

    /// <summary>True for one that is more likely under the limit today than not.</summary>
    public bool IsDue => UnderBy(today) > Likely;

    /// <summary>One in ten is under the limit before.</summary>
    public DateOnly? Earliest => Reached(0.1);

    /// <summary>Nine in ten are under the limit by then.</summary>
    public DateOnly? Latest => Reached(0.9);

    /// <param name="battery">Its readings; without any nothing is said.</param>
    /// <param name="prior">Of its kind.</param>
    /// <param name="today">The day of the question.</param>
    /// <param name="limit">Health at which the house exchanges, above 0 and below 1.</param>
    /// <returns>Null without a reading.</returns>
    public static BatteryForecast? Of(BatterySeen battery, WearPrior prior, DateOnly today, double limit)
    {
        if (battery.Readings.Count == 0)
        {
            return null;
        }

        var x = battery.Readings.Select(r => (double)r.On.DayNumber).ToArray();
        var y = battery.Readings.Select(r => BatteryReading.Counted(r.Health)).ToArray();
        var middle = x.Average();
        var trust = Enumerable.Repeat(1.0, x.Length).ToArray();
        var (level, slope, covariance) = (0.0, prior.PerDay, (0.0, 0.0, 0.0));
        // A reading far off its own line counts less, and is asked again (Huber 1964).
        for (var round = 0; round < (x.Length > 2 ? 6 : 1); round++)
        {
            (level, slope, covariance) = Fit(battery, prior, x, y, trust, middle);
            for (var i = 0; i < x.Length; i++)
            {
                var off = Math.Abs(y[i] - level - (slope * (x[i] - middle))) / prior.Noise;
                trust[i] = off <= 2.5 ? 1 : 2.5 / off;
            }
        }

        return new BatteryForecast(middle, level, slope, covariance, x[^1], today, limit);
    }

    private static (double Level, double Slope, (double, double, double) Covariance) Fit(
        BatterySeen battery,
        WearPrior prior,
        double[] x,
        double[] y,
        double[] trust,
        double middle
    )
    {
        // Precision matrix and right-hand side for (level at the middle, slope).
        var own = 1 / (prior.Noise * prior.Noise);
        var kind = 1 / (prior.Deviation * prior.Deviation);
        var (a, b, c, u, v) = (0.0, 0.0, kind, 0.0, kind * prior.PerDay);
        void Add(double at, double health, double precision)
        {
            var d = at - middle;
            a += precision;
            b += precision * d;
            c += precision * d * d;
            u += precision * health;
            v += precision * d * health;
        }

        for (var i = 0; i < x.Length; i++)
        {
            Add(x[i], y[i], own * trust[i]);
        }

        if (battery.Since is { } since && since.DayNumber <= x[0])
        {
            Add(since.DayNumber, 1, 1 / (NewDeviation * NewDeviation));
        }

        var determinant = (a * c) - (b * b);
        return (
            ((c * u) - (b * v)) / determinant,
            ((a * v) - (b * u)) / determinant,
            (c / determinant, -b / determinant, a / determinant)
        );
    }

    /// <summary>The chance that it is under the limit on a day, 0 to 1.</summary>
    public double UnderBy(DateOnly day) => Under(day.DayNumber);

    private double Under(double day)
    {
        var d = day - middle;
        var ahead = Math.Max(0, day - lastSeen);
        var bend = Wander * slope * ahead;
        var variance = covariance.Level + (2 * d * covariance.Both) + (d * d * covariance.Slope) + (bend * bend);
        return Normal.CDF(0, 1, (limit - At(day)) / Math.Sqrt(variance));
    }

    private double At(double day) => level + (slope * (day - middle));

    private DateOnly? Reached(double chance)
    {
        var (low, high) = (today.DayNumber - (365 * 5), today.DayNumber + (365 * FarthestYears));
        if (Under(high) < chance)
        {
            return null;
        }

        while (low < high)
        {
            var half = low + ((high - low) / 2);
            (low, high) = Under(half) >= chance ? (low, half) : (half + 1, high);
        }

        return DateOnly.FromDayNumber(low);
    }
}
