using CsCheck;
using Zenrik.Core.Sourcing;

namespace Zenrik.Core.Tests.Sourcing;

public sealed class ShipmentTests
{
    private static readonly DateOnly Monday = new(2026, 11, 23);
    private static readonly TimeOnly Morning = new(9, 0);
    private static readonly Exchange Home = new("GBP", new Dictionary<string, decimal>());

    private static Money Gbp(decimal amount) => new(amount, "GBP");

    [Fact]
    public void A_machine_waits_for_fridays_ferry_unless_a_loan_costs_more_than_the_courier()
    {
        // By hand: courier 20, here Wednesday; ferry 5, leaves Friday, here Saturday: 15 saved for three days more.
        var courier = By("courier", 20, new Carrier("courier", [DayOfWeek.Tuesday], 1));
        var ferry = By("ferry", 5, new Carrier("ferry", [DayOfWeek.Friday], 1));
        var line = Line("R-1", "R-1", Offer("Shed", 10, courier, ferry));

        var cheap = Best(4, line).Shipments.ShouldHaveSingleItem();
        cheap.By.Name.ShouldBe("ferry");
        cheap.Total.Amount.ShouldBe(15);
        cheap.Sooner!.Dearer.Amount.ShouldBe(15);
        cheap.Sooner.WaitsMore.Amount.ShouldBe(-12);
        cheap.Later.ShouldBeNull();
        // Packed on the day it is ordered: Friday is early enough for Friday's ferry, and Tuesday for the courier.
        (cheap.LastDay, cheap.Before).ShouldBe((Monday.AddDays(4), null));

        var fast = Best(6, line).Shipments.ShouldHaveSingleItem();
        fast.By.Name.ShouldBe("courier");
        fast.Later!.Dearer.Amount.ShouldBe(-15);
        fast.Later.WaitsMore.Amount.ShouldBe(18);
        // Nobody waits for the shelf.
        Best(6, Line("shelf", null, Offer("Shed", 10, courier, ferry))).Shipments[0].By.Name.ShouldBe("ferry");
    }

    [Theory]
    [InlineData("R-1", 1, true)]
    [InlineData("R-1", 2, false)]
    [InlineData(null, 2, true)]
    public void A_sailing_is_let_go_where_what_may_come_up_spares_more_than_the_week_costs(
        string? waits,
        int loanPerDay,
        bool pays
    )
    {
        // By hand: 20 for the ferry whatever is on it; something is ordered once a week, so by the next Friday with a chance of
        // 0.63; the machine waits seven days more.
        var ferry = By("ferry", 20, new Carrier("ferry", [DayOfWeek.Friday], 1));
        WantedLine[] lines = [Line("R-1", waits, Offer("Shed", 10, ferry))];
        var lately = new Dictionary<string, OrderedLately> { ["Shed"] = new(52, 364) };
        var next = Shipments.Best(lines, Monday, Morning, Home, loanPerDay, lately).Shipments[0].Next!;
        (next.Leaves, next.Arrives).ShouldBe((Monday.AddDays(11), Monday.AddDays(12)));
        next.Saves.Amount.ShouldBe(12.64m, 0.01m);
        next.WaitsMore.Amount.ShouldBe(waits is null ? 0 : 7 * loanPerDay);
        next.Pays.ShouldBe(pays);

        Best(loanPerDay, lines).Shipments[0].Next.ShouldBeNull("nobody knows how often anything is ordered");
        var once = new Carrier(
            "ferry",
            [DayOfWeek.Friday],
            1,
            [.. Enumerable.Range(1, 60).Select(w => Monday.AddDays(4 + (7 * w)))]
        );
        lines = [Line("R-1", waits, Offer("Shed", 10, By("ferry", 20, once)))];
        Shipments.Best(lines, Monday, Morning, Home, loanPerDay, lately).Shipments[0].Next.ShouldBeNull();
    }

    [Fact]
    public void That_something_is_ordered_again_has_the_chance_of_the_negative_binomial_law() =>
        Gen.Select(Gen.Int[0, 300], Gen.Int[1, 365], Gen.Int[1, 60])
            .Sample(
                (times, of, days) =>
                    new OrderedLately(times, of)
                        .Within(days)
                        .ShouldBe(
                            1
                                - MathNet.Numerics.Distributions.NegativeBinomial.PMF(
                                    times + 0.5,
                                    (double)of / (of + days),
                                    0
                                ),
                            1e-9
                        )
            );

    [Fact]
    public void A_dearer_price_is_taken_where_it_rides_along_and_the_sum_says_so()
    {
        // By hand: of Near 10 and 12 with freight 8 paid once: 30. Far sells the second at 7 with freight 9: 34 apart.
        var (near, far) = (By("post", 8), By("parcel", 9));
        var plan = Best(
            0,
            Line("R-1", "R-1", Offer("Near", 10, near)),
            Line("R-2", "R-2", Offer("Near", 12, near), Offer("Far", 7, far))
        );
        plan.Shipments.ShouldHaveSingleItem().Lines.Count.ShouldBe(2);
        plan.Total.Amount.ShouldBe(30);
        plan.Saves.Amount.ShouldBe(4); // 18 and 16 apart
        plan.IsBest.ShouldBeTrue();
    }

    [Fact]
    public void What_is_ready_early_waits_for_what_is_ready_late_where_that_saves_the_second_freight()
    {
        var ferry = By("ferry", 30, new Carrier("ferry", [DayOfWeek.Tuesday, DayOfWeek.Friday], 1));
        var plan = Best(
            2,
            Line("R-1", "R-1", Offer("Shed", 10, ferry)),
            Line("R-2", "R-2", Offer("Shed", 10, ferry) with { HandlingDays = 3 })
        );
        var together = plan.Shipments.ShouldHaveSingleItem();
        together.Leaves.DayOfWeek.ShouldBe(DayOfWeek.Friday);
        // R-1 could go on Tuesday: three days of a loan at 2 are less than 30.
        plan.Saves.Amount.ShouldBe(30 - 6);
    }

    [Fact]
    public void Nobody_is_asked_for_more_than_it_has_and_the_rest_says_why()
    {
        var plan = Best(
            0,
            Line("shelf", null, Offer("Shed", 10, By("post", 1)) with { InStock = 2 }) with
            {
                Quantity = 3,
            },
            Line("R-1", "R-1"),
            Line("R-2", "R-2", Offer("Shed", 1, By("post", 1)) with { Price = new Money(1, "XYZ") })
        );
        plan.Shipments.ShouldBeEmpty();
        plan.Left.Select(l => l.Why)
            .ShouldBe(["Shed has 2 of X-1, not 3.", "No supplier has it now.", plan.Left[2].Why]);
        plan.Left[2].Why.ShouldContain("No rate is known");
        Best(1).Total.Amount.ShouldBe(0);
    }

    [Fact]
    public void What_a_supplier_has_is_taken_once_and_those_that_come_first_go_first()
    {
        var post = By("post", 1);
        var few = Offer("Shed", 10, post) with { InStock = 2 };
        var plan = Best(
            1,
            Line("R-1", "R-1", few),
            Line("R-2", "R-2", few, Offer("Near", 30, post)),
            Line("R-3", "R-3", few),
            Line("R-4", "R-4", few)
        );
        plan.IsBest.ShouldBeFalse();
        plan.Shipments.SelectMany(s => s.Lines.Select(l => (s.Supplier, l.Line.For)))
            .ShouldBe([("Shed", "R-1"), ("Shed", "R-2")], ignoreOrder: true);
        plan.Left.Select(l => (l.Line.For, l.Why))
            .ShouldBe([
                ("R-4", "Shed has 2 of X-1, which others take."),
                ("R-3", "Shed has 2 of X-1, which others take."),
            ]);
        Best(1, Line("R-1", "R-1", few), Line("R-2", "R-2", few), Line("R-3", "R-3", few, Offer("Near", 30, post)))
            .Shipments.SelectMany(s => s.Lines.Select(l => (s.Supplier, l.Line.For)))
            .ShouldBe([("Shed", "R-1"), ("Shed", "R-2"), ("Near", "R-3")], ignoreOrder: true);
    }

    [Fact]
    public void A_least_order_is_told_and_not_paid_where_another_way_is_cheaper()
    {
        var post = By("post", 2);
        var shed = Offer("Shed", 10, post) with { MinimumOrder = Gbp(25) };
        Best(0, Line("R-1", "R-1", shed)).Shipments[0].Missing.ShouldBe(Gbp(15));
        // 12 + 15 of goods nobody wants, or 20.
        Best(0, Line("R-1", "R-1", shed, Offer("Near", 18, post))).Shipments[0].Supplier.ShouldBe("Near");
        Best(0, [.. Enumerable.Range(0, 3).Select(i => Line($"R-{i}", null, shed, Offer("Near", 18, post)))])
            .Shipments.ShouldHaveSingleItem()
            .Missing.ShouldBeNull();
    }

    [Fact]
    public void No_other_choice_costs_less_and_what_each_line_pays_adds_up() =>
        (from lines in Some(leastOrders: false) from perDay in Gen.Int[0, 6] select (lines, perDay)).Sample(
            x =>
            {
                var plan = Best(x.perDay, x.lines);
                plan.IsBest.ShouldBeTrue();
                CostOf(plan, x.perDay).ShouldBe(Cheapest(x.lines, x.perDay), 0.06);
                plan.Saves.Amount.ShouldBeGreaterThanOrEqualTo(0);
                foreach (var shipment in plan.Shipments)
                {
                    shipment.Total.Amount.ShouldBe(shipment.Lines.Sum(l => l.Landed.Amount));
                    (InTime(shipment, shipment.LastDay), InTime(shipment, shipment.LastDay.AddDays(1))).ShouldBe(
                        (true, false)
                    );
                    foreach (var other in new[] { shipment.Sooner, shipment.Later }.OfType<OtherShipment>())
                    {
                        (other.Dearer.Amount + other.WaitsMore.Amount).ShouldBeGreaterThanOrEqualTo(-0.02m);
                    }

                    foreach (var line in shipment.Lines)
                    {
                        var alone = LandedCost.Of(line.Bid.Offer, line.Bid.Freight, line.Line.Quantity, Monday, Home);
                        line.Landed.Amount.ShouldBeLessThanOrEqualTo(alone.Value.Total.Amount + 0.03m);
                    }
                }
            },
            iter: 400
        );

    private static bool InTime(Shipment shipment, DateOnly ordered) =>
        shipment.Lines.All(l =>
            LandedCost.Of(l.Bid.Offer, l.Bid.Freight, l.Line.Quantity, ordered, Home, Morning).Value.Leaves
            <= shipment.Leaves
        );

    [Fact]
    public void With_least_orders_the_best_is_found_in_nineteen_of_twenty()
    {
        var (best, all) = (0, 0);
        Some(leastOrders: true)
            .Sample(
                lines =>
                {
                    var plan = Best(2, lines);
                    var (cost, cheapest) = (CostOf(plan, 2), Cheapest(lines, 2));
                    cost.ShouldBeGreaterThanOrEqualTo(cheapest - 0.06);
                    (plan.IsBest && cost > cheapest + 0.06).ShouldBeFalse();
                    (best, all) = (best + (cost < cheapest + 0.06 ? 1 : 0), all + 1);
                },
                // Measured: 97.8 in 100. Of so many cases chance alone does not take them below 95.
                iter: 1500,
                threads: 1
            );
        (best / (double)all).ShouldBeGreaterThanOrEqualTo(0.95);
    }

    /// <summary>Two to four lines, of up to three suppliers with two ways of sending; some wait for the same machine.</summary>
    private static Gen<WantedLine[]> Some(bool leastOrders)
    {
        var roads = Gen.Select(
            Gen.Int[0, 25],
            Gen.Int[1, 4],
            Gen.Int[0, 10],
            (fixedPart, days, clearing) =>
                new FreightOption(
                    $"way {fixedPart} {days}",
                    Gbp(fixedPart),
                    Gbp(2),
                    Gbp(clearing),
                    clearing > 5,
                    new Carrier("c", [DayOfWeek.Tuesday, DayOfWeek.Friday], days)
                )
        );
        return from ways in roads.Array[6]
            from lines in Gen.Select(
                Gen.Int[5, 60].Array[3],
                Gen.Int[1, 7],
                Gen.Int[0, 2],
                Gen.Int[0, 3],
                (prices, sellers, machine, handling) => (prices, sellers, machine, handling)
            ).Array[2, 4]
            select lines
                .Select(
                    (l, i) =>
                        Line(
                            $"line {i}",
                            l.machine == 0 ? null : $"machine {l.machine}",
                            [
                                .. Enumerable
                                    .Range(0, 3)
                                    .Where(s => (l.sellers & (1 << s)) != 0)
                                    .Select(s =>
                                        Offer($"seller {s}", l.prices[s], ways[2 * s], ways[(2 * s) + 1]) with
                                        {
                                            HandlingDays = l.handling,
                                            DutyShare = s == 2 ? 0.04m : 0,
                                            TaxShare = 0.2m,
                                            MinimumOrder = leastOrders ? Gbp(40) : null,
                                        }
                                    ),
                            ]
                        )
                )
                .ToArray();
    }

    private static double CostOf(ShipmentPlan plan, int perDay) =>
        (double)plan.Total.Amount
        + plan.Shipments.Sum(s => (double)((s.Missing?.Amount ?? 0) * Border(s.Lines[0].Bid.Offer)))
        + Waiting(plan.Shipments.SelectMany(s => s.Lines.Select(l => (l.Line.Waits, s.Arrives))), perDay);

    /// <summary>Every line by every offer and way of sending, of the days one of them leaves: all there are.</summary>
    private static double Cheapest(WantedLine[] lines, int perDay)
    {
        var landed = lines
            .Select(l =>
                l.Ways.Select(w =>
                        (
                            w.Bid,
                            Cost: LandedCost
                                .Of(
                                    w.Bid.Offer with
                                    {
                                        MinimumOrder = null,
                                    },
                                    w.Bid.Freight,
                                    l.Quantity,
                                    Monday,
                                    Home,
                                    Morning
                                )
                                .Value
                        )
                    )
                    .ToList()
            )
            .ToList();
        var days = landed.SelectMany(l => l).Select(l => l.Cost.Leaves).Distinct().ToList();
        var ways = landed.ConvertAll(l =>
            (
                from w in l
                from day in days
                where day >= w.Cost.Leaves && w.Bid.Freight.Carrier.Sails.Contains(day.DayOfWeek)
                select (w.Bid, w.Cost, Leaves: day)
            ).ToList()
        );
        return ways.Aggregate(
                (IEnumerable<IReadOnlyList<(Bid Bid, LandedCost Cost, DateOnly Leaves)>>)
                    [
                        [],
                    ],
                (so, next) =>
                    so.SelectMany(
                        _ => next,
                        (chosen, way) => (IReadOnlyList<(Bid, LandedCost, DateOnly)>)[.. chosen, way]
                    )
            )
            .Min(chosen =>
                chosen
                    .GroupBy(c => (c.Bid.Offer.Supplier, c.Bid.Freight, c.Leaves))
                    .Sum(g =>
                    {
                        var (offer, by) = (g.First().Bid.Offer, g.Key.Freight);
                        var goods = g.Sum(c => c.Cost.Goods.Amount);
                        var sending = by.Base.Amount + (by.PerKg.Amount * g.Sum(c => c.Bid.Offer.WeightKg));
                        var clearing = by.BrokerageIncluded ? 0 : by.Brokerage.Amount;
                        var missing = Math.Max(0, (offer.MinimumOrder?.Amount ?? 0) - goods) * Border(offer);
                        return (double)(
                            ((((goods + sending) * (1 + offer.DutyShare)) + clearing) * (1 + offer.TaxShare)) + missing
                        );
                    })
                + Waiting(
                    chosen.Select((c, i) => (lines[i].Waits, c.Leaves.AddDays(c.Bid.Freight.Carrier.TransitDays))),
                    perDay
                )
            );
    }

    private static decimal Border(Offer offer) => (1 + offer.DutyShare) * (1 + offer.TaxShare);

    private static double Waiting(IEnumerable<(string? Machine, DateOnly Arrives)> lines, int perDay) =>
        lines
            .Where(l => l.Machine is not null)
            .GroupBy(l => l.Machine)
            .Sum(g => perDay * (g.Max(l => l.Arrives).DayNumber - Monday.DayNumber));

    private static ShipmentPlan Best(int loanPerDay, params WantedLine[] lines) =>
        Shipments.Best(lines, Monday, Morning, Home, loanPerDay);

    private static FreightOption By(string name, decimal fixedPart, Carrier? carrier = null) =>
        new(name, Gbp(fixedPart), Gbp(0), Gbp(0), true, carrier ?? new Carrier(name, [DayOfWeek.Wednesday], 1));

    private static Offer Offer(string supplier, decimal price, params FreightOption[] freight) =>
        new()
        {
            Supplier = supplier,
            Number = "X-1",
            Grade = PartGrade.Brand,
            Price = Gbp(price),
            WeightKg = 0.4m,
            HandlingDays = 0,
            Freight = freight,
            Returns = new ReturnTerms(0, Gbp(0)),
        };

    private static WantedLine Line(string what, string? waits, params Offer[] offers) =>
        new(
            what,
            "X-1",
            1,
            [
                .. offers.SelectMany(o =>
                    o.Freight.Select(f => (new Bid(o, f, WorkingChance.Before(PartGrade.Brand)), 0m))
                ),
            ],
            waits
        );
}
