using Zenrik.Core.Batteries;

namespace Zenrik.Core.Tests.Batteries;

/// <summary>Batteries with a known wear: what is forecast is held against when they really come to the limit.</summary>
public sealed class BatteryForecastTests
{
    private const double Limit = 0.6;
    private static readonly DateOnly Today = new(2026, 11, 27);

    private static (BatterySeen Seen, DateOnly Truth) Battery(Random random, int readings)
    {
        var fade = 0.00026 + (0.0002 * random.NextDouble());
        var began = Today.AddDays(-random.Next(200, 800));
        return (
            new BatterySeen(
                "B-1",
                random.Next(3) == 0 ? null : began,
                [
                    .. Enumerable
                        .Range(1, readings)
                        .Select(i => began.AddDays((Today.DayNumber - began.DayNumber) * i / readings))
                        .Select(on =>
                            (
                                on,
                                1.01 - (fade * (on.DayNumber - began.DayNumber)) + ((random.NextDouble() - 0.5) * 0.03)
                            )
                        ),
                ]
            ),
            began.AddDays((int)Math.Ceiling((1.01 - Limit) / fade))
        );
    }

    [Theory]
    [InlineData(1)]
    [InlineData(3)]
    [InlineData(8)]
    public void Four_days_of_five_lie_in_the_interval_whether_much_was_read_or_little(int readings)
    {
        var random = new Random(readings);
        var kind = WearPrior.Of(Enumerable.Range(0, 60).Select(_ => Battery(random, 6).Seen), WearPrior.Unknown);
        kind.Batteries.ShouldBe(60);
        kind.PerDay.ShouldBe(-0.00036, 0.00003);
        var all = Enumerable.Range(0, 800).Select(_ => Battery(random, readings)).ToList();
        var (inside, width) = (0, 0.0);
        foreach (var (seen, truth) in all)
        {
            var forecast = BatteryForecast.Of(seen, kind, Today, Limit)!;
            var (early, late) = (forecast.Earliest!.Value, forecast.Latest ?? DateOnly.MaxValue);
            inside += truth >= early && truth <= late ? 1 : 0;
            width += late.DayNumber - early.DayNumber;
        }

        (inside / 800.0).ShouldBeInRange(0.74, 0.88);
        (width / 800).ShouldBeLessThan(readings == 1 ? 500 : 350, "an interval that says something");
    }

    [Fact]
    public void More_readings_narrow_it_and_a_wild_one_does_not_move_it()
    {
        var random = new Random(5);
        var kind = WearPrior.Of(Enumerable.Range(0, 60).Select(_ => Battery(random, 6).Seen), WearPrior.Unknown);
        var (seen, _) = Battery(random, 9);
        var much = BatteryForecast.Of(seen, kind, Today, Limit)!;
        var little = BatteryForecast.Of(
            seen with
            {
                Readings = [seen.Readings[^1]],
                Since = null,
            },
            kind,
            Today,
            Limit
        )!;
        Width(much).ShouldBeLessThan(Width(little));

        var wild = seen.Readings.ToList();
        wild[4] = (wild[4].On, 0.1);
        var moved = BatteryForecast.Of(seen with { Readings = wild }, kind, Today, Limit)!;
        Math.Abs(moved.Due!.Value.DayNumber - much.Due!.Value.DayNumber).ShouldBeLessThan(60);

        static int Width(BatteryForecast f) => f.Latest!.Value.DayNumber - f.Earliest!.Value.DayNumber;
    }

    [Fact]
    public void Nothing_read_says_nothing_one_under_the_limit_is_due_and_readings_that_rise_are_no_wear_of_their_own()
    {
        BatteryForecast.Of(new BatterySeen("B", null, []), WearPrior.Unknown, Today, Limit).ShouldBeNull();
        var worn = BatteryForecast.Of(
            new BatterySeen("B", null, [(Today.AddDays(-10), 0.4)]),
            WearPrior.Unknown,
            Today,
            Limit
        )!;
        worn.Due!.Value.ShouldBeLessThan(Today);
        worn.UnderBy(Today).ShouldBeGreaterThan(0.99);
        (DateOnly, double)[] rising =
        [
            .. Enumerable.Range(0, 5).Select(i => (Today.AddDays(-100 + (20 * i)), 0.80 + (0.01 * i))),
        ];
        var rises = BatteryForecast.Of(new BatterySeen("B", null, rising), WearPrior.Unknown, Today, Limit)!;
        rises.Now.ShouldBeInRange(0.75, 0.9);
        (rises.Due is null || rises.Due > Today.AddDays(200)).ShouldBeTrue(
            "a gauge that learns is not a battery that heals"
        );
        WearPrior.Of([], WearPrior.Unknown).ShouldBe(WearPrior.Unknown);
    }

    /// <summary>Errors of any law: the interval covers the true slope at least as often as it says.</summary>
    [Fact]
    public void The_interval_that_supposes_no_law_covers_the_slope_under_errors_with_long_tails()
    {
        var random = new Random(11);
        var (inside, asked) = (0, 0);
        for (var i = 0; i < 1500; i++)
        {
            var readings = Enumerable
                .Range(0, 12)
                .Select(k =>
                {
                    // Student's t with two degrees of freedom: no variance at all.
                    var error = 0.004 * Gauss() / Math.Sqrt(-Math.Log(1 - random.NextDouble()));
                    return (Today.AddDays(-1000 + (80 * k)), 0.95 - (0.0003 * 80 * k) + error);
                })
                .ToList();
            if (BatteryWear.Trend(readings, 0.8) is { } trend)
            {
                asked++;
                inside += trend.Low <= -0.0003 && -0.0003 <= trend.High ? 1 : 0;
            }
        }

        ((double)inside / asked).ShouldBeInRange(0.77, 0.86);

        double Gauss() =>
            Math.Sqrt(-2 * Math.Log(1 - random.NextDouble())) * Math.Cos(2 * Math.PI * random.NextDouble());
    }

    [Fact]
    public void A_calendar_adds_up_and_needs_name_who_is_due()
    {
        var random = new Random(3);
        var kind = WearPrior.Of(Enumerable.Range(0, 60).Select(_ => Battery(random, 6).Seen), WearPrior.Unknown);
        FleetBattery[] fleet =
        [
            .. Enumerable
                .Range(0, 80)
                .Select(i => new FleetBattery(
                    $"SK-{i:00000}",
                    i % 2 == 0 ? "North" : "South",
                    "m",
                    "M",
                    "B-1",
                    42,
                    BatteryForecast.Of(Battery(random, 5).Seen, kind, Today, Limit)!
                )),
        ];
        var months = BatteryCalendar.Months(fleet, Today, 60);
        var end = new DateOnly(2026, 11, 1).AddMonths(60);
        months.Sum(m => m.Count.Expected).ShouldBe(fleet.Sum(b => b.Forecast.UnderBy(end)), 1e-6);
        var needs = BatteryCalendar.Needs(fleet, Today.AddDays(365), 0.95);
        needs.Select(n => n.Site).ShouldBe(["North", "South"], ignoreOrder: true);
        needs.ShouldAllBe(n =>
            n.Enough >= n.Count.Expected && n.Count.Low <= n.Count.Expected && n.Count.Expected <= n.Count.High
        );
        needs
            .SelectMany(n => n.Due)
            .ShouldBe(fleet.Where(b => b.Forecast.Due <= Today.AddDays(365)).Select(b => b.Tag), ignoreOrder: true);
        BatteryCalendar.Needs([], Today, 0.95).ShouldBeEmpty();
    }
}
