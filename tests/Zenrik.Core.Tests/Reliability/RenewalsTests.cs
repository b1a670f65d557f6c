using Zenrik.Core.Reliability;

namespace Zenrik.Core.Tests.Reliability;

public sealed class RenewalsTests
{
    /// <summary>Constant rate: renewals grow with time, whatever the age (any textbook on renewal processes).</summary>
    [Theory]
    [InlineData(0.2)]
    [InlineData(3)]
    public void At_a_constant_rate_there_are_rate_times_time(double times)
    {
        double Fails(double t) => 1 - Math.Exp(-times * t);
        var (left, exchanged) = Renewals.Expected(Fails, Fails, 1);
        left.ShouldBe(times, 0.005 * times);
        exchanged.ShouldBe(times, 0.005 * times);
    }

    /// <summary>Lives that are sums of two exponential ones: M(t) = t/2 − 1/4 + exp(−2t)/4 (Cox, "Renewal Theory", 1962; from memory).</summary>
    [Fact]
    public void Of_two_phases_it_is_as_in_the_textbook()
    {
        static double Fails(double t) => 1 - ((1 + t) * Math.Exp(-t));
        const double Time = 3;
        Renewals.Expected(Fails, Fails, Time).Exchanged.ShouldBe((Time / 2) - 0.25 + (Math.Exp(-2 * Time) / 4), 0.002);
    }

    /// <summary>Worn parts with Weibull lives of shape 2, played out.</summary>
    [Fact]
    public void Of_a_worn_part_it_is_what_playing_it_out_gives()
    {
        const double Scale = 1000,
            Age = 900,
            Days = 1500;
        static double New(double t) => 1 - Math.Exp(-Math.Pow(t / Scale, 2));
        static double Worn(double t) => 1 - Math.Exp(Math.Pow(Age / Scale, 2) - Math.Pow((Age + t) / Scale, 2));
        var random = new Random(5);
        double Life(double age) =>
            (Scale * Math.Sqrt(Math.Pow(age / Scale, 2) - Math.Log(1 - random.NextDouble()))) - age;
        const int Units = 100_000;
        var (left, exchanged) = (0, 0);
        for (var i = 0; i < Units; i++)
        {
            for (var t = Life(Age); t < Days; t += Life(0))
            {
                left++;
            }

            for (var t = Life(0); t < Days; t += Life(0))
            {
                exchanged++;
            }
        }

        var told = Renewals.Expected(Worn, New, Days);
        told.Left.ShouldBe((double)left / Units, 0.01);
        told.Exchanged.ShouldBe((double)exchanged / Units, 0.01);
    }
}
