using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fleet;
using Zenrik.Core.Repairs;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Repairs;

namespace Zenrik.Workshop.Tests.Fleet;

public sealed class FleetTests(TemplateDatabase databases)
{
    private static Guid New() => Guid.NewGuid();

    private static Task<UnitPage> List(Book book, UnitQuery query) => book.Do<ListUnits, UnitPage>(l => l.Run(query));

    private static Task<UnitState> State(Book book, string tag) =>
        book.Ask(db => db.Units.Where(u => u.Tag == tag).Select(u => u.State).SingleAsync());

    [Fact]
    public async Task A_unit_stands_where_its_repair_is_and_its_timeline_says_so()
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        var repair = await book.Opened(aled, "battery", "battery worn");
        (await State(book, Job.Unit)).ShouldBe(UnitState.AtCounter);
        _ = (await book.Do<WithdrawRepair, Outcome<string>>(w => w.Run(repair, null, aled))).Value;
        (await State(book, Job.Unit)).ShouldBe(UnitState.InUse);
        repair = await book.OnBench(aled, "battery", "battery worn");
        (await State(book, Job.Unit)).ShouldBe(UnitState.OnBench);
        await book.Work(aled, repair);
        _ = (await book.Close(aled, repair)).Value;
        (await State(book, Job.Unit)).ShouldBe(UnitState.InUse);

        var unit = await book.Ask(db => db.Units.SingleAsync(u => u.Tag == Job.Unit));
        var history = await book.Do<HistoryOf, UnitHistory>(h => h.Run(unit.Id));
        history.Timeline.Select(l => l.Text).ShouldContain(t => t.Contains("on the bench"));
        history.Timeline.Select(l => l.Text).ShouldContain(t => t.StartsWith("In: TW-5R0Q"));
        history.Cost.Minutes.ShouldBeGreaterThan(0);
        (await book.Sql("UPDATE unit_events SET text = ''"))!.ShouldContain("never changed or deleted");
    }

    [Fact]
    public async Task The_list_is_narrowed_by_words_filters_and_what_is_inside()
    {
        await using var book = await databases.NewBook();
        (await List(book, new UnitQuery("SK-00417"))).Rows.ShouldHaveSingleItem().Tag.ShouldBe("SK-00417");
        (await List(book, new UnitQuery("sk"))).Total.ShouldBe(433);
        (await List(book, new UnitQuery("zq"))).Rows.ShouldBeEmpty();
        (await List(book, new UnitQuery("100%_"))).Rows.ShouldBeEmpty();
        var theirs = (await List(book, new UnitQuery("tidewell 11 r"))).Rows;
        theirs.Count.ShouldBeGreaterThan(3);
        theirs.ShouldAllBe(u => u.Site == "Tidewell High" && u.Model == "Thimble 11 R");
        var turns = await List(book, new UnitQuery("13 turn"));
        turns.Rows.ShouldAllBe(u => u.Model == "Sandpiper 13 Turn");
        var retired = await List(book, new UnitQuery("retired"));
        retired.Total.ShouldBe((await List(book, new UnitQuery(State: UnitState.Retired))).Total);
        var inside = await List(book, new UnitQuery("mb2288-0923"));
        inside.Total.ShouldBe(
            await book.Ask(db => db.Items.CountAsync(i => i.UnitId != null && i.Number.Number == "MB 2288-0923-B"))
        );
        var both = await List(book, new UnitQuery("mb2288-0923", Site: "Tidewell High", Order: UnitOrder.Newest));
        both.Rows.ShouldAllBe(u => u.Site == "Tidewell High" && u.Model == "Thimble 11");
        both.Rows.Select(u => u.BoughtOn).ShouldBeInOrder(SortDirection.Descending);
        var (first, second) = (await List(book, new UnitQuery()), await List(book, new UnitQuery(Page: 1)));
        first.More.ShouldBeTrue();
        first.Rows.Concat(second.Rows).Select(u => u.Tag).ShouldBeUnique();
    }

    [Fact]
    public async Task A_box_is_taken_in_whole_or_not_at_all()
    {
        await using var book = await databases.NewBook();
        var tove = await book.Person("tove");
        var units = await book.Ask(db =>
            db.Units.Where(u => u.ModelCode == "thimble-11-r" && u.State == UnitState.InUse)
                .OrderByDescending(u => u.Tag)
                .Take(5)
                .ToListAsync()
        );
        var intake = new Intake { Symptoms = ["no-wireless"], Note = "Box from class 4" };
        var busy = await book.Ask(db =>
            db.Repairs.Where(r => r.State == RepairState.Open).Select(r => r.Unit.Tag).FirstAsync()
        );
        (await TakeIn(New(), [units[0].Tag, busy])).Refusal!.Message.ShouldContain("none of the box");
        (await State(book, units[0].Tag)).ShouldBe(UnitState.InUse);
        (await TakeIn(New(), [])).Refusal!.Message.ShouldContain("Scan the first unit");

        // Scanned by tag, serial or whole label, two of them twice; sent twice at the same moment.
        var whole = $"[)>\u001e06\u001dS{units[1].Serial}\u001e\u0004";
        var lines = await book.Do<TakeInBox, IReadOnlyList<BoxLine>>(b =>
            b.Look([
                units[0].Serial,
                units[0].Tag,
                whole,
                $"S{units[2].Serial}",
                .. units.Skip(1).Select(u => u.Tag.ToLowerInvariant()),
                "QQ1",
                busy,
            ])
        );
        lines.Count(l => l.Ready).ShouldBe(5);
        lines.Single(l => l.Tag == busy).Text.ShouldContain("already");
        var request = New();
        var tags = lines.Where(l => l.Ready).Select(l => l.Tag).ToList();
        var said = await Task.WhenAll(Enumerable.Range(0, 4).Select(_ => TakeIn(request, tags)));
        said.Select(s => s.Value).Distinct().ShouldHaveSingleItem().ShouldContain("5 units are taken in");
        (await book.Ask(db => db.Repairs.CountAsync(r => r.Note == "Box from class 4"))).ShouldBe(5);

        Task<Outcome<string>> TakeIn(Guid id, IReadOnlyList<string> box) =>
            book.Do<TakeInBox, Outcome<string>>(b => b.Run(id, box, intake, tove));
    }

    [Fact]
    public async Task A_unit_is_lost_even_when_lent_and_is_found_again()
    {
        await using var book = await databases.NewBook();
        var odd = await book.Person("odd");
        var lent =
            await book.Ask(db =>
                db.Units.Where(u => u.State == UnitState.Loaned)
                    .OrderBy(u => u.Tag)
                    .Select(u => u.Tag)
                    .FirstOrDefaultAsync()
            ) ?? await book.Idle("thimble-11");
        (await Lost("x")).Refusal!.Message.ShouldContain("3 to 160");
        (await Lost("left on the ferry")).Value.ShouldContain("lost");
        (await State(book, lent)).ShouldBe(UnitState.Lost);
        (await book.Open(odd, "battery", "battery worn", lent)).Refusal.ShouldNotBeNull();
        var request = New();
        (await Found(request)).Refusal.ShouldBeNull();
        (await Found(request)).Refusal.ShouldBeNull("sent twice, done once");
        (await Found(New())).Refusal!.Message.ShouldContain("is not lost");
        (await State(book, lent)).ShouldBe(UnitState.InUse);

        Task<Outcome<string>> Lost(string how) =>
            book.Do<LoseUnit, Outcome<string>>(l => l.Lost(New(), lent, how, odd));
        Task<Outcome<string>> Found(Guid id) =>
            book.Do<LoseUnit, Outcome<string>>(l => l.Found(id, lent, "in a drawer at the school", odd));
    }

    /// <summary>The attack that was answered as done: a number used before by somebody else, or none at all.</summary>
    [Fact]
    public async Task A_request_number_is_its_sender_s_and_its_act_s_alone()
    {
        await using var book = await databases.NewBook();
        var (odd, tove) = (await book.Person("odd"), await book.Person("tove"));
        var units = (await List(book, new UnitQuery("Ebbholm"))).Rows.Take(2).Select(u => u.Tag).ToList();
        var request = New();
        (await Lost(Guid.Empty, units[0], odd)).Refusal!.Message.ShouldContain("no number of its own");
        _ = (await Lost(request, units[0], odd)).Value;
        (await Lost(request, units[1], odd)).Refusal!.Message.ShouldContain("something else already");
        (await Lost(request, units[0], tove)).Refusal!.Message.ShouldContain("something else already");
        (await State(book, units[1])).ShouldNotBe(UnitState.Lost);

        Task<Outcome<string>> Lost(Guid id, string tag, Actor by) =>
            book.Do<LoseUnit, Outcome<string>>(l => l.Lost(id, tag, "left on the ferry", by));
    }

    [Fact]
    public async Task New_units_are_entered_once_and_never_with_a_tag_or_serial_in_use()
    {
        await using var book = await databases.NewBook();
        var odd = await book.Person("odd");
        var known = await book.Ask(db => db.Units.OrderBy(u => u.Tag).FirstAsync());
        var day = new DateOnly(2026, 11, 1);
        (await Enter(new NewUnit(known.Tag, "MX00ZZ0001"))).Refusal!.Message.ShouldContain("used already");
        (await Enter(new NewUnit("SK-00901", known.Serial))).Refusal!.Message.ShouldContain($"it is {known.Tag}");
        (
            await Enter(new NewUnit("SK-00901", "MX00ZZ0001"), new NewUnit("sk-00901", "MX00ZZ0002"))
        ).Refusal!.Message.ShouldContain("twice");
        (await Enter(new NewUnit("SK-00901", "SK-00901"))).Refusal!.Message.ShouldContain("scanned twice");
        (await Enter(new NewUnit("SK-00901", "MX\u0007"))).Refusal!.Message.ShouldContain("Line 1");
        (await book.Ask(db => db.Units.AnyAsync(u => u.Tag == "SK-00901"))).ShouldBeFalse();
        (await Enter(new NewUnit("SK-00901", "MX00ZZ0001"), new NewUnit("SK-00902", "MX00ZZ0002"))).Value.ShouldContain(
            "2 units"
        );
        (await List(book, new UnitQuery("mx00zz"))).Total.ShouldBe(2);

        Task<Outcome<string>> Enter(params NewUnit[] units) =>
            book.Do<RegisterUnits, Outcome<string>>(r =>
                r.Run(New(), "thimble-14", "Tidewell High", day, null, units, odd)
            );
    }

    [Fact]
    public async Task What_is_said_of_a_unit_and_of_all_its_slots_is_put_right_whole_or_not_at_all()
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        var unit = await book.Ask(db => db.Units.SingleAsync(u => u.Tag == Job.Unit));
        var other = await book.Ask(db => db.Units.Where(u => u.Tag != Job.Unit).Select(u => u.Serial).FirstAsync());
        var said = new SaidOfUnit("new-1", "Harbour Hall", null, unit.BoughtOn, unit.BoughtOn.AddYears(3));
        (await Correct(said with { Serial = other })).Refusal!.Message.ShouldContain("already");
        (await Correct(said with { Warranty = unit.BoughtOn.AddDays(-1) })).Refusal!.Message.ShouldContain(
            "before it was bought"
        );
        (await Correct(said with { Site = "" })).Refusal!.Message.ShouldContain("site's name");
        (await Correct(said)).Value.ShouldContain($"serial {unit.Serial} → NEW-1");
        (await Correct(said)).Value.ShouldContain("says so of");
        var texts = await book.Ask(db =>
            db.UnitEvents.Where(e => e.UnitId == unit.Id)
                .OrderByDescending(e => e.Id)
                .Select(e => e.Text)
                .Take(4)
                .ToListAsync()
        );
        texts.ShouldContain($"From {unit.Site} to Harbour Hall");
        texts.ShouldContain($"Serial: {unit.Serial} → NEW-1");

        (await Slots(("battery", "TW-9B3K-1", null), ("attic", "TW-9B3K-2", null))).Refusal!.Message.ShouldStartWith(
            "attic: "
        );
        (await In("battery")).ShouldNotBe("TW-9B3K-1");
        (await Slots(("battery", "TW-9B3K-1", null), ("fan", null, null))).Value.ShouldContain("2 slots");
        ((await In("battery")), (await In("fan"))).ShouldBe(("TW-9B3K-1", null));
        (await Slots(("battery", "[)>\u001E06\u001DPTW-9B3K-1\u001DS4B-0071\u001E\u0004", null))).Value.ShouldContain(
            "1 slot"
        );
        (await book.Ask(db => db.Items.SingleAsync(i => i.UnitId == unit.Id && i.Slot == "battery"))).Serial.ShouldBe(
            "4B-0071"
        );

        Task<Outcome<string>> Correct(SaidOfUnit to) =>
            book.Do<CorrectUnit, Outcome<string>>(c => c.Run(New(), Job.Unit, to, aled));
        Task<Outcome<string>> Slots(params (string, string?, string?)[] slots) =>
            book.Do<CorrectPassport, Outcome<string>>(c => c.All(New(), Job.Unit, slots, "opened and read", aled));
        Task<string?> In(string slot) =>
            book.Ask(db =>
                db.Items.Where(i => i.UnitId == unit.Id && i.Slot == slot)
                    .Select(i => i.Number.Number)
                    .SingleOrDefaultAsync()
            );
    }

    [Fact]
    public async Task Many_are_moved_and_marked_at_once_or_none()
    {
        await using var book = await databases.NewBook();
        var odd = await book.Person("odd");
        var tags = (await List(book, new UnitQuery("Ebbholm"))).Rows.Take(6).Select(u => u.Tag).ToList();
        (await Do(c => c.Move(New(), [.. tags, "SK-99999"], "Ferry Office", odd))).Refusal!.Message.ShouldContain(
            "on any of them"
        );
        (await Do(c => c.Move(New(), [], "Ferry Office", odd))).Refusal!.Message.ShouldContain("ticked");
        // Two bulk changes with units in common, the other way round: neither waits for the other for ever.
        var both = await Task.WhenAll(
            Do(c => c.Move(New(), tags, "Ferry Office", odd)),
            Do(c => c.Mark(New(), [.. Enumerable.Reverse(tags)], "New chargers", odd))
        );
        both.ShouldAllBe(o => o.Refusal == null);
        (await List(book, new UnitQuery(Campaign: "New chargers", Site: "Ferry Office"))).Total.ShouldBe(6);
        (await Do(c => c.Done(New(), [.. tags.Take(2)], "New chargers", odd))).Value.ShouldContain("2 units");
        (await List(book, new UnitQuery(Campaign: "New chargers"))).Total.ShouldBe(4);
        (await Do(c => c.Mark(New(), tags, "New chargers", odd))).Value.ShouldContain("4 needed no change");

        Task<Outcome<string>> Do(Func<ChangeUnits, Task<Outcome<string>>> change) => book.Do(change);
    }

    [Fact]
    public async Task A_loan_unit_goes_out_comes_back_and_comes_back_broken()
    {
        await using var book = await databases.NewBook();
        var tove = await book.Person("tove");
        var tag = (await List(book, new UnitQuery(Loaners: true, State: UnitState.InUse))).Rows[0].Tag;
        (await Out(Job.Unit)).Refusal!.Message.ShouldContain("not in the loan pool");
        var both = await Task.WhenAll(Out(tag), Out(tag));
        both.Count(o => o.Refusal is null).ShouldBe(1);
        (await State(book, tag)).ShouldBe(UnitState.Loaned);
        (await book.Do<LendUnit, Outcome<string>>(l => l.Back(New(), tag, tove))).Value.ShouldContain("back");
        (await book.Do<LendUnit, Outcome<string>>(l => l.Back(New(), tag, tove))).Refusal!.Message.ShouldContain(
            "not on loan"
        );
        _ = (await Out(tag)).Value;
        await book.TakeIn(tove, tag, "keys-dead");
        (await State(book, tag)).ShouldBe(UnitState.AtCounter);
        (await book.Ask(db => db.Loans.CountAsync(l => l.Unit.Tag == tag && l.BackAt == null))).ShouldBe(0);

        Task<Outcome<string>> Out(string unit) =>
            book.Do<LendUnit, Outcome<string>>(l => l.Out(New(), unit, "Edda Strand", null, "R-1004", tove));
    }
}
