using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Sourcing;
using Zenrik.Workshop.Reliability;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.Sourcing;

namespace Zenrik.Workshop.Tests.Sourcing;

/// <summary>Offers and orders over HTTP from the supplier stand-in.</summary>
public sealed class OrderTests(TemplateDatabase databases)
{
    /// <summary>Common practice, no published source: a year, and only for what failed by itself.</summary>
    [Theory]
    [InlineData(40, "", true)]
    [InlineData(400, "", false)]
    [InlineData(40, "after-liquid", false)]
    public async Task A_part_bought_not_long_ago_is_its_sellers_to_replace(int days, string harm, bool guaranteed)
    {
        await using var book = await WithSuppliers();
        var bo = await book.Person("bo");
        var order = await Stock.StoresTests.Ordered(book, bo, 1);
        await book.Sql(
            $"""
            UPDATE part_orders SET state = 'Received', received_at = now() - interval '{days} days' WHERE id = '{order}';
            UPDATE items SET order_id = '{order}'
            WHERE slot = 'battery' AND unit_id = (SELECT id FROM units WHERE tag = '{Job.Unit}')
            """
        );
        var repair = await book.Opened(bo, "battery", "battery worn");
        await book.Sql($"UPDATE repairs SET circumstances = array_remove(ARRAY['{harm}'], '') WHERE number = {repair}");
        ((await Offers(book, repair, "battery")).Guarantee is not null).ShouldBe(guaranteed);
    }

    // The stand-in is late with one order in five, as its key says.
    [Theory]
    [InlineData("00000000-0000-0000-0000-000000000002", 0)]
    [InlineData("00000000-0000-0000-0000-000000000001", 4)]
    public async Task An_order_is_placed_once_taken_in_and_promised_to_its_repair(string key, int daysLate)
    {
        await using var book = await WithSuppliers();
        var bo = await book.Person("bo");
        var repair = await book.Opened(bo, "card-reader", "card reader dead");
        var view = await Offers(book, repair, "card-reader");
        var bid = view.Comparison!.Bids.First(b => b.Bid.Offer.InStock is not 0);
        var supplier = view.Stored.First(s => s.Offer == bid.Bid.Offer).SupplierId;
        var request = Guid.Parse(key);
        var places = await Task.WhenAll(Enumerable.Range(0, 4).Select(_ => Place(bid.Bid.Offer.Number)));
        places.ShouldAllBe(p => p.Refusal == null);
        var order = await book.Ask(db => db.PartOrders.SingleAsync(o => o.RequestId == request));
        order.Landed.ShouldBe(bid.Landed.Total.Amount);
        order.Expected.ShouldBe(bid.Landed.Arrives.AddDays(daysLate));
        order.Acknowledged.ShouldNotBeNull();
        (await book.View(repair)).Blocks.ShouldContain(b => b.Contains("is due on"));
        (await Waiting()).Late.ShouldBeFalse("nothing was promised to the user");
        await book.Sql(
            $"UPDATE repairs SET promised_on = '{order.Expected.AddDays(-1):yyyy-MM-dd}' WHERE number = {repair}"
        );
        (await Waiting()).Late.ShouldBeTrue();
        (await book.View(repair)).Late.Single().ShouldContain("is due on");

        (await Receive("")).Refusal!.Message.ShouldContain("No number was given");
        (await Receive("QQ-1")).Refusal!.Message.ShouldContain("not known here");
        (await Receive(order.Number.ToLowerInvariant())).Value.ShouldContain($"promised to {Repair.CodeOf(repair)}");
        (await Receive(order.Number)).Refusal!.Message.ShouldContain("taken in already");
        (await book.View(repair)).Lines.Single().Chosen!.Number.ShouldBe(order.Number);

        async Task<CounterRow> Waiting() =>
            (await book.Do<ViewCounter, CounterView>(c => c.Run())).Waiting.Single(r => r.Repair.Number == repair);

        Task<Outcome<string>> Place(string number) =>
            book.Do<PlaceOrder, Outcome<string>>(p =>
                p.Run(repair, "card-reader", request, supplier, number, bid.Bid.Freight.Name, bo)
            );

        Task<Outcome<string>> Receive(string printed) =>
            book.Do<ReceiveOrder, Outcome<string>>(r => r.Run(Guid.NewGuid(), order.Id, new Delivery(printed), bo));
    }

    [Fact]
    public async Task What_goes_together_is_ordered_once_each_line_with_its_share_by_all_who_press_at_once()
    {
        await using var book = await WithSuppliers();
        var (bo, odd) = (await book.Person("bo"), await book.Person("odd"));
        var repair = await book.Opened(bo, "card-reader", "card reader dead");
        (await Proposed())
            .Shipments.Shipments.SelectMany(s => s.Lines)
            .ShouldContain(l => l.Line.For == Repair.CodeOf(repair));
        var proposed = await Proposed();
        var shipment = proposed.Shipments.Shipments.First(s => s.Lines.Any(l => l.Line.Waits == Repair.CodeOf(repair)));
        var supplier = proposed.Suppliers[shipment.Supplier];
        var lines = shipment.Lines.Select(l => (l.Line.Key, l.Bid.Offer.Number)).ToList();

        var before = await book.Ask(db => db.PartOrders.Select(o => o.Id).ToListAsync());

        (await Order(Guid.NewGuid(), [], bo)).Refusal!.Message.ShouldContain("Tick at least one");
        (await Order(Guid.NewGuid(), [lines[0], lines[0]], bo)).Refusal!.Message.ShouldContain("each once");
        (await Order(Guid.Empty, lines, bo)).Refusal!.Message.ShouldContain("no number of its own");
        (await Order(Guid.NewGuid(), [("nothing", "X-1")], bo)).Refusal!.Message.ShouldContain("not wanted as it was");
        (await Order(Guid.NewGuid(), [(lines[0].Key, "X-1")], bo)).Refusal!.Message.ShouldContain("no longer there");
        (await Placed()).ShouldBeEmpty();

        // The same request four times, and somebody else at the same time: one of the two has ordered.
        var request = Guid.NewGuid();
        var answers = await Task.WhenAll(
            Enumerable.Range(0, 4).Select(_ => Order(request, lines, bo)).Append(Order(Guid.NewGuid(), lines, odd))
        );
        var orders = await Placed();
        orders.Count.ShouldBe(lines.Count);
        orders.Select(o => o.ById).Distinct().ShouldHaveSingleItem();
        orders.Sum(o => o.Landed).ShouldBe(shipment.Total.Amount);
        orders.ShouldAllBe(o => o.Acknowledged != null && o.Expected >= shipment.Arrives);
        var (said, refused) = (
            answers.Where(a => a.Refusal is null).ToList(),
            answers.Count(a => a.Refusal is not null)
        );
        said.ShouldAllBe(a => a.Value.Contains($"ordered of {shipment.Supplier}, {shipment.Total} landed"));
        refused.ShouldBe(orders[0].ById == bo.Id ? 1 : 4);
        (await Order(Guid.NewGuid(), lines, odd)).Refusal!.Message.ShouldContain("not wanted as it was");
        (await Proposed())
            .Shipments.Shipments.SelectMany(s => s.Lines)
            .ShouldNotContain(l => lines.Any(x => x.Key == l.Line.Key));

        async Task<List<PartOrder>> Placed() =>
            await book.Ask(db => db.PartOrders.Where(o => !before.Contains(o.Id)).ToListAsync());

        Task<OrderProposals> Proposed() => book.Do<ProposeOrders, OrderProposals>(p => p.Run());

        Task<Outcome<string>> Order(Guid id, IReadOnlyList<(string, string)> what, Actor by) =>
            book.Do<OrderShipment, Outcome<string>>(o => o.Run(id, supplier, shipment.By.Name, what, by));
    }

    [Fact]
    public async Task Letting_a_sailing_go_is_weighed_by_the_orders_of_a_year_and_not_before_a_month_of_them()
    {
        await using var book = await WithSuppliers();
        var shipment = (await Proposed())[0];
        var (today, yearAgo) = (book.Clock.GetUtcNow().Date, book.Clock.GetUtcNow().AddYears(-1));
        var orders = await book.Ask(db => db.PartOrders.Include(o => o.Supplier).ToListAsync());
        var lately = new OrderedLately(
            orders
                .Where(o => o.Supplier.Name == shipment.Supplier && o.State != OrderState.Cancelled)
                .Select(o => o.At.Date)
                .Distinct()
                .Count(d => d >= yearAgo.Date && d < today),
            (today - orders.Where(o => o.At >= yearAgo.Date).Min(o => o.At).Date).Days
        );
        lately.Times.ShouldBeGreaterThan(10);
        var days = shipment.Next!.Leaves.DayNumber - shipment.Leaves.DayNumber;
        days.ShouldBeInRange(1, 7);
        Enumerable.Range(1, 9).ShouldContain(d => Math.Abs(lately.Within(d) - shipment.Next.Chance) < 1e-9);

        await book.Sql("UPDATE part_orders SET at = greatest(at, now() - interval '20 days')");
        (await Proposed()).ShouldAllBe(s => s.Next == null);

        async Task<IReadOnlyList<Shipment>> Proposed() =>
            (await book.Do<ProposeOrders, OrderProposals>(p => p.Run())).Shipments.Shipments;
    }

    [Fact]
    public async Task What_the_house_does_not_buy_is_proposed_nowhere()
    {
        const string Battery = "TW-5R0Q-21847";
        await using var book = await WithSuppliers();
        var tern = await book.Tern(Battery, PartGrade.Unbranded);
        (await From()).ShouldBe([tern, tern, tern]);

        (
            await book.Sql(
                $"INSERT INTO house_choices (rule_id, school_id, at, by_id) VALUES ('unbranded-batteries', 'brand-only', now(), '{book.Lead.Id}')"
            )
        ).ShouldBeNull();
        (await From()).ShouldNotContain(tern);

        // By itself under its level, in a shipment, and asked for by its number.
        async Task<List<Guid?>> From()
        {
            var all = await book.Do<ProposeOrders, OrderProposals>(p => p.Run());
            var asked = await book.Do<ProposeOrders, IReadOnlyList<(Guid Supplier, ComparedBid Bid)>>(p =>
                p.For(Battery)
            );
            return
            [
                all.Low.Single(l => l.Line.Number == Battery).SupplierId,
                all.Shipments.Shipments.FirstOrDefault(s => s.Lines.Any(l => l.Bid.Offer.Number == Battery)) is { } sent
                    ? all.Suppliers[sent.Supplier]
                    : null,
                asked.Count > 0 ? asked[0].Supplier : null,
            ];
        }
    }

    [Fact]
    public async Task A_supplier_kept_by_hand_is_compared_ordered_from_and_taken_in_like_any_other()
    {
        await using var book = await WithSuppliers();
        var bo = await book.Person("bo");
        var terms = new KeptTerms
        {
            Currency = "GBP",
            TaxShare = 0.2m,
            Freight = [new KeptFreight("post", 4, 1, [DayOfWeek.Monday, DayOfWeek.Thursday], 2)],
        };
        (await Add("T", terms)).Refusal!.Message.ShouldContain("2 to 80");
        (await Add("Tern & Sons", terms with { Freight = [] })).Refusal!.Message.ShouldContain("at least one way");
        (await Add("Tern & Sons", terms with { Currency = "pounds" })).Refusal!.Message.ShouldContain("no currency");
        var tern = (await Add("Tern & Sons", terms)).Value;
        (await Add("Tern & Sons", terms)).Value.ShouldBe(tern);

        var repair = await book.Opened(bo, "card-reader", "card reader dead");
        var number = (await Offers(book, repair, "card-reader")).Numbers[0].Number.Number;
        (await Price(new KeptPrice(number, PartGrade.Brand, -1))).Refusal!.Message.ShouldContain("A price is");
        _ = (await Price(new KeptPrice(number, PartGrade.Brand, 1.5m))).Value;
        var view = await Offers(book, repair, "card-reader");
        var bid = view.Comparison!.Bids.First(b => b.Bid.Offer.Supplier == "Tern & Sons");
        // 1.50 and 4 of freight (nobody knows what one weighs, or it is known here), taxed.
        bid.Landed.Total.Amount.ShouldBe((1.5m + 4 + bid.Bid.Offer.WeightKg) * 1.2m, 0.01m);

        // Terms changed: prices follow.
        _ = (
            await book.Do<KeepSuppliers, Outcome<string>>(k =>
                k.Change(tern, "orders@tern.example", terms with { TaxShare = 0 }, bo)
            )
        ).Value;
        bid = (await Offers(book, repair, "card-reader")).Comparison!.Bids.First(b =>
            b.Bid.Offer.Supplier == "Tern & Sons"
        );
        bid.Landed.Total.Amount.ShouldBe(1.5m + 4 + bid.Bid.Offer.WeightKg, 0.01m);

        var request = Guid.NewGuid();
        for (var twice = 0; twice < 2; twice++)
        {
            (
                await book.Do<PlaceOrder, Outcome<string>>(p =>
                    p.Run(repair, "card-reader", request, tern, number, "post", bo)
                )
            ).Value.ShouldContain("open the order and send it");
        }

        var order = await book.Ask(db => db.PartOrders.SingleAsync(o => o.SupplierId == tern));
        (await Sent("T-77", order.Expected.AddYears(9))).Refusal!.Message.ShouldContain("two years");
        (await Sent("T-77", order.Expected.AddDays(3))).Value.ShouldContain("as T-77");
        (
            await book.Do<ReceiveOrder, Outcome<string>>(r =>
                r.Run(Guid.NewGuid(), order.Id, new Delivery("TW-3F0A-50711"), bo)
            )
        ).Value.ShouldContain("is not the");
        (await Settle(false)).Value.ShouldContain("awaited again");
        (
            await book.Do<ReceiveOrder, Outcome<string>>(r => r.Run(Guid.NewGuid(), order.Id, new Delivery(number), bo))
        ).Value.ShouldContain($"promised to {Repair.CodeOf(repair)}");
        (await Settle(true)).Refusal!.Message.ShouldContain("did not come wrong");

        // What came keeps whom it came from, and how long it lasts is told by that.
        (await book.Ask(db => db.Items.CountAsync(i => i.OrderId == order.Id && i.Number.Number == number))).ShouldBe(
            1
        );
        (
            await book.Sql(
                $"UPDATE items SET order_id = '{order.Id}' WHERE code = (SELECT min(code) FROM items WHERE unit_id IS NOT NULL)"
            )
        ).ShouldBeNull();
        (await book.Do<FleetLives, FleetLife>(l => l.Run()))
            .Parts.Count(p => p.Life.Supplier == $"Tern & Sons, {order.Grade.ToString().ToLowerInvariant()}")
            .ShouldBe(1);

        Task<Outcome<Guid>> Add(string name, KeptTerms with) =>
            book.Do<KeepSuppliers, Outcome<Guid>>(k => k.Add(name, null, with, bo));
        Task<Outcome<string>> Price(KeptPrice price) =>
            book.Do<KeepSuppliers, Outcome<string>>(k => k.Price(tern, price, bo));
        Task<Outcome<string>> Sent(string name, DateOnly due) =>
            book.Do<PlaceOrder, Outcome<string>>(p => p.Sent(order.Id, name, due, bo));
        Task<Outcome<string>> Settle(bool refunded) =>
            book.Do<PlaceOrder, Outcome<string>>(p => p.SettleWrong(order.Id, refunded, "agreed by telephone", bo));
    }

    [Fact]
    public async Task What_else_waits_for_the_same_supplier_shares_the_freight()
    {
        await using var book = await WithSuppliers();
        var bo = await book.Person("bo");
        var repair = await book.Opened(bo, "card-reader", "card reader dead");
        var view = await Offers(book, repair, "card-reader");
        var shared = (await book.Do<ShipmentFor, ShipmentView?>(s => s.Run(view)))!;
        shared.Shares.Count.ShouldBeGreaterThan(1);
        shared.Shares[0].Line.For.ShouldStartWith(Repair.CodeOf(repair));
        shared.Shares.Sum(s => s.Share.Amount).ShouldBe(shared.Together.Amount);
        shared.Together.Amount.ShouldBeLessThan(shared.Shares.Sum(s => s.Alone.Amount));
    }

    [Fact]
    public async Task The_wrong_part_in_the_box_goes_into_quarantine()
    {
        await using var book = await WithSuppliers();
        var bo = await book.Person("bo");
        var order = await book.Ask(db =>
            db.PartOrders.Include(o => o.Repair).SingleAsync(o => o.State == OrderState.Ordered)
        );
        var said = (
            await book.Do<ReceiveOrder, Outcome<string>>(r =>
                r.Run(Guid.NewGuid(), order.Id, new Delivery("TW-3F0A-50711"), bo)
            )
        ).Value;
        said.ShouldContain("in quarantine");
        (await book.Ask(db => db.PartOrders.SingleAsync(o => o.Id == order.Id))).State.ShouldBe(OrderState.Wrong);
        (await book.View(order.Repair!.Number)).Lines.Single().Chosen.ShouldBeNull();
    }

    [Fact]
    public async Task An_order_is_cancelled_with_a_reason_and_then_taken_in_no_more()
    {
        await using var book = await WithSuppliers();
        var bo = await book.Person("bo");
        var order = await book.Ask(db => db.PartOrders.SingleAsync(o => o.State == OrderState.Ordered));
        (await Cancel("x")).Refusal!.Message.ShouldContain("3 to 200");
        (await Cancel("ordered twice")).Value.ShouldContain("is cancelled");
        (await Cancel("ordered twice")).Value.ShouldContain("is cancelled", Case.Sensitive, "twice is no fault");
        (
            await book.Do<ReceiveOrder, Outcome<string>>(r =>
                r.Run(Guid.NewGuid(), order.Id, new Delivery(order.Number), bo)
            )
        ).Refusal.ShouldNotBeNull();
        (await book.Ask(db => db.PartOrders.SingleAsync(o => o.Id == order.Id))).Cancelled.ShouldBe(
            $"ordered twice ({bo.Name})"
        );

        Task<Outcome<string>> Cancel(string why) =>
            book.Do<PlaceOrder, Outcome<string>>(p => p.Cancel(order.Id, why, bo));
    }

    [Fact]
    public async Task A_calendar_of_days_off_puts_an_arrival_off_and_what_is_no_calendar_changes_nothing()
    {
        await using var book = await WithSuppliers();
        var bo = await book.Person("bo");
        var repair = await book.Opened(bo, "card-reader", "card reader dead");
        var bid = (await Offers(book, repair, "card-reader")).Comparison!.Bids[0];
        var carrier = bid.Bid.Freight.Carrier.Name;
        var shut = Calendar(bid.Landed.Leaves, bid.Landed.Leaves.AddDays(21));

        (await ByCarrier("a ship nobody knows", shut)).Refusal!.Message.ShouldContain("No supplier sends by");
        (await ByCarrier(carrier, "BEGIN:VCALENDAR\r\nhm")).Refusal!.Message.ShouldContain("no calendar file");
        (await ByCarrier(carrier, Calendar(new(2001, 1, 1), new(2001, 1, 2)))).Refusal!.Message.ShouldContain(
            "no day off"
        );
        (await Now()).Landed.Leaves.ShouldBe(bid.Landed.Leaves);

        (await ByCarrier(carrier, shut)).Value.ShouldContain("21 days off");
        (await Now()).Landed.Leaves.ShouldBeGreaterThanOrEqualTo(bid.Landed.Leaves.AddDays(21));
        (await ByCarrier(carrier, "")).Value.ShouldContain("no days off");
        (await Now()).Landed.Leaves.ShouldBe(bid.Landed.Leaves);

        var supplier = await book.Ask(db => db.Suppliers.SingleAsync(s => s.Name == bid.Bid.Offer.Supplier));
        (await book.Do<SetDaysOff, Outcome<string>>(s => s.Run(supplier.Id, shut, book.Lead))).Value.ShouldContain(
            "21 days off"
        );
        (await Now()).Landed.Leaves.ShouldBeGreaterThanOrEqualTo(bid.Landed.Leaves.AddDays(21));

        Task<Outcome<string>> ByCarrier(string name, string calendar) =>
            book.Do<SetDaysOff, Outcome<string>>(s => s.ForCarrier(name, calendar, book.Lead));

        async Task<ComparedBid> Now() =>
            (await Offers(book, repair, "card-reader")).Comparison!.Bids.First(b =>
                b.Bid.Offer.Number == bid.Bid.Offer.Number
                && b.Bid.Offer.Supplier == bid.Bid.Offer.Supplier
                && b.Bid.Freight.Name == bid.Bid.Freight.Name
            );

        static string Calendar(DateOnly first, DateOnly after) =>
            $"BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//test//EN\r\nBEGIN:VEVENT\r\nUID:1\r\nDTSTART;VALUE=DATE:{first:yyyyMMdd}\r\nDTEND;VALUE=DATE:{after:yyyyMMdd}\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n";
    }

    [Fact]
    public async Task An_answer_for_one_number_is_none_for_another()
    {
        await using var book = await WithSuppliers();
        var bo = await book.Person("bo");
        var battery = await book.Opened(bo, "battery", "battery worn");
        (await Offers(book, battery, "battery")).Comparison.ShouldNotBeNull();
        var reader = await book.Opened(bo, "card-reader", "card reader dead", await book.Idle("sandpiper-14"));
        (await Offers(book, reader, "card-reader")).Comparison.ShouldNotBeNull("asked for, minutes after the battery");
    }

    [Fact]
    public async Task What_a_supplier_does_not_list_is_offered_by_it_no_more_and_not_asked_for_at_every_look()
    {
        await using var book = await WithSuppliers();
        var repair = await book.Opened(await book.Person("bo"), "battery", "battery worn");
        // One that sold it once: its price list has it no more.
        const string once = "SELECT id FROM suppliers WHERE address IS NOT NULL ORDER BY name LIMIT 1";
        (await Offers(book, repair, "battery")).Comparison.ShouldNotBeNull();
        (
            await book.Sql(
                $"INSERT INTO stored_offers (supplier_id, canonical, offer, fetched_at) SELECT ({once}), 'GONE1', offer, now() - interval '1 day' FROM stored_offers LIMIT 1"
            )
        ).ShouldBeNull();
        (await book.Do<OffersFor, int>(async o => (await o.Ask(["GONE-1"], default)).Offers.Count)).ShouldBe(0);
        (await book.Ask(db => db.StoredOffers.CountAsync(o => o.Canonical == "GONE1"))).ShouldBe(0);

        // Whoever were asked now would not answer, and it would be said.
        (await book.Sql("UPDATE suppliers SET address = 'http://127.0.0.1:9/nobody'")).ShouldBeNull();
        (await Offers(book, repair, "battery")).Notes.ShouldBeEmpty();
        book.Clock.Ahead = TimeSpan.FromMinutes(20);
        (await Offers(book, repair, "battery")).Notes.ShouldNotBeEmpty();
    }

    [Fact]
    public async Task A_supplier_that_is_away_is_compared_by_what_it_last_said()
    {
        await using var book = await WithSuppliers();
        var repair = await book.Opened(await book.Person("bo"), "battery", "battery worn");
        var before = await Offers(book, repair, "battery");
        before.Comparison!.Bids.Select(b => b.Bid.Offer.Supplier).Distinct().Count().ShouldBe(3);
        // Unbranded at seven in ten stands beside the brand with its break-even chance.
        var plain = before.Comparison.Bids.First(b => b.Bid.Offer.Grade == PartGrade.Unbranded);
        plain.BreakEvenChance!.Value.ShouldBeInRange(0, 1);
        before.Comparison.Bids.Count(b => b.IsSurest).ShouldBe(1);

        await book.Sql("UPDATE suppliers SET address = 'http://127.0.0.1:9/nobody'");
        await book.Sql("UPDATE stored_offers SET fetched_at = fetched_at - interval '1 day'");
        var after = await Offers(book, repair, "battery");
        after.Notes.Count(n => n.Contains("does not answer now. Its prices are those of")).ShouldBe(3);
        // Left alone for a while, and said as before.
        (await Offers(book, repair, "battery")).Notes.ShouldBe(after.Notes);
        after.Comparison!.Bids.Select(b => b.Landed.Total).ShouldBe(before.Comparison.Bids.Select(b => b.Landed.Total));
    }

    /// <summary>Suppliers that mean harm, each a way of its own; the others are compared as if it were away.</summary>
    [Theory]
    [InlineData("huge")]
    [InlineData("slow")]
    [InlineData("round")]
    [InlineData("gaps")]
    [InlineData("no-lines")]
    [InlineData("absurd")]
    [InlineData("wide")]
    [InlineData("script")]
    public async Task A_supplier_that_means_harm_harms_nothing(string way)
    {
        await using var hostile = await Hostile.Start();
        await using var book = await WithSuppliers();
        var repair = await book.Opened(await book.Person("bo"), "battery", "battery worn");
        var asked = (await book.View(repair)).Lines.Single().Numbers.Select(n => n.Number.Number).ToList();
        hostile.Number = asked[0];
        await book.Sql($"UPDATE suppliers SET address = '{hostile.Address}{way}' WHERE name = 'Harbour Trader'");
        var view = await Offers(book, repair, "battery");
        view.Comparison!.Bids.ShouldNotBeEmpty("the others are compared");
        view.Comparison.Bids.ShouldAllBe(b => b.Bid.Offer.Supplier != "Harbour Trader" || way == "script");
        var told = view.Notes.Concat(view.Comparison.Uncounted.Select(u => u.Reason)).ToList();
        (told.Any(n => n.Contains("Harbour Trader")) || way is "gaps" or "script").ShouldBeTrue(string.Join('|', told));
    }

    [Theory]
    [InlineData(
        "number,grade,price,weight_kg,minimum,in_stock,handling_days\r\n\"A,1\",brand,cheap,1,1,,0\r\n",
        "\"cheap\" is no price"
    )]
    [InlineData("number,price\r\nA,1\r\n", "no column \"grade\"")]
    [InlineData(
        "number,grade,price,weight_kg,minimum,in_stock,handling_days\r\nA,golden,1,1,1,,0\r\n",
        "\"golden\" is no grade"
    )]
    public void A_price_list_that_cannot_be_read_says_where(string csv, string words) =>
        Should.Throw<FormatException>(() => SupplierClient.ReadCsv(csv)).Message.ShouldContain(words);

    [Fact]
    public void A_price_list_is_read_as_rfc_4180_writes_it()
    {
        var line = SupplierClient
            .ReadCsv(
                "number,grade,price,weight_kg,minimum,in_stock,handling_days\r\n\"A \"\"1\"\", B\",Unbranded,27.50,0.3,2,,4\r\n"
            )
            .Single();
        (line.Number, line.Grade, line.Price, line.InStock, line.Minimum).ShouldBe(
            ("A \"1\", B", PartGrade.Unbranded, 27.5m, null, 2)
        );
    }

    [Fact]
    public async Task Figures_the_house_cannot_reckon_with_are_refused_in_a_sentence()
    {
        await using var book = await databases.NewBook();
        async Task<string?> Set(string currency, decimal labour, string rates) =>
            (await book.Do<SetFigures, Outcome<string>>(s => s.Run(currency, labour, 2, rates, book.Lead)))
                .Refusal
                ?.Message;
        (await Set("pounds", 30, ""))!.ShouldContain("no currency");
        (await Set("GBP", 0, ""))!.ShouldContain("above nothing");
        (await Set("GBP", 30, "EUR -1"))!.ShouldContain("no rate");
        (await Set("EUR", 28, "GBP 1.17, USD 0.92")).ShouldBeNull();
        (await book.Ask(db => db.HouseFigures.AsNoTracking().SingleAsync())).ExchangeRates["GBP"].ShouldBe(1.17m);
    }

    private async Task<Book> WithSuppliers()
    {
        var book = await databases.NewBook();
        await Suppliers.Answer(book);
        return book;
    }

    private static async Task<OffersView> Offers(Book book, long repair, string slot) =>
        (await book.Do<OffersFor, Outcome<OffersView>>(o => o.Run(repair, slot))).Value;
}
