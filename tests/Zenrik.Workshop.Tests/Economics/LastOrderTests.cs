using Zenrik.Core.Economics;
using Zenrik.Workshop.Economics;

namespace Zenrik.Workshop.Tests.Economics;

public sealed class LastOrderTests(TemplateDatabase databases)
{
    private const string Model = "thimble-11";

    private static CancellationToken Stop => TestContext.Current.CancellationToken;

    [Fact]
    public async Task As_many_are_bought_as_pay_until_the_last_unit_is_out_of_use()
    {
        await using var book = await databases.NewBook();
        var far = (await Last("battery", null))!;

        far.Pays!.Value.ShouldBe((double)(far.Missing / (far.Missing + far.Price!.Value)), 1e-9);
        (far.Level, far.Enough).ShouldBe((far.Pays.Value, far.PaysFor!.Value));
        far.ToOrder.ShouldBe(Math.Max(0, far.Enough - far.Free - far.Coming));
        var sure = (await Last("battery", 0.99))!;
        sure.Enough.ShouldBeGreaterThan(far.Enough);
        sure.Expected.ShouldBe(far.Expected, 1e-9);
        sure.Low.ShouldBeLessThan(sure.High);

        // A dearer unit is worth more parts; one that is longer in use needs more of them.
        (await book.Sql($"UPDATE models SET new_price = new_price * 4 WHERE code = '{Model}'")).ShouldBeNull();
        var dear = (await Last("battery", null))!;
        (dear.Missing > far.Missing && dear.Enough > far.Enough).ShouldBeTrue();
        (
            await book.Sql(
                $"UPDATE models SET life_months = life_months + 12, support_ends = support_ends + 365 WHERE code = '{Model}'"
            )
        ).ShouldBeNull();
        var longer = (await Last("battery", null))!;
        longer.Expected.ShouldBeGreaterThan(dear.Expected);
        longer.LastLeaves.ShouldBeGreaterThan(dear.LastLeaves);

        // All of them past their time: each is counted half a year more, and that is said.
        (await book.Sql($"UPDATE models SET support_ends = date '2020-01-01' WHERE code = '{Model}'")).ShouldBeNull();
        var over = (await Last("battery", null))!;
        over.Overdue.ShouldBe(over.InService);
        over.Expected.ShouldBeInRange(0.01, dear.Expected);

        // Nobody sells it at a price: no chance pays, and the usual one stands.
        (await book.Sql("DELETE FROM stored_offers; UPDATE items SET cost = NULL")).ShouldBeNull();
        var priceless = (await Last("battery", null))!;
        (priceless.Price, priceless.Pays, priceless.PaysFor).ShouldBe((null, null, null));
        priceless.Level.ShouldBe(LastBuy.UsualLevel);

        (await Last("no-such-slot", null)).ShouldBeNull();
        (await book.Do<PlanLastOrder, LastOrder?>(l => l.Run("no-such", "battery", null, Stop))).ShouldBeNull();

        Task<LastOrder?> Last(string slot, double? level) =>
            book.Do<PlanLastOrder, LastOrder?>(l => l.Run(Model, slot, level, Stop));
    }
}
