using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fit;
using Zenrik.Core.Fleet;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Economics;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.Sourcing;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Tests.Stock;

/// <summary>The storekeeper's day; after each of it the book is proved from its movements.</summary>
public sealed class StoresTests(TemplateDatabase databases)
{
    private const string Battery = "TW-5R0Q-22011";

    private static Guid New() => Guid.NewGuid();

    internal static async Task Proved(Book book) =>
        (await book.Do<ProveStock, (long, long)>(p => p.Whole())).ShouldBe((0, 0));

    private static Task<List<string>> Free(Book book, string number) =>
        book.Ask(db =>
            db.Items.Where(i => i.Number.Number == number && i.BinKind == BinKind.Shelf && i.Reservation == null)
                .OrderBy(i => i.Code)
                .Select(i => i.Code)
                .ToListAsync()
        );

    [Fact]
    public async Task An_item_is_set_apart_found_good_moved_and_a_wrong_movement_taken_back()
    {
        await using var book = await databases.NewBook();
        var odd = await book.Person("odd");
        var item = (await Free(book, Battery))[0];
        Task<Outcome<string>> Move(Func<MoveItem, Task<Outcome<string>>> how) => book.Do(how);

        (await Move(m => m.SetApart(New(), item, " ", odd))).Refusal!.Message.ShouldContain("Say why");
        (await Move(m => m.Scrap(New(), item, "no use", odd))).Refusal!.Message.ShouldContain("set it apart first");
        var request = New();
        var said = (await Move(m => m.SetApart(request, item, "dented corner", odd))).Value;
        // The same form sent again is the same act.
        (await Move(m => m.SetApart(request, item, "dented corner", odd))).Value.ShouldBe(said);
        (await Move(m => m.ToBin(New(), item, "A-03", odd))).Refusal!.Message.ShouldContain("not on a shelf");
        (await Move(m => m.Release(New(), item, "QUARANTINE", "only the sleeve", odd))).Refusal!.Message.ShouldContain(
            "set apart"
        );
        (await Move(m => m.Release(New(), item, "b-01", "only the sleeve", odd))).Value.ShouldContain("bin B-01");

        var moves = await book.Do<ViewStock, IReadOnlyList<MovementLine>>(async v =>
            (await v.Item(item)).Value.Movements
        );
        moves[^2].Note.ShouldBe("dented corner");
        (await TakeBack(moves[^2].Id)).Refusal!.Message.ShouldContain("moved on since");
        (await TakeBack(moves[0].Id)).Refusal.ShouldNotBeNull();
        (await TakeBack(moves[^1].Id)).Value.ShouldContain("back in quarantine");
        moves = await book.Do<ViewStock, IReadOnlyList<MovementLine>>(async v => (await v.Item(item)).Value.Movements);
        moves[^1].RightsId.ShouldBe(moves[^2].Id);
        moves[^2].Righted.ShouldBeTrue();
        (await book.Do<ProveStock, IReadOnlyList<ProofLine>>(p => p.OfNumber(Battery))).ShouldAllBe(l => l.Agrees);
        await Proved(book);

        Task<Outcome<string>> TakeBack(long id) =>
            book.Do<TakeBackMovement, Outcome<string>>(t => t.Run(New(), id, "wrong bin scanned", odd));
    }

    [Fact]
    public async Task A_swollen_cell_does_not_go_back_to_a_shelf_unless_saying_so_was_the_mistake()
    {
        await using var book = await databases.NewBook();
        var odd = await book.Person("odd");
        var item = (await Free(book, Battery))[0];
        _ = (await book.Do<MoveItem, Outcome<string>>(m => m.SetApart(New(), item, "swollen in its box", odd))).Value;
        (await Release()).Refusal!.Message.ShouldContain("a swollen cell never goes back to a shelf");
        var said = await book.Ask(db => db.Movements.OrderByDescending(m => m.Id).Select(m => m.Id).FirstAsync());
        _ = (
            await book.Do<TakeBackMovement, Outcome<string>>(t => t.Run(New(), said, "another one was meant", odd))
        ).Value;
        _ = (await book.Do<MoveItem, Outcome<string>>(m => m.SetApart(New(), item, "dented corner", odd))).Value;
        (await Release()).Value.ShouldContain("bin B-01");

        Task<Outcome<string>> Release() =>
            book.Do<MoveItem, Outcome<string>>(m => m.Release(New(), item, "b-01", "looks good to me", odd));
    }

    [Fact]
    public async Task What_is_promised_is_handed_out_by_scan_and_comes_back()
    {
        await using var book = await databases.NewBook();
        var (odd, bo) = (await book.Person("odd"), await book.Person("bo"));
        var free = await Free(book, Battery);
        var repair = await book.Opened(bo, "battery", "battery worn");
        (await Issue(free[0])).Refusal!.Message.ShouldContain("Promise it first");
        _ = (await book.Choose(bo, repair, "battery", free[0])).Value;
        // Another one of the number lay nearer.
        (await Issue(free[1])).Value.ShouldContain("handed out");
        (await Issue(free[1])).Refusal!.Message.ShouldContain("already");
        (await book.View(repair)).Lines.Single().Chosen!.Code.ShouldBe(free[1]);
        (await Free(book, Battery)).ShouldContain(free[0]);
        var other = await book.Opened(bo, "battery", "battery worn", await book.Idle("sandpiper-14"));
        (await book.Choose(bo, other, "battery", free[1])).Refusal!.Message.ShouldContain("another repair");

        (await book.Do<MoveItem, Outcome<string>>(m => m.Return(New(), free[1], null, odd))).Value.ShouldContain(
            "bin A-01"
        );
        (await book.View(repair)).Lines.Single().Chosen.ShouldBeNull();
        await Proved(book);

        Task<Outcome<string>> Issue(string code) =>
            book.Do<IssueItem, Outcome<string>>(i => i.ForRepair(New(), repair, code, odd));
    }

    [Fact]
    public async Task What_was_handed_out_for_a_repair_that_is_withdrawn_is_to_be_put_back()
    {
        await using var book = await databases.NewBook();
        var (bo, odd) = (await book.Person("bo"), await book.Person("odd"));
        var repair = await book.Opened(bo, "battery", "battery worn");
        var item = (await Free(book, Battery))[0];
        (await book.Choose(bo, repair, "battery", item)).Refusal.ShouldBeNull();
        _ = (await book.Do<IssueItem, Outcome<string>>(i => i.ForRepair(New(), repair, item, odd))).Value;
        (await ToPutBack()).ShouldBeEmpty("it is needed");
        _ = (await book.Do<WithdrawRepair, Outcome<string>>(w => w.Run(repair, null, bo))).Value;
        (await ToPutBack()).ShouldBe([(item, Repair.CodeOf(repair))]);
        _ = (await book.Do<MoveItem, Outcome<string>>(m => m.Return(New(), item, null, odd))).Value;
        (await ToPutBack()).ShouldBeEmpty();
        await Proved(book);

        async Task<List<(string, string?)>> ToPutBack() =>
            [
                .. (await book.Do<ViewStock, IReadOnlyList<(Item Item, string? Repair)>>(v => v.ToPutBack())).Select(
                    p => (p.Item.Code, p.Repair)
                ),
            ];
    }

    [Fact]
    public async Task What_was_handed_out_is_fitted_from_the_bench()
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        var repair = await book.OnBench(aled, "battery", "battery worn");
        var item = (await book.View(repair)).Lines.Single().Chosen!.Code;
        _ = (await book.Do<IssueItem, Outcome<string>>(i => i.ForRepair(New(), repair, item, aled))).Value;
        await book.Work(aled, repair);
        _ = (await book.Close(aled, repair)).Value;
        (await book.Ask(db => db.Items.Include(i => i.Unit).SingleAsync(i => i.Code == item))).Unit!.Tag.ShouldBe(
            Job.Unit
        );
        await Proved(book);
    }

    [Fact]
    public async Task A_count_finds_what_is_gone_and_what_is_too_much()
    {
        await using var book = await databases.NewBook();
        var odd = await book.Person("odd");
        var inside = await book.Ask(db =>
            db.Items.Where(i => i.Bin!.Code == "A-01").OrderBy(i => i.Code).Select(i => i.Code).ToListAsync()
        );
        var elsewhere = (await book.Ask(db => db.Items.FirstAsync(i => i.Bin!.Code == "A-03"))).Code;
        var fitted = (await book.Ask(db => db.Items.FirstAsync(i => i.UnitId != null))).Code;
        _ = (await book.Do<CountBin, Outcome<string>>(c => c.Start("A-01", odd))).Value;
        // A part may carry its maker's label alone, and two makers may count alike.
        await book.Sql(
            $"UPDATE items SET serial = CASE code WHEN '{elsewhere}' THEN 'B07-4412' ELSE 'TWICE-1' END WHERE code IN ('{elsewhere}', '{fitted}', '{inside[0]}')"
        );
        foreach (var code in inside.Skip(1).Append("SB07-4412"))
        {
            (await Scan(code)).Refusal.ShouldBeNull();
        }

        (await Scan(inside[1])).Value.ShouldContain("counted already");
        (await Scan(fitted)).Refusal!.Message.ShouldContain("Look into that unit first");
        (await Scan("IT-99999")).Refusal!.Message.ShouldContain("No item carries");
        (await Scan("TWICE-1")).Refusal!.Message.ShouldContain("have that serial");

        var keys = (await book.Do<CountBin, CountView?>(c => c.Find("A-01")))!.Variances.Select(v => v.Key).ToList();
        keys.ShouldBe([inside[0], elsewhere]);
        (await Post([])).Refusal!.Message.ShouldContain("not known");

        // Somebody takes one while the bin is counted: the count is not posted over it.
        _ = (await book.Do<MoveItem, Outcome<string>>(m => m.ToBin(New(), inside[1], "B-01", odd))).Value;
        (await Post(keys)).Refusal!.Reason.ShouldBe(RefusalReason.Stale);
        _ = (await book.Do<CountBin, Outcome<string>>(c => c.LookAgain("A-01", book.Lead))).Value;
        (await Post(keys)).Refusal!.Message.ShouldContain(inside[1]);
        var posted = (await Post([.. keys, inside[1]])).Value;
        posted.ShouldContain($"{inside[0]} is gone");
        posted.ShouldContain($"{inside[1]} is here now");
        (await Post(keys)).Refusal!.Message.ShouldContain("not being counted");
        (await book.Ask(db => db.Items.Where(i => i.Bin!.Code == "A-01").Select(i => i.Code).ToListAsync())).ShouldBe(
            inside.Skip(1).Append(elsewhere),
            ignoreOrder: true
        );
        await Proved(book);

        Task<Outcome<string>> Scan(string code) =>
            book.Do<CountBin, Outcome<string>>(c => c.Scan("A-01", code, book.Lead));

        Task<Outcome<string>> Post(List<string> explained) =>
            book.Do<CountBin, Outcome<string>>(c =>
                c.Post(New(), "A-01", explained.ToDictionary(k => k, _ => (string?)"not known"), odd)
            );
    }

    [Fact]
    public async Task A_count_that_finds_very_much_is_posted_whole()
    {
        await using var book = await databases.NewBook();
        var odd = await book.Person("odd");
        var elsewhere = await book.Ask(db =>
            db.Items.Where(i => i.Bin != null && i.Bin.Code != "A-01" && i.Reservation == null)
                .OrderBy(i => i.Code)
                .Take(60)
                .Select(i => i.Code)
                .ToListAsync()
        );
        elsewhere.Count.ShouldBeGreaterThan(50, "fewer once fitted the column the answer was kept in");
        _ = (await book.Do<CountBin, Outcome<string>>(c => c.Start("A-01", odd))).Value;
        foreach (var code in elsewhere)
        {
            _ = (await book.Do<CountBin, Outcome<string>>(c => c.Scan("A-01", code, book.Lead))).Value;
        }

        var found = (await book.Do<CountBin, CountView?>(c => c.Find("A-01")))!.Variances.Select(v => v.Key).ToList();
        var said = await book.Do<CountBin, Outcome<string>>(c =>
            c.Post(New(), "A-01", found.ToDictionary(k => k, _ => (string?)"a shelf was put into it"), odd)
        );
        said.Value.Length.ShouldBeGreaterThan(1000);
        await Proved(book);
    }

    [Fact]
    public async Task Sachets_are_counted_by_number_and_their_count_follows_from_movements()
    {
        await using var book = await databases.NewBook();
        var odd = await book.Person("odd");
        _ = (await book.Do<CountBin, Outcome<string>>(c => c.Start("B-07", odd))).Value;
        (await Count(-1)).Refusal!.Message.ShouldContain("no count");
        (await Count(3)).Value.ShouldContain("3 of QV-100");
        _ = (
            await book.Do<CountBin, Outcome<string>>(c =>
                c.Post(New(), "B-07", new Dictionary<string, string?> { ["QV-100"] = "two dried out" }, odd)
            )
        ).Value;
        (await book.Do<ProveStock, IReadOnlyList<ProofLine>>(p => p.OfNumber("qv 100")))
            .ShouldHaveSingleItem()
            .ByMovements.ShouldBe("3");
        await Proved(book);

        Task<Outcome<string>> Count(int n) =>
            book.Do<CountBin, Outcome<string>>(c => c.Quantity("B-07", "QV-100", n, book.Lead));
    }

    [Fact]
    public async Task A_delivery_in_two_parcels_is_taken_in_once_each_with_its_cost()
    {
        await using var book = await databases.NewBook();
        var odd = await book.Person("odd");
        var order = await Ordered(book, odd, 3);
        var request = New();
        (await Receive(New(), 4, [])).Refusal!.Message.ShouldContain("still to come");
        (await Receive(New(), 2, ["X1", "X1"])).Refusal!.Message.ShouldContain("scanned twice");
        (await Receive(request, 2, ["X1", "X2"])).Value.ShouldContain("1 still to come");
        (await Receive(request, 2, ["X1", "X2"])).Value.ShouldContain("1 still to come");
        (await Receive(New(), 1, ["X2"])).Refusal!.Message.ShouldContain("in the book already");
        // One part by its whole label, which says serial and lot too.
        var whole = $"[)>\u001E06\u001D1P{Battery}\u001DSX3\u001D1TL-9\u001E\u0004";
        (
            await book.Do<ReceiveOrder, Outcome<string>>(r =>
                r.Run(New(), order, new Delivery(whole, Quantity: 1, Landed: 210), odd)
            )
        ).Value.ShouldContain("bin A-01");
        (await Receive(New(), 1, ["X4"])).Refusal!.Message.ShouldContain("taken in already");
        var items = await book.Ask(db =>
            db.Items.Where(i => new[] { "X1", "X2", "X3" }.Contains(i.Serial)).OrderBy(i => i.Code).ToListAsync()
        );
        items
            .Select(i => (i.Serial, i.Cost, i.Batch))
            .ShouldBe([("X1", 64m, "L-9"), ("X2", 64m, "L-9"), ("X3", 70m, "L-9")]);
        (await book.Ask(db => db.PartOrders.SingleAsync(o => o.Id == order))).State.ShouldBe(OrderState.Received);
        await Proved(book);

        Task<Outcome<string>> Receive(Guid id, int quantity, string[] serials, decimal? landed = null) =>
            book.Do<ReceiveOrder, Outcome<string>>(r =>
                r.Run(id, order, new Delivery(Battery, null, quantity, serials, "L-9", landed), odd)
            );
    }

    /// <param name="line">Of a repair; null: for the shelf.</param>
    internal static async Task<Guid> Ordered(Book book, Actor by, int quantity, RepairLine? line = null)
    {
        var order = new PartOrder
        {
            Id = New(),
            RequestId = New(),
            SupplierId = await book.Ask(db => db.Suppliers.OrderBy(s => s.Name).Select(s => s.Id).FirstAsync()),
            Number = line?.ExpectedIn ?? Battery,
            RepairId = line?.RepairId,
            LineId = line?.Id,
            Grade = Core.Sourcing.PartGrade.Brand,
            Quantity = quantity,
            Freight = "ground",
            Landed = 64 * quantity,
            Currency = "GBP",
            Expected = DateOnly.FromDateTime(DateTime.Now).AddDays(4),
            At = DateTimeOffset.UtcNow,
            ById = by.Id,
        };
        await book.Ask(async db =>
        {
            db.PartOrders.Add(order);
            return await db.SaveChangesAsync();
        });
        return order.Id;
    }

    [Fact]
    public async Task A_donor_is_stripped_and_its_parts_keep_where_they_came_from()
    {
        await using var book = await databases.NewBook();
        var odd = await book.Person("odd");
        var donor = await book.Ask(db =>
            db.Units.Where(u => u.State == UnitState.Donor && u.ModelCode == "thimble-11")
                .OrderBy(u => u.Tag)
                .FirstAsync()
        );
        (await Strip(Job.Unit, new Stripped("battery", null, true))).Refusal!.Message.ShouldContain("not a donor");
        (await Strip(donor.Tag, new Stripped("battery", "QQ-77", true))).Refusal!.Message.ShouldContain(
            "Put the passport right first"
        );
        (await Strip(donor.Tag, new Stripped("tail-fin", null, true))).Refusal!.Message.ShouldContain("no slot");
        var said = (await Strip(donor.Tag, new Stripped("board", null, true), new Stripped("fan", null, false))).Value;
        said.ShouldContain("bin C-01");
        said.ShouldContain("quarantine");
        (await Strip(donor.Tag, new Stripped("board", null, true))).Refusal!.Message.ShouldContain(
            "does not know what is in board"
        );
        var board = await book.Ask(db =>
            db.Movements.SingleAsync(m => m.FromUnitId == donor.Id && m.FromSlot == "board")
        );
        board.Reason.ShouldBe(MovementReason.Stripped);
        board.Note.ShouldBe($"from the donor {donor.Tag}");
        await Proved(book);

        Task<Outcome<string>> Strip(string tag, params Stripped[] parts) =>
            book.Do<StripDonor, Outcome<string>>(s => s.Run(New(), tag, parts, "c-01", odd));
    }

    [Fact]
    public async Task A_number_one_slip_from_a_known_one_is_asked_about_before_it_is_known()
    {
        await using var book = await databases.NewBook();
        var somebody = await book.Person("odd");
        (await Add("TW-5R0Q-22011")).Refusal!.Message.ShouldContain("known already");
        (await Add("TW-5ROQ-22O11")).Refusal!.Reason.ShouldBe(RefusalReason.NeedsConfirmation);
        (await Add("TW-5R0Q-2201\u0007")).Refusal.ShouldNotBeNull();
        (await Add("TW-5R0Q-22012", sure: true)).Value.ShouldBe("TW-5R0Q-22012");
        var known = await book.Ask(db =>
            db.CatalogueNumbers.Include(n => n.Fits).SingleAsync(n => n.Number == "TW-5R0Q-22012")
        );
        known.Fits.ShouldContain(f => f.ModelCode == "sandpiper-14" && f.Slot == "battery");
        (await book.Ask(db => db.CatalogueNumbers.SingleAsync(n => n.Number == Battery))).SupersededById.ShouldBe(
            known.Id
        );

        Task<Outcome<string>> Add(string number, bool sure = false) =>
            book.Do<AddNumber, Outcome<string>>(a =>
                a.Run(number, "battery 54 Wh", ItemKind.Battery, [], Battery, sure, somebody)
            );
    }

    [Fact]
    public async Task What_is_below_its_level_is_proposed_and_ordered_once()
    {
        await using var book = await databases.NewBook();
        var odd = await book.Person("odd");
        await Suppliers.Answer(book);
        _ = (await book.Do<SetLevel, Outcome<string>>(l => l.Run(Battery, 6, 8, book.Lead))).Value;
        (await book.Do<SetLevel, Outcome<string>>(l => l.Run(Battery, 6, 2, book.Lead))).Refusal!.Message.ShouldContain(
            "never reaches"
        );
        var mine = await Mine();
        var free = (await Free(book, Battery)).Count;
        mine!.Quantity.ShouldBe(8 - free);
        var request = New();
        (await Order()).Value.ShouldContain("ordered as");
        (await Order()).Value.ShouldContain("ordered as");
        (await book.Ask(db => db.PartOrders.CountAsync(o => o.RequestId == request))).ShouldBe(1);
        (await Mine()).ShouldBeNull("what is coming counts");

        async Task<OrderProposal?> Mine() =>
            (await book.Do<ProposeOrders, OrderProposals>(p => p.Run())).Low.FirstOrDefault(p =>
                p.Line.Number == Battery
            );

        Task<Outcome<string>> Order() =>
            book.Do<PlaceOrder, Outcome<string>>(p =>
                p.ForShelf(request, mine.SupplierId!.Value, Battery, mine.Best!.Bid.Freight.Name, mine.Quantity, odd)
            );
    }
}
