using Zenrik.Core.Reliability;

namespace Zenrik.Core.Batteries;

/// <summary>A battery of the fleet with where it is and when it is due.</summary>
/// <param name="Tag">The unit it is in.</param>
/// <param name="Number">Its part number; null when not known.</param>
/// <param name="Wh">Energy it was made for; null when not known.</param>
public sealed record FleetBattery(
    string Tag,
    string Site,
    string ModelCode,
    string Model,
    string? Number,
    double? Wh,
    BatteryForecast Forecast
);

/// <summary>How many come under the limit within a time.</summary>
/// <param name="Expected">On the average.</param>
/// <param name="Low">In one case of ten fewer.</param>
/// <param name="High">In one case of ten more.</param>
public sealed record BatteryCount(double Expected, int Low, int High)
{
    internal static BatteryCount Of(PoissonBinomial law) => new(law.Mean, law.Quantile(0.1), law.Quantile(0.9));
}

/// <summary>Batteries of one number at one site that are due by a day.</summary>
/// <param name="Due">Tags of those more likely under the limit by then than not, the surest first.</param>
/// <param name="Enough">How many new ones are enough with the wanted chance.</param>
public sealed record BatteryNeed(
    string Site,
    string Model,
    string? Number,
    double? Wh,
    BatteryCount Count,
    IReadOnlyList<string> Due,
    int Enough
);

/// <summary>When the fleet's batteries come due.</summary>
public static class BatteryCalendar
{
    /// <summary>Above this a battery is not carried by air without the carrier's word. IATA Dangerous Goods Regulations, UN 3481, from memory.</summary>
    public const double AirLimitWh = 100;

    /// <summary>How many come under the limit in each month; those under it already stand in the first.</summary>
    public static IReadOnlyList<(DateOnly Month, BatteryCount Count)> Months(
        IReadOnlyCollection<FleetBattery> batteries,
        DateOnly today,
        int months
    ) =>
        [
            .. Enumerable
                .Range(0, months)
                .Select(i => new DateOnly(today.Year, today.Month, 1).AddMonths(i))
                .Select(
                    (month, i) =>
                        (
                            month,
                            BatteryCount.Of(
                                PoissonBinomial.Of([
                                    .. batteries
                                        .Select(b =>
                                            b.Forecast.UnderBy(month.AddMonths(1))
                                            - (i == 0 ? 0 : b.Forecast.UnderBy(month))
                                        )
                                        .Select(p => Math.Clamp(p, 0, 1)),
                                ])
                            )
                        )
                ),
        ];

    /// <summary>What is needed by a day, by site and number, the most first; a group of which none is likely due is left out.</summary>
    /// <param name="enough">With which chance there should be enough, below 1.</param>
    public static IReadOnlyList<BatteryNeed> Needs(IEnumerable<FleetBattery> batteries, DateOnly by, double enough) =>
        [
            .. batteries
                .GroupBy(b => (b.Site, b.Model, b.Number, b.Wh))
                .Select(g =>
                {
                    var chances = g.Select(b => (b.Tag, Chance: b.Forecast.UnderBy(by))).ToList();
                    var law = PoissonBinomial.Of([.. chances.Select(c => c.Chance)]);
                    return new BatteryNeed(
                        g.Key.Site,
                        g.Key.Model,
                        g.Key.Number,
                        g.Key.Wh,
                        BatteryCount.Of(law),
                        [
                            .. chances
                                .Where(c => c.Chance > BatteryForecast.Likely)
                                .OrderByDescending(c => c.Chance)
                                .ThenBy(c => c.Tag, StringComparer.Ordinal)
                                .Select(c => c.Tag),
                        ],
                        law.Quantile(enough)
                    );
                })
                .Where(n => n.Count.Expected >= 0.5)
                .OrderByDescending(n => n.Count.Expected)
                .ThenBy(n => n.Site, StringComparer.Ordinal)
                .ThenBy(n => n.Model, StringComparer.Ordinal),
        ];
}
