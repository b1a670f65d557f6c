using Zenrik.Core.Reliability;

namespace Zenrik.Core.Tests.Reliability;

public sealed class DemandTests
{
    private static readonly DateOnly Born = new(2020, 1, 1);

    /// <summary>Against fleets that live through it: units with a part of their own age, exchanged each time it fails.</summary>
    [Theory]
    [InlineData(2.5, 1000)]
    [InlineData(1.0, 1500)]
    [InlineData(4.0, 700)]
    public void To_the_end_of_use_as_many_fail_as_in_fleets_that_live_through_it(double shape, double scale)
    {
        var random = new Random(41);
        double Draw(double age) =>
            (scale * Math.Pow(Math.Pow(age / scale, shape) - Math.Log(1 - random.NextDouble()), 1 / shape)) - age;
        // So many seen that the law is known; what is tested is the counting.
        List<Lifetime> seen = [.. Enumerable.Range(0, 6000).Select(_ => Lived(Draw(0)))];
        List<(double Age, double Serves)> parts =
        [
            .. Enumerable.Range(0, 200).Select(_ => (random.NextDouble() * 700, random.NextDouble() * 1400)),
        ];
        var counts = Enumerable
            .Range(0, 8000)
            .Select(_ =>
                parts.Sum(p =>
                {
                    var (failed, at) = (0, Draw(p.Age));
                    for (; at < p.Serves; at += Draw(0))
                    {
                        failed++;
                    }

                    return failed;
                })
            )
            .Order()
            .ToList();

        var demand = Demand.Until(seen, parts);

        demand.Mean.ShouldBe(counts.Average(), 0.02 * counts.Average());
        foreach (var level in (double[])[0.1, 0.5, 0.9, 0.95])
        {
            ((double)demand.Quantile(level)).ShouldBe(counts[(int)(level * counts.Count)], 0.03 * counts.Average());
        }
    }

    [Fact]
    public void Over_a_short_time_it_is_what_fails_within_it_and_over_none_nothing()
    {
        var random = new Random(42);
        List<Lifetime> seen = [.. Enumerable.Range(0, 60).Select(i => Lived(200 + (900 * random.NextDouble())))];
        List<double> ages =
        [
            .. Enumerable.Range(0, 40).Select(_ => Math.Round(random.NextDouble() * 20) * 365.25 / 12),
        ];

        var month = 365.25 / 12;
        Demand.Until(seen, ages.ConvertAll(a => (a, month))).Mean.ShouldBe(Demand.Of(seen, ages, month).Mean, 0.02);
        Demand.Until(seen, ages.ConvertAll(a => (a, 0.0))).Quantile(0.99).ShouldBe(0);
        Demand.Until(seen, []).Mean.ShouldBe(0);
        Demand.Until([], [(10, 100)]).Mean.ShouldBe(0);
    }

    /// <summary>Against fleets of machines with two sticks that are exchanged both, or one, at each repair.</summary>
    [Fact]
    public void Of_parts_exchanged_in_pairs_more_must_lie_ready_than_of_as_many_that_fail_alone()
    {
        const double chance = 0.02,
            both = 0.6;
        var random = new Random(43);
        List<int> came =
        [
            .. Enumerable
                .Range(0, 40_000)
                .Select(_ =>
                    Enumerable
                        .Range(0, 100)
                        .Sum(_ =>
                            random.NextDouble() >= chance ? 0
                            : random.NextDouble() < both ? 2
                            : 1
                        )
                )
                .Order(),
        ];
        // So long and so many seen, none of them older than another, that the law is known: chances of 2 of 100 a month.
        List<Lifetime> seen =
        [
            .. Enumerable.Range(0, 20_000).Select(_ => Lived(-1500 * Math.Log(1 - random.NextDouble()))),
        ];
        var month = -1500 * Math.Log(1 - (chance * (1 + both)));
        List<double> ages = [.. Enumerable.Repeat(400.0, 100)];
        var alone = Demand.Of(seen, ages, month);
        var pairs = Demand.OfShelf([(seen, ages)], month, both);

        pairs.Mean.ShouldBe(alone.Mean, 1e-9);
        pairs.Mean.ShouldBe(came.Average(), 0.03 * came.Average());
        ((double)pairs.Quantile(0.95)).ShouldBe(came[(int)(0.95 * came.Count)], 1.01);
        pairs.Law.Variance.ShouldBeGreaterThan(1.2 * alone.Law.Variance);
        pairs.Quantile(0.99).ShouldBeGreaterThan(alone.Quantile(0.99));
    }

    [Fact]
    public void A_shelf_that_several_slots_share_needs_less_than_the_sum_of_what_each_needs_alone()
    {
        var random = new Random(44);
        List<Lifetime> seen = [.. Enumerable.Range(0, 60).Select(_ => Lived(200 + (900 * random.NextDouble())))];
        var slots = Enumerable
            .Range(0, 4)
            .Select(i => Demand.Of(seen, [.. Enumerable.Repeat(300.0 + i, 30)], 60))
            .ToList();
        var shared = Demand.Together(slots);
        shared.Mean.ShouldBe(slots.Sum(s => s.Mean), 1e-9);
        shared.Law.Variance.ShouldBe(slots.Sum(s => s.Law.Variance), 1e-6);
        shared.Quantile(0.95).ShouldBeInRange((int)shared.Mean, slots.Sum(s => s.Quantile(0.95)) - 1);
        Demand.Together([]).Quantile(0.99).ShouldBe(0);
    }

    [Fact]
    public void Slots_are_of_one_shelf_that_share_a_number_directly_or_by_others()
    {
        (string Slot, string[] Numbers)[] slots =
        [
            ("a", ["1"]),
            ("b", ["2"]),
            ("c", ["3"]),
            ("d", ["3", "1"]),
            ("e", []),
        ];
        SharedShelf
            .Of(slots, s => s.Numbers)
            .Select(g => string.Concat(g.Select(s => s.Slot)))
            .ShouldBe(["acd", "b", "e"]);
        var day = new DateOnly(2026, 11, 1);
        SharedShelf.InPairs([("u", day), ("u", day), ("v", day), ("u", day.AddDays(9))]).ShouldBe(1 / 3.0, 1e-12);
        SharedShelf.InPairs([]).ShouldBe(0);
    }

    private static Lifetime Lived(double days) => new(Born, Born.AddDays(Math.Max(1, (int)Math.Round(days))), true);
}
