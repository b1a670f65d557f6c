using CsCheck;
using Zenrik.Core.Sourcing;

namespace Zenrik.Core.Tests.Sourcing;

public sealed class SourcingTests
{
    private static readonly DateOnly Monday = new(2026, 11, 23);
    private static readonly Exchange Home = new("GBP", new Dictionary<string, decimal> { ["EUR"] = 0.85m });
    private static readonly Carrier Ferry = new("freight ferry", [DayOfWeek.Tuesday, DayOfWeek.Friday], 1);

    private static Money Gbp(decimal amount) => new(amount, "GBP");

    private static FreightOption Freight(
        string name,
        decimal fixedPart,
        decimal brokerage = 0,
        bool included = false
    ) => new(name, Gbp(fixedPart), Gbp(0), Gbp(brokerage), included, Ferry);

    private static Offer Part(decimal price, PartGrade grade = PartGrade.Brand, params FreightOption[] freight) =>
        new()
        {
            Supplier = "Overseas",
            Number = "X-1",
            Grade = grade,
            Price = Gbp(price),
            WeightKg = 0.4m,
            HandlingDays = 0,
            Freight = freight,
            Returns = new ReturnTerms(0, Gbp(0)),
        };

    [Fact]
    public void Express_with_clearing_in_it_beats_ground_that_adds_it_from_where_the_sum_says()
    {
        // By hand: a part of 30; express 55 with clearing in it: 85. Ground 22 adds 30 to 40 for clearing: 82 to 92.
        var express = Freight("express", 55, 38, included: true);
        Landed(express).ShouldBe(85);
        Landed(Freight("ground", 22, 30)).ShouldBe(82);
        Landed(Freight("ground", 22, 33)).ShouldBe(85);
        Landed(Freight("ground", 22, 40)).ShouldBe(92);

        static decimal Landed(FreightOption by) =>
            LandedCost.Of(Part(30, PartGrade.Brand, by), by, 1, Monday, Home).Value.Total.Amount;
    }

    [Fact]
    public void Duty_is_on_goods_and_freight_and_tax_on_all_of_it()
    {
        // By hand: goods 100, freight 20, clearing 10; duty 4 % of 120 = 4.80; tax 20 % of 134.80 = 26.96; 161.76.
        var by = Freight("ground", 20, 10);
        var landed = LandedCost
            .Of(Part(100, PartGrade.Brand, by) with { DutyShare = 0.04m, TaxShare = 0.2m }, by, 1, Monday, Home)
            .Value;
        landed.Duty.Amount.ShouldBe(4.80m);
        landed.Tax.Amount.ShouldBe(26.96m);
        landed.Total.Amount.ShouldBe(161.76m);
    }

    [Fact]
    public void Foreign_prices_are_counted_at_the_rate_and_least_orders_are_filled()
    {
        var by = Freight("ground", 0);
        var offer = Part(0, PartGrade.Brand, by) with
        {
            Price = new Money(10, "EUR"),
            MinimumOrder = new Money(25, "EUR"),
        };
        var landed = LandedCost.Of(offer, by, 1, Monday, Home).Value;
        landed.Quantity.ShouldBe(3); // 3 × 10 reaches 25
        landed.Total.Amount.ShouldBe(25.50m);
    }

    [Fact]
    public void Unbranded_at_seven_in_ten_is_bought_one_and_three_sevenths_times()
    {
        var chance = WorkingChance.Before(PartGrade.Unbranded); // common practice, no published source: 70 in 100
        chance.Mean.ShouldBe(0.7, 1e-12);
        chance.ExpectedPurchases.ShouldBe(10.0 / 7, 1e-12);
        WorkingChance.With(PartGrade.Unbranded, 5, 0).Mean.ShouldBe(0.8, 1e-12); // Beta(7 + 5, 3)
    }

    [Fact]
    public void Unbranded_against_brand_by_hand()
    {
        // Brand: 60, sure (chance 0.96 with nothing back and no work: 60 / 0.96 = 62.50).
        // Unbranded at 25, chance 0.7, fitting anew 10: 25 + 0.3 × (10 + 62.50) = 46.75.
        // Break-even chance: 25 + (1 − p) 72.5 = 62.5 → p = 1 − 37.5 / 72.5 = 0.48276. Break-even price: 62.5 − 0.3 × 72.5 = 40.75.
        var free = Freight("with the ferry", 0);
        var brand = new Bid(Part(60, PartGrade.Brand, free), free, new WorkingChance(48, 2));
        var plain = new Bid(Part(25, PartGrade.Unbranded, free), free, new WorkingChance(7, 3));
        var noWork = Offers.Compare([brand], 1, Monday, Home, Gbp(0)).Value;
        noWork.Bids[0].Expected.Amount.ShouldBe(62.50m);

        // With work of 10 in it the surest costs (60 + 0.04 × 10) / 0.96 = 62.92; the rest follows.
        var both = Offers.Compare([brand, plain], 1, Monday, Home, Gbp(10)).Value;
        both.Bids[0].Bid.ShouldBe(plain);
        both.Bids[0].Expected.Amount.ShouldBe(46.88m); // 25 + 0.3 × 72.9167
        both.Bids[0].BreakEvenChance!.Value.ShouldBe(1 - (37.916667 / 72.916667), 1e-6);
        both.Bids[0].BreakEvenPrice!.Value.Amount.ShouldBe(41.04m); // 62.9167 − 0.3 × 72.9167
        both.Bids[1].IsSurest.ShouldBeTrue();
    }

    [Fact]
    public void At_its_break_even_chance_and_price_an_offer_costs_what_the_surest_costs() =>
        (
            from price in Gen.Int[5, 80]
            from brandPrice in Gen.Int[60, 200]
            from refund in Gen.Int[0, 10]
            from p in Gen.Double[0.2, 0.9]
            select (price, brandPrice, refund, p)
        ).Sample(x =>
        {
            var by = Freight("ferry", 7);
            var brand = new Bid(Part(x.brandPrice, PartGrade.Brand, by), by, new WorkingChance(48, 2));
            var offer = Part(x.price, PartGrade.Unbranded, by) with
            {
                Returns = new ReturnTerms(x.refund / 10m, Gbp(3)),
            };

            ComparedBid Of(Offer o, double chance) =>
                Offers
                    .Compare(
                        [brand, new Bid(o, by, new WorkingChance(chance * 100, (1 - chance) * 100))],
                        1,
                        Monday,
                        Home,
                        Gbp(12)
                    )
                    .Value.Bids.First(b => b.Bid != brand);

            var surest = (decimal)(x.brandPrice + 7 + (0.04 * (12 + 0))) / 0.96m;
            var compared = Of(offer, x.p);
            if (compared.BreakEvenChance is > 0.01 and < 0.95)
            {
                Of(offer, compared.BreakEvenChance.Value).Expected.Amount.ShouldBe(surest, 0.02m);
            }

            if (compared.BreakEvenPrice is { } even)
            {
                Of(offer with { Price = even }, x.p).Expected.Amount.ShouldBe(surest, 0.03m);
            }
        });

    [Theory]
    [InlineData("2026-11-23", "2026-11-24")] // Monday: Tuesday's ferry
    [InlineData("2026-11-24", "2026-11-24")]
    [InlineData("2026-11-25", "2026-11-27")] // Wednesday: Friday's
    [InlineData("2026-11-28", "2026-12-01")] // Saturday: Tuesday's
    public void The_ferry_leaves_on_tuesdays_and_fridays(string ready, string leaves)
    {
        var day = DateOnly.Parse(ready, null);
        Ferry.Leaves(day).Value.ShouldBe(DateOnly.Parse(leaves, null));
        Ferry.Arrives(day).Value.ShouldBe(DateOnly.Parse(leaves, null).AddDays(1));
    }

    // Days of the week by the calendar: 23 November 2026 is a Monday.
    [Theory]
    [InlineData("2026-11-23", 0, "2026-11-23")]
    [InlineData("2026-11-23", 1, "2026-11-24")]
    [InlineData("2026-11-27", 1, "2026-11-30")] // Friday: Monday
    [InlineData("2026-11-28", 0, "2026-11-30")] // Saturday: begun on Monday
    [InlineData("2026-11-28", 2, "2026-12-02")]
    [InlineData("2026-12-23", 2, "2026-12-28")] // Wednesday over Christmas Day, a Friday here
    public void Nobody_packs_at_the_weekend_nor_on_a_day_off(string from, int days, string ready) =>
        WorkingDays
            .After(DateOnly.Parse(from, null), days, [new DateOnly(2026, 12, 25)])
            .ShouldBe(DateOnly.Parse(ready, null));

    [Theory]
    [InlineData(13, 59, "2026-11-24")]
    [InlineData(14, 1, "2026-11-27")]
    public void What_is_ordered_after_the_carrier_s_hour_goes_with_the_next_sailing(int hour, int minute, string leaves)
    {
        var by = Freight("ferry", 5) with { Carrier = Ferry with { CutOff = new TimeOnly(14, 0) } };
        LandedCost
            .Of(Part(30, PartGrade.Brand, by), by, 1, Monday.AddDays(1), Home, new TimeOnly(hour, minute))
            .Value.Leaves.ShouldBe(DateOnly.Parse(leaves, null));
    }

    [Fact]
    public void All_that_was_bought_goes_back_when_one_was_needed_and_three_had_to_be_taken()
    {
        // By hand: three at 10 are 30, nothing else; works at 0.9. One fails: 30 come back. (30 − 0.1 × 30) / 0.9 = 30.
        var by = Freight("ferry", 0);
        var offer = Part(10, PartGrade.Brand, by) with { MinimumQuantity = 3, Returns = new ReturnTerms(1, Gbp(0)) };
        Offers
            .Compare([new Bid(offer, by, new WorkingChance(9, 1))], 1, Monday, Home, Gbp(0))
            .Value.Bids[0]
            .Expected.Amount.ShouldBe(30);
    }

    /// <summary>Against trying every price, coin by coin: with a least sum to order the cost is no straight line.</summary>
    [Fact]
    public void The_break_even_price_is_the_dearest_at_which_an_offer_is_still_as_good() =>
        (
            from least in Gen.Int[0, 60]
            from price in Gen.Int[3, 40]
            from brandPrice in Gen.Int[20, 90]
            from p in Gen.Int[3, 9]
            select (least, price, brandPrice, p)
        ).Sample(
            x =>
            {
                var by = Freight("ferry", 2);
                var brand = new Bid(Part(x.brandPrice, PartGrade.Brand, by), by, new WorkingChance(48, 2));
                decimal? Cost(decimal price, out ComparedBid bid)
                {
                    var offer = Part(price, PartGrade.Unbranded, by) with { MinimumOrder = Gbp(x.least) };
                    bid = Offers
                        .Compare(
                            [brand, new Bid(offer, by, new WorkingChance(x.p, 10 - x.p))],
                            1,
                            Monday,
                            Home,
                            Gbp(12)
                        )
                        .Value.Bids.First(b => b.Bid != brand);
                    return bid.Expected.Amount;
                }

                _ = Cost(x.price, out var compared);
                var surest = (decimal)(x.brandPrice + 2 + (0.04 * 12)) / 0.96m;
                var dearest = Enumerable
                    .Range(1, 12000)
                    .Select(c => c / 100m)
                    .Where(c => Cost(c, out _) <= surest + 0.005m)
                    .DefaultIfEmpty()
                    .Max();
                (compared.BreakEvenPrice?.Amount ?? 0).ShouldBe(dearest, 0.03m);
            },
            iter: 8
        );

    [Fact]
    public void A_day_without_sailing_waits_for_the_next_and_a_carrier_that_never_sails_says_so()
    {
        var storm = Ferry with { NoSailing = [new(2026, 11, 24)] };
        storm.Leaves(Monday).Value.ShouldBe(new DateOnly(2026, 11, 27));
        var never = Ferry with { Sails = [] };
        never.Leaves(Monday).Refusal!.Message.ShouldContain("no sailing");
    }

    [Fact]
    public void Freight_shared_adds_up_and_nobody_pays_more_than_alone() =>
        (
            from weights in Gen.Int[0, 4000].Array[1, 8]
            from fixedPart in Gen.Int[0, 6000]
            from perKg in Gen.Int[0, 900]
            select (weights, fixedPart, perKg)
        ).Sample(x =>
        {
            var by = new FreightOption("f", Gbp(x.fixedPart / 100m), Gbp(x.perKg / 100m), Gbp(12.34m), false, Ferry);
            var (together, shares) = SharedFreight
                .Of(by, [.. x.weights.Select((w, i) => new ShipmentLine($"R-{i}", w / 1000m))], Home)
                .Value;
            shares.Sum(s => s.Share.Amount).ShouldBe(together.Amount);
            // A share is a whole coin, so alone may be passed by the rounding of one.
            shares.ShouldAllBe(s => s.Share.Amount <= s.Alone.Amount + 0.01m && s.Share.Amount >= 0);
        });

    [Fact]
    public void What_cannot_be_counted_is_said_and_the_rest_is_compared()
    {
        var by = Freight("ferry", 5);
        var never = by with { Name = "ghost", Carrier = Ferry with { Name = "ghost line", Sails = [] } };
        Bid Of(Offer o, FreightOption f) => new(o, f, WorkingChance.Before(o.Grade));
        var comparison = Offers
            .Compare(
                [
                    Of(Part(30), by),
                    Of(Part(-1), by),
                    Of(Part(30) with { Price = new Money(30, "XXX") }, by),
                    Of(Part(30), never),
                ],
                1,
                Monday,
                Home,
                Gbp(0)
            )
            .Value;
        comparison.Bids.Count.ShouldBe(1);
        comparison
            .Uncounted.Select(u => u.Reason)
            .ShouldBe([
                "Overseas, X-1: a price of GBP -1.00 is below nothing.",
                "No rate is known for the currency \"XXX\". Known: GBP, EUR.",
                "ghost line has no sailing within a year of 2026-11-23: put the days it leaves on into its calendar.",
            ]);
        Offers.Compare([], 1, Monday, Home, Gbp(0)).Refusal.ShouldNotBeNull();
    }

    [Fact]
    public void Ordering_before_it_is_sure_pays_where_a_ferry_would_be_missed()
    {
        // By hand: it sails on Mondays until noon and is here two days later. Today is Monday, ten o'clock.
        var ferry = new FreightOption(
            "ferry",
            Gbp(6),
            Gbp(0),
            Gbp(0),
            true,
            new Carrier("ferry", [DayOfWeek.Monday], 2)
        );
        var offer = Part(40, PartGrade.Brand, ferry) with { Returns = new ReturnTerms(1, Gbp(4)) };
        var bid = new Bid(offer, ferry, new WorkingChance(100, 0));
        AheadOrder? Order(double chance, DateOnly sure, decimal loan = 2) =>
            OrderAhead.Best([bid], chance, Monday, new TimeOnly(10, 0), sure, Home, loan);

        var missed = Order(0.8, Monday.AddDays(1))!;
        (missed.Here, missed.HereLater, missed.DaysSaved).ShouldBe((Monday.AddDays(2), Monday.AddDays(9), 7));
        // 0.8 × 7 days × 2; 0.2 × (46 landed + 4 back − 40 refunded).
        (missed.Saves.Amount, missed.Risks.Amount, missed.Pays).ShouldBe((11.20m, 2.00m, true));

        // Less likely, and the risk is more than the days; sure while the ferry still waits, and nothing is saved.
        Order(0.3, Monday.AddDays(1), loan: 1)!.Pays.ShouldBeFalse();
        Order(0.8, Monday)!.DaysSaved.ShouldBe(0);
        OrderAhead
            .Best([bid with { Offer = offer with { InStock = 0 } }], 1, Monday, default, Monday, Home, 2)
            .ShouldBeNull();
        OrderAhead.Best([], 1, Monday, default, Monday, Home, 2).ShouldBeNull();
    }

    [Fact]
    public void What_an_early_order_gains_grows_with_the_chance_that_it_is_needed() =>
        Gen.Select(Gen.Double[0, 1], Gen.Double[0, 1], Gen.Int[1, 60], Gen.Double[0, 1], Gen.Int[0, 5])
            .Sample(
                (a, b, price, refund, wait) =>
                {
                    var ferry = Freight("ferry", 5, 0);
                    var bid = new Bid(
                        Part(price, PartGrade.Brand, ferry) with
                        {
                            Returns = new ReturnTerms((decimal)refund, Gbp(3)),
                        },
                        ferry,
                        WorkingChance.Before(PartGrade.Brand)
                    );
                    decimal Gain(double chance) =>
                        OrderAhead.Best([bid], chance, Monday, default, Monday.AddDays(wait), Home, 2)!.Gain.Amount;
                    // A cent for rounding.
                    Gain(Math.Max(a, b)).ShouldBeGreaterThanOrEqualTo(Gain(Math.Min(a, b)) - 0.01m);
                }
            );
}
