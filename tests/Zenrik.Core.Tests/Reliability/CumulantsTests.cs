using CsCheck;
using MathNet.Numerics.Distributions;
using Zenrik.Core.Reliability;

namespace Zenrik.Core.Tests.Reliability;

public sealed class CumulantsTests
{
    /// <summary>A gamma law of shape k has the cumulants k·(n − 1)!; its quantiles are MathNet.Numerics'.</summary>
    [Theory]
    [InlineData(4)]
    [InlineData(20)]
    [InlineData(300)]
    public void Quantiles_of_a_skewed_law_are_hit_where_the_normal_law_misses_them(double shape)
    {
        var law = new Cumulants(shape, shape, 2 * shape, 6 * shape);
        foreach (var level in new[] { 0.1, 0.9 })
        {
            var exact = Gamma.InvCDF(shape, 1, level);
            law.Quantile(level).ShouldBe(exact, 0.012 * Math.Sqrt(shape));
            var normal = shape + (Math.Sqrt(shape) * Normal.InvCDF(0, 1, level));
            Math.Abs(law.Quantile(level) - exact).ShouldBeLessThan(Math.Abs(normal - exact));
        }
    }

    /// <summary>Against the moments of the law itself, number by number.</summary>
    [Fact]
    public void A_mixture_has_the_moments_of_its_law() =>
        Gen.Select(Gen.Double[0, 1].List[1, 12], Gen.Double[0, 1].List[1, 12], Gen.Double[0, 1])
            .Sample(
                (one, other, share) =>
                {
                    var (a, b) = (PoissonBinomial.Of(one), PoissonBinomial.Of(other));
                    double[] mass =
                    [
                        .. Enumerable.Range(0, 13).Select(n => (share * Exactly(a, n)) + ((1 - share) * Exactly(b, n))),
                    ];
                    var mean = mass.Select((p, n) => p * n).Sum();
                    double Central(int power) => mass.Select((p, n) => p * Math.Pow(n - mean, power)).Sum();
                    var law = Cumulants.Mixed([(share, a.Law), (1 - share, b.Law)]);
                    law.Mean.ShouldBe(mean, 1e-9);
                    law.Variance.ShouldBe(Central(2), 1e-9);
                    law.Third.ShouldBe(Central(3), 1e-8);
                    law.Fourth.ShouldBe(Central(4) - (3 * Central(2) * Central(2)), 1e-7);
                },
                iter: 200
            );

    private static double Exactly(PoissonBinomial law, int n) => law.AtMost(n) - law.AtMost(n - 1);
}
