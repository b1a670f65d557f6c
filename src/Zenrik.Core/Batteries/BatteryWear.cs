namespace Zenrik.Core.Batteries;

/// <summary>How a battery's health falls.</summary>
public static class BatteryWear
{
    private const double DaysAMonth = 365.25 / 12;

    /// <summary>Fewer readings, or over a shorter time, say nothing of a trend. Common practice, no published source.</summary>
    internal const int Fewest = 3;
    internal const double ShortestDays = 60;

    /// <summary>
    /// Months until health falls to a limit, by the median of the slopes between all pairs of readings (Theil 1950, Sen
    /// 1968) drawn through the medians.
    /// </summary>
    /// <param name="readings">Of one battery, by day number; health as read.</param>
    /// <param name="today">The day it is asked.</param>
    /// <param name="limit">Health at which the house exchanges.</param>
    /// <returns>0 when it is there already; null when the readings tell no trend, or none downwards.</returns>
    public static double? MonthsTo(IReadOnlyList<(DateOnly On, double Health)> readings, DateOnly today, double limit)
    {
        var points = readings.Select(r => (X: (double)r.On.DayNumber, Y: BatteryReading.Counted(r.Health))).ToList();
        if (points.Count > 0 && points.MaxBy(p => p.X).Y <= limit)
        {
            return 0;
        }

        if (points.Count < Fewest || points.Max(p => p.X) - points.Min(p => p.X) < ShortestDays)
        {
            return null;
        }

        var slopes = points
            .SelectMany((a, i) => points.Skip(i + 1).Where(b => b.X != a.X).Select(b => (b.Y - a.Y) / (b.X - a.X)))
            .Order()
            .ToList();
        var slope = Median(slopes);
        if (slope >= 0)
        {
            return null;
        }

        var level = Median([.. points.Select(p => p.Y - (slope * p.X)).Order()]);
        return Math.Max(0, (((limit - level) / slope) - today.DayNumber) / DaysAMonth);
    }

    /// <summary>
    /// Health lost a day with an interval that supposes no law of the readings' errors: the slopes between all pairs, as many
    /// from either end as Kendall's statistic allows (Sen, J. Am. Stat. Assoc. 63 (1968) 1379; its normal approximation).
    /// </summary>
    /// <param name="readings">Of one battery, by day; health as read.</param>
    /// <param name="level">Of the interval, as 0.8.</param>
    /// <returns>Null where the readings tell no trend, or too few bound one.</returns>
    public static Reliability.Estimate? Trend(IReadOnlyList<(DateOnly On, double Health)> readings, double level)
    {
        var n = readings.Count;
        if (n < Fewest || readings[^1].On.DayNumber - readings[0].On.DayNumber < ShortestDays)
        {
            return null;
        }

        var slopes = readings
            .SelectMany(
                (a, i) =>
                    readings
                        .Skip(i + 1)
                        .Where(b => b.On != a.On)
                        .Select(b =>
                            (BatteryReading.Counted(b.Health) - BatteryReading.Counted(a.Health))
                            / (b.On.DayNumber - a.On.DayNumber)
                        )
            )
            .Order()
            .ToList();
        var reach =
            MathNet.Numerics.Distributions.Normal.InvCDF(0, 1, (1 + level) / 2)
            * Math.Sqrt(n * (n - 1) * ((2 * n) + 5) / 18.0);
        var low = (int)Math.Floor((slopes.Count - reach) / 2) - 1;
        var high = slopes.Count - 1 - low;
        return low < 0 ? null : new Reliability.Estimate(Median(slopes), slopes[low], slopes[high]);
    }

    private static double Median(List<double> sorted) =>
        sorted.Count % 2 == 1
            ? sorted[sorted.Count / 2]
            : (sorted[(sorted.Count / 2) - 1] + sorted[sorted.Count / 2]) / 2;
}
