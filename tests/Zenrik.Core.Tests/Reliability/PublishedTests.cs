using CsCheck;
using Zenrik.Core.Reliability;

namespace Zenrik.Core.Tests.Reliability;

/// <summary>Against worked examples that were published, and against brute force where everything can be counted.</summary>
public sealed class PublishedTests
{
    private static readonly DateOnly Start = new(2020, 1, 1);

    private static List<Lifetime> Lives(string text) =>
        [
            .. text.Split(' ')
                .Select(t => new Lifetime(
                    Start,
                    Start.AddDays(int.Parse(t.TrimEnd('+'), System.Globalization.CultureInfo.InvariantCulture)),
                    !t.EndsWith('+')
                )),
        ];

    // Weeks in remission, Freireich et al., Blood 21 (1963) 699; "+" still in remission.
    private static readonly List<Lifetime> Treated = Lives(
        "6 6 6 6+ 7 9+ 10 10+ 11+ 13 16 17+ 19+ 20+ 22 23 25+ 32+ 32+ 34+ 35+"
    );

    private static readonly List<Lifetime> Placebo = Lives("1 1 2 2 3 4 4 5 5 8 8 8 8 11 11 12 12 15 17 22 23");

    /// <summary>What is taken together in a few spans says the same of who failed, and ends where the whole does.</summary>
    [Fact]
    public void A_curve_in_spans_counts_every_failure_once_and_stands_where_the_whole_stands() =>
        Gen.Select(Gen.Select(Gen.Int[0, 900], Gen.Bool).List[1, 120], Gen.Int[1, 40])
            .Sample(
                (lives, most) =>
                {
                    var curve = SurvivalCurve.Of(
                        lives.ConvertAll(l => new Lifetime(Start, Start.AddDays(l.Item1), l.Item2))
                    );
                    var spans = curve.InSpans(most);
                    Assert.True(spans.Count <= most);
                    Assert.Equal(curve.Points.Sum(p => p.Failed), spans.Sum(p => p.Failed));
                    Assert.All(
                        spans.Index(),
                        s =>
                        {
                            Assert.Equal(curve.At(s.Item.Days), s.Item.Survival);
                            var (after, to) = (s.Index == 0 ? -1 : spans[s.Index - 1].Days, s.Item.Days);
                            var within = curve.Points.Where(p => p.Days > after && p.Days <= to).ToList();
                            Assert.Equal(within.Sum(p => p.Failed), s.Item.Failed);
                            Assert.Equal(within[0].AtRisk, s.Item.AtRisk);
                        }
                    );
                    Assert.Equal(
                        curve.Points.Select(p => p.Days).LastOrDefault(),
                        spans.Select(p => p.Days).LastOrDefault()
                    );
                },
                iter: 400
            );

    /// <summary>The table of these data in textbooks (Kalbfleisch and Prentice 1980; Collett 1994), from memory.</summary>
    [Fact]
    public void The_remission_data_give_the_textbooks_curve_and_intervals()
    {
        var curve = SurvivalCurve.Of(Treated);
        (double Week, int AtRisk, double S, double Low, double High)[] table =
        [
            (6, 21, 0.857, 0.620, 0.952),
            (7, 17, 0.807, 0.563, 0.923),
            (10, 15, 0.753, 0.503, 0.889),
            (13, 12, 0.690, 0.432, 0.849),
            (16, 11, 0.627, 0.368, 0.805),
            (22, 7, 0.538, 0.268, 0.747),
            (23, 6, 0.448, 0.188, 0.680),
        ];
        curve.Points.Count.ShouldBe(table.Length);
        foreach (var (point, row) in curve.Points.Zip(table))
        {
            (point.Days, point.AtRisk).ShouldBe((row.Week, row.AtRisk));
            point.Survival.ShouldBe(row.S, 0.0006);
            point.Low.ShouldBe(row.Low, 0.0006);
            point.High.ShouldBe(row.High, 0.0006);
        }

        curve.Median.ShouldBe(23);
        SurvivalCurve.Of(Placebo).Median.ShouldBe(8);
        SurvivalCurve.Of(Placebo).At(23).ShouldBe(0, 1e-12);
    }

    /// <summary>Log-rank of the same data: 16.79, 9 seen where 19.25 were expected.</summary>
    [Fact]
    public void The_remission_data_give_the_textbooks_log_rank()
    {
        var test = LogRank.Of(Treated, Placebo);
        (test.Failed, LogRank.Of(Placebo, Treated).Failed).ShouldBe((9, 21));
        test.Expected.ShouldBe(19.25, 0.005);
        test.ChiSquare.ShouldBe(16.79, 0.005);
        test.P.ShouldBe(0.0000417, 0.000002);
        LogRank.Of(Placebo, Treated).Worse.ShouldBeLessThan(0.0002);
        test.Worse.ShouldBeGreaterThan(0.9999);
    }

    /// <summary>NIST/SEMATECH e-Handbook 8.4.1.2: 20 units, 10 failures by 500 hours; shape 1.7208, scale 606.5280.</summary>
    [Fact]
    public void The_handbooks_censored_test_gives_its_weibull()
    {
        var lives = Lives("54 187 216 240 244 335 361 373 375 386")
            .Concat(Enumerable.Repeat(Lives("500+")[0], 10))
            .ToList();
        var fit = WeibullLife.Of(lives).Value;
        fit.Shape.Value.ShouldBe(1.7208, 0.00005);
        fit.ScaleDays.Value.ShouldBe(606.5280, 0.005);
        fit.LogLikelihood.ShouldBe(-75.135, 0.001);
        // The interval is where twice the fall of the likelihood is the chi-square's 95 %: asked again at its ends.
        foreach (var shape in new[] { fit.Shape.Low, fit.Shape.High })
        {
            var scale = Math.Pow(lives.Sum(l => Math.Pow(l.Days, shape)) / 10, 1 / shape);
            (2 * (fit.LogLikelihood - LogLikelihood(lives, shape, scale))).ShouldBe(3.8415, 0.001);
        }

        foreach (var scale in new[] { fit.ScaleDays.Low, fit.ScaleDays.High })
        {
            // The best shape for that scale by trying: a fine walk, not the way the program finds it.
            var best = Enumerable.Range(1, 60000).Max(i => LogLikelihood(lives, i / 10000.0, scale));
            (2 * (fit.LogLikelihood - best)).ShouldBe(3.8415, 0.001);
        }

        // The same handbook's exponential: ten failures in the total time on test.
        var rate = 10 / lives.Sum(l => l.Days);
        var byChance = lives.Sum(l => (l.Failed ? Math.Log(rate) : 0) - (rate * l.Days));
        fit.AgainstChance.ShouldBe(
            1 - MathNet.Numerics.Distributions.ChiSquared.CDF(1, 2 * (fit.LogLikelihood - byChance)),
            1e-9
        );
    }

    private static double LogLikelihood(IEnumerable<Lifetime> lives, double shape, double scale) =>
        lives.Sum(l =>
            (l.Failed ? Math.Log(shape / scale) + ((shape - 1) * Math.Log(l.Days / scale)) : 0)
            - Math.Pow(l.Days / scale, shape)
        );

    /// <summary>Benjamini and Hochberg, J. R. Statist. Soc. B 57 (1995) 289: fifteen p values, the four smallest believed.</summary>
    [Fact]
    public void The_paper_on_false_discoveries_believes_four_of_its_fifteen()
    {
        double[] p =
        [
            0.0001,
            0.0004,
            0.0019,
            0.0095,
            0.0201,
            0.0278,
            0.0298,
            0.0344,
            0.0459,
            0.3240,
            0.4262,
            0.5719,
            0.6528,
            0.7590,
            1,
        ];
        p.Count(x => x <= FalseDiscovery.Threshold(p, 0.05)).ShouldBe(4);
        FalseDiscovery.Threshold([0.2, 0.9], 0.05).ShouldBe(0);
        FalseDiscovery.Threshold([], 0.05).ShouldBe(0);
    }

    /// <summary>Tables of the Poisson law: at most 2 at a mean of 1 is 0.9197, at most 5 at 2.5 is 0.9580, at most 15 at 10 is 0.9513.</summary>
    [Theory]
    [InlineData(1.0, 2, 0.9197)]
    [InlineData(2.5, 5, 0.9580)]
    [InlineData(10.0, 15, 0.9513)]
    public void Many_small_chances_are_the_poisson_tables(double mean, int most, double chance)
    {
        PoissonBinomial.Of([.. Enumerable.Repeat(mean / 4000, 4000)]).AtMost(most).ShouldBe(chance, 0.001);
        // One more than is reckoned exactly: approximated, and said so.
        var many = PoissonBinomial.Of([.. Enumerable.Repeat(mean * 100 / 5000, 5000)]);
        many.IsExact.ShouldBeFalse();
        many.AtMost((int)(mean * 100) + 10)
            .ShouldBe(
                MathNet.Numerics.Distributions.Binomial.CDF(mean * 100 / 5000, 5000, (int)(mean * 100) + 10),
                0.0005
            );
    }

    [Fact]
    public void A_few_unequal_chances_are_as_when_every_outcome_is_counted() =>
        Gen.Double[0, 1]
            .Array[1, 9]
            .Sample(p =>
            {
                var counted = new double[p.Length + 1];
                for (var outcome = 0; outcome < 1 << p.Length; outcome++)
                {
                    counted[System.Numerics.BitOperations.PopCount((uint)outcome)] += p.Select(
                            (x, i) => (outcome >> i & 1) == 1 ? x : 1 - x
                        )
                        .Aggregate(1.0, (a, b) => a * b);
                }

                var law = PoissonBinomial.Of(p);
                for (var k = 0; k <= p.Length; k++)
                {
                    law.AtMost(k).ShouldBe(counted.Take(k + 1).Sum(), 1e-9);
                }

                law.AtMost(law.Quantile(0.9)).ShouldBeGreaterThanOrEqualTo(0.9 - 1e-9);
                (law.Quantile(0.9) == 0 || law.AtMost(law.Quantile(0.9) - 1) < 0.9).ShouldBeTrue();
            });

    /// <summary>Against the sums the exact comparison is defined by, term for term.</summary>
    [Fact]
    public void Rates_are_compared_as_the_binomial_sums_say() =>
        (
            from x in Gen.Int[0, 12]
            from y in Gen.Int[0, 12]
            from t in Gen.Double[1, 50]
            from u in Gen.Double[1, 50]
            select (x, y, t, u)
        ).Sample(c =>
        {
            var test = RateComparison.Of(c.x, c.t, c.y, c.u);
            var share = c.t / (c.t + c.u);
            test.Worse.ShouldBe(Tail(c.x, share), 1e-9);
            if (c.x > 0)
            {
                // At the lower end so many or more have a chance of 2.5 %.
                Tail(c.x, Share(test.Low)).ShouldBe(0.025, 1e-6);
            }

            if (c.y > 0)
            {
                (1 - Tail(c.x + 1, Share(test.High))).ShouldBe(0.025, 1e-6);
            }

            double Share(double ratio) => ratio * c.t / ((ratio * c.t) + c.u);

            double Tail(int least, double p) =>
                Enumerable
                    .Range(0, c.x + c.y + 1)
                    .Where(k => k >= least)
                    .Sum(k =>
                        MathNet.Numerics.SpecialFunctions.Binomial(c.x + c.y, k)
                        * Math.Pow(p, k)
                        * Math.Pow(1 - p, c.x + c.y - k)
                    );
        });

    [Fact]
    public void Nothing_seen_says_little_and_never_breaks()
    {
        SurvivalCurve.Of([]).Points.ShouldBeEmpty();
        SurvivalCurve.Of(Lives("10+ 20+")).At(500).ShouldBe(1);
        WeibullLife.Of(Lives("10+ 20+ 30")).Refusal!.Message.ShouldContain("two ages");
        WeibullLife.Of(Lives("10 10 10")).Refusal!.Message.ShouldContain("two ages");
        LogRank.Of([], Lives("5")).Worse.ShouldBe(1);
        PoissonBinomial.Of([]).Quantile(0.99).ShouldBe(0);
        Demand.Of([], [100, 200], 30).Quantile(0.9).ShouldBe(0);
        var allLive = Demand.Of(Lives("400+ 500+ 600+"), [400, 500, 600], 30);
        allLive.Mean.ShouldBeInRange(0.001, 0.5);
        allLive.Quantile(0.999).ShouldBeInRange(1, 3);
    }
}
