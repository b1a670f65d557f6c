using CsCheck;
using Zenrik.Core.Economics;
using Zenrik.Core.Reliability;

namespace Zenrik.Core.Tests.Economics;

public sealed class BudgetTests
{
    [Fact]
    public void A_year_is_the_sum_of_its_lines_and_what_has_no_price_is_named_and_left_out()
    {
        var sum = Budget.Of([
            new BudgetLine("battery", new Cumulants(10, 4), 50),
            new BudgetLine("new machine", new Cumulants(3), 400),
            new BudgetLine("hinge", new Cumulants(2, 1), null),
        ]);
        sum.Expected.ShouldBe(1700);
        // Only the batteries vary: 2 of them either way, 50 each, at 1.2816 deviations.
        (sum.High - sum.Expected).ShouldBe(128.16m, 0.01m);
        (sum.Expected - sum.Low).ShouldBe(128.16m, 0.01m);
        sum.Unpriced.Single().What.ShouldBe("hinge");
        Budget.Of([]).ShouldSatisfyAllConditions(b => b.Expected.ShouldBe(0), b => b.High.ShouldBe(0));
    }

    /// <summary>Against draws from the same lines: four years in five lie between.</summary>
    [Fact]
    public void Four_years_in_five_lie_in_the_interval() =>
        Gen.Int[1, 1000]
            .Sample(
                seed =>
                {
                    var random = new Random(seed);
                    var lines = Enumerable
                        .Range(0, 12)
                        .Select(_ =>
                            (
                                Chances: Enumerable.Range(0, 30).Select(_ => random.NextDouble() * 0.4).ToArray(),
                                Each: 20 + random.Next(80)
                            )
                        )
                        .ToList();
                    var sum = Budget.Of([
                        .. lines.Select(l =>
                        {
                            return new BudgetLine("x", Cumulants.Of(l.Chances), l.Each);
                        }),
                    ]);
                    var inside = Enumerable
                        .Range(0, 600)
                        .Count(_ =>
                        {
                            var year = lines.Sum(l => (decimal)l.Each * l.Chances.Count(p => random.NextDouble() < p));
                            return year >= sum.Low && year <= sum.High;
                        });
                    inside.ShouldBeInRange(600 * 72 / 100, 600 * 88 / 100);
                },
                iter: 20
            );
}
