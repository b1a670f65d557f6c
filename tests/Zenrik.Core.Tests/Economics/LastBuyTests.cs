using Zenrik.Core.Economics;

namespace Zenrik.Core.Tests.Economics;

public sealed class LastBuyTests
{
    [Fact]
    public void As_many_as_pay_cost_the_least()
    {
        // Each number from 0 to 9 is as likely as the others: the dearest outcome is reckoned for every order there is.
        foreach (var (missing, price) in new[] { (10m, 90m), (63.75m, 69.6m), (300m, 20m) })
        {
            var pays = LastBuy.Pays(missing, price)!.Value;
            var bought = Enumerable.Range(0, 10).First(n => (n + 1) / 10.0 >= pays);
            decimal Cost(int order) =>
                Enumerable.Range(0, 10).Sum(n => n > order ? (n - order) * missing : (order - n) * price);

            Enumerable.Range(0, 10).Min(Cost).ShouldBe(Cost(bought));
        }

        LastBuy.Pays(0, 10).ShouldBeNull();
        LastBuy.Pays(10, null).ShouldBeNull();
    }

    [Fact]
    public void What_is_missing_costs_the_half_of_the_use_that_is_left()
    {
        // Of 500 for five years, thirty months left on the average: fifteen of sixty.
        LastBuy.Missing(500, [24, 36], 60).ShouldBe(125);
        LastBuy.Missing(500, [], 60).ShouldBe(0);
        LastBuy.Missing(500, [400], 60).ShouldBe(500, "never more than a whole unit");
        (LastBuy.Used(0), LastBuy.Used(7)).ShouldBe((LastBuy.OverdueMonths, 7));
        (LastBuy.Ages("battery-large"), LastBuy.Ages("fan")).ShouldBe((true, false));
    }
}
