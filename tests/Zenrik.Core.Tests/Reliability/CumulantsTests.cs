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

    /// <summary>From the chances one by one, against the moments of the law they make.</summary>
    [Fact]
    public void Chances_have_the_cumulants_of_their_law() =>
        Gen.Double[0, 1]
            .List[1, 14]
            .Sample(
                chances =>
                {
                    var (own, law) = (Cumulants.Of(chances), Cumulants.OfLaw([.. PoissonBinomial.Of(chances).Chances]));
                    own.Mean.ShouldBe(law.Mean, 1e-9);
                    own.Variance.ShouldBe(law.Variance, 1e-9);
                    own.Third.ShouldBe(law.Third, 1e-8);
                    own.Fourth.ShouldBe(law.Fourth, 1e-7);
                },
                iter: 200
            );
}
