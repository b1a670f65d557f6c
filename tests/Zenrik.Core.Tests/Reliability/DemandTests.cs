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

    private static Lifetime Lived(double days) => new(Born, Born.AddDays(Math.Max(1, (int)Math.Round(days))), true);
}
