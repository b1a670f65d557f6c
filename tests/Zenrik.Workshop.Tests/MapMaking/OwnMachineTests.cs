using System.IO.Compression;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.Fit;
using Zenrik.Core.MapMaking;
using Zenrik.Core.Parts;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Stock;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.BenchLedger;
using Zenrik.Workshop.Fit;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.MapMaking;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.ServiceMaps;
using Zenrik.Workshop.Stock;
using Zenrik.Workshop.Tests.Repairs;

namespace Zenrik.Workshop.Tests.MapMaking;

/// <summary>A machine nobody here has seen: from its entry to a published map, by working on it.</summary>
public sealed class OwnMachineTests(TemplateDatabase databases)
{
    private static readonly ModelFacts Corncrake = new("Tarnwell", "Corncrake 12", DeviceClass.Laptop, null, null, 480);

    private static NamedThing Part(string name, bool exchanged = false, params string[] held) =>
        new()
        {
            Kind = NamedKind.Part,
            Name = name,
            Exchanged = exchanged,
            Held = held,
        };

    private static NamedThing Screws(string name, int count) =>
        new()
        {
            Kind = NamedKind.Screws,
            Name = name,
            Count = count,
        };

    private static readonly NamedThing Isolated = new() { Kind = NamedKind.Isolation, Name = "battery plug" };

    private static readonly NamedThing[] DownToTheBattery =
    [
        Screws("base screws", 8),
        Part("base cover", held: "undo:base-screws"),
        Isolated,
        Part("battery", true, "isolate:isolation"),
    ];

    private static async Task<string> Entered(Book book, Actor by, params string[] tags)
    {
        var model = (await book.Do<KeepModel, Outcome<string>>(m => m.Add(Corncrake, by))).Value;
        _ = (
            await book.Do<RegisterUnits, Outcome<string>>(r =>
                r.Run(
                    Guid.NewGuid(),
                    model,
                    "Ferry Office",
                    new DateOnly(2025, 3, 1),
                    null,
                    [.. tags.Select((t, i) => new NewUnit(t, $"PL{i}0{t[^3..]}"))],
                    by
                )
            )
        ).Value;
        return model;
    }

    /// <summary>A free session in which things come off in the given order and go back in the reverse one.</summary>
    private static async Task<long> Repaired(Book book, Actor by, string tag, params NamedThing[] things)
    {
        var repair = await book.TakeIn(by, tag, "will-not-charge");
        _ = (await book.Start(by, repair)).Value;
        var bench = await book.Work(by, repair, "check:start");
        var number = 4711;
        foreach (var thing in things)
        {
            await Go(new Entry.Named(bench.Ledger.Current!.Number, thing));
            if (bench.Ledger.Current is { Act.Kind: ActKind.ReadRemoved } label)
            {
                await Go(new Entry.NumberRead(label.Number, $"PLV-{number++}-001", false));
            }
        }

        while (bench.Ledger.Current is { } step)
        {
            await Go(
                step.Act.Kind == ActKind.ReadFitted
                    ? new Entry.NumberRead(step.Number, $"PLV-{number++}-001", false)
                    : bench.Proper()
            );
        }

        _ = (await book.Close(by, repair)).Value;
        return repair;

        async Task Go(Entry entry) => bench = (await book.Record(by, repair, bench.Sequence, entry)).Value;
    }

    [Fact]
    public async Task Of_two_alike_the_one_whose_label_was_read_goes_into_a_machine_without_a_map()
    {
        await using var book = await databases.NewBook();
        var (aled, odd) = (await book.Person("aled"), await book.Person("odd"));
        await Entered(book, aled, "SK-90001");
        var alike = await book.Ask(async db =>
            (
                await db
                    .Items.Include(i => i.Bin)
                    .Where(i => i.BinKind == BinKind.Shelf && i.Reservation == null)
                    .ToListAsync()
            )
                .GroupBy(i => i.NumberId)
                .First(g => g.Count() > 1)
                .OrderBy(i => i.Code)
                .Take(2)
                .ToList()
        );
        var (first, second) = (alike[0], alike[1]);
        var repair = await book.TakeIn(aled, "SK-90001", "will-not-charge");
        _ = (await book.Start(aled, repair)).Value;
        var bench = await book.Work(aled, repair, "check:start");
        foreach (var thing in DownToTheBattery)
        {
            bench = (await book.Record(aled, repair, bench.Sequence, new Entry.Named(At(), thing))).Value;
        }

        _ = (await Read("PLV-4711-001")).Value;
        bench = await book.Work(aled, repair, "read-fitted:battery");
        var promised = await book.Ask(db =>
            db.Items.FirstAsync(i => i.Reservation != null && i.BinKind == BinKind.Shelf)
        );
        (await Read(promised.Code)).Refusal!.Message.ShouldContain("promised to another repair");
        (await Read("it-99999")).Refusal!.Message.ShouldContain("There is no item IT-99999");
        bench = (await Read(second.Code)).Value;
        bench.Ledger.Numbers[^1].Item.ShouldBe(second.Code);
        await book.Work(aled, repair);

        _ = (await book.Do<MoveItem, Outcome<string>>(m => m.SetApart(Guid.NewGuid(), second.Code, "bent", odd))).Value;
        (await book.Close(aled, repair)).Refusal!.Message.ShouldContain("Its label was read at the bench");
        (await Battery()).ShouldBeNull("nothing is half done");
        _ = (
            await book.Do<MoveItem, Outcome<string>>(m =>
                m.Release(Guid.NewGuid(), second.Code, second.Bin!.Code, "it is not", odd)
            )
        ).Value;
        (await book.Close(aled, repair)).Refusal.ShouldBeNull();
        (await Battery()).ShouldBe(second.Code);
        (await book.Ask(db => db.Items.SingleAsync(i => i.Id == first.Id))).BinKind.ShouldBe(BinKind.Shelf);
        await Stock.StoresTests.Proved(book);

        int At() => bench.Ledger.Current!.Number;

        Task<Outcome<BenchView>> Read(string label) =>
            book.Do<ReadLabel, Outcome<BenchView>>(r =>
                r.Run(repair, Guid.NewGuid(), bench.Sequence, new Entry.NumberRead(At(), label, false), aled)
            );

        Task<string?> Battery() =>
            book.Ask(db =>
                db.Items.Where(i => i.Unit!.Tag == "SK-90001" && i.Slot == "battery")
                    .Select(i => (string?)i.Code)
                    .SingleOrDefaultAsync()
            );
    }

    private static Task<DraftView> Draft(Book book, string model) =>
        book.Do<ViewDraft, DraftView>(async d => (await d.Run(model)).Value);

    [Fact]
    public async Task A_machine_of_ones_own_is_planned_from_its_second_repair_on_and_published_by_a_lead()
    {
        await using var book = await databases.NewBook();
        var (aled, bo, mara) = (await book.Person("aled"), await book.Person("bo"), await book.Person("mara"));
        var model = await Entered(book, aled, "SK-90001", "SK-90002", "SK-90003");
        (await Draft(book, model)).Draft.IsEmpty.ShouldBeTrue();

        await Repaired(
            book,
            aled,
            "SK-90001",
            Screws("base screws", 8),
            Part("base cover", held: "undo:base-screws"),
            Isolated,
            Screws("fan screws", 3),
            Part("fan", true, "undo:fan-screws"),
            Screws("battery screws", 4),
            Part("battery", true, "isolate:isolation", "undo:battery-screws")
        );
        var draft = await Draft(book, model);
        draft.Draft.From.ShouldBe((1, 1));
        draft.Map.Assemblies.Select(a => a.Name).ShouldBe(["battery", "fan"]);
        draft.Map.Part(PartId.Of("battery")).Cells.ShouldBeTrue();
        draft.Map.Waits.ShouldContain(w => w.What == "lift-out:battery" && w.After == "lift-out:fan");

        // The second one is planned: base, battery plug, and by what is known so far the fan before the battery.
        var second = await book.Opened(bo, "battery", "battery does not work", "SK-90002");
        var view = await book.View(second);
        view.Plan!.Acts.ShouldContain(Act.LiftOut(PartId.Of("fan")));
        view.Plan.Acts.Count(a => a.Kind == ActKind.ReadFitted).ShouldBe(1);

        // The bench is asked while it can be seen: the fan is about to come out.
        var asked = (await book.Do<AskAtBench, BenchQuestion?>(a => a.Run(model, Until(view.Plan, "fan"))))!;
        (asked.What, asked.After, asked.Version).ShouldBe(("battery", "fan", draft.Version));
        (await book.Do<AskAtBench, BenchQuestion?>(a => a.Run(model, Until(view.Plan, "battery")))).ShouldBeNull();
        // Cells are asked about and never tried.
        asked.Probe.ShouldBeNull();

        // Somebody sees that it need not be so.
        var seen = draft.Version;
        var request = Guid.NewGuid();
        Task<Outcome<string>> Say(Statement what, int version, Guid? id = null) =>
            book.Do<SayOfModel, Outcome<string>>(s => s.Run(id ?? Guid.NewGuid(), model, version, what, bo));
        var denied = new Statement.NeedNot("lift-out:battery", "lift-out:fan");
        _ = (await Say(denied, seen, request)).Value;
        _ = (await Say(denied, seen, request)).Value;
        (await Say(denied, seen)).Refusal!.Reason.ShouldBe(RefusalReason.Stale);
        (await book.View(second)).Plan!.Acts.ShouldNotContain(Act.LiftOut(PartId.Of("fan")));
        (await Draft(book, model)).Steps.Count.ShouldBe(2);

        // What was said can be taken back, once, and said again.
        var said = (await Draft(book, model)).Steps[0].Version;
        Task<Outcome<string>> TakeBack(int version) =>
            book.Do<SayOfModel, Outcome<string>>(s => s.TakeBack(Guid.NewGuid(), model, version, bo));
        _ = (await TakeBack(said)).Value;
        (await book.View(second)).Plan!.Acts.ShouldContain(Act.LiftOut(PartId.Of("fan")));
        (await TakeBack(said)).Value.ShouldContain("already");
        (await TakeBack(seen)).Refusal!.Message.ShouldContain("Only what was said");

        // Another order at a bench says the same by itself.
        await Repaired(
            book,
            bo,
            "SK-90003",
            Screws("base screws", 8),
            Part("base cover", held: "undo:base-screws"),
            Isolated,
            Screws("battery screws", 4),
            Part("battery", true, "isolate:isolation", "undo:battery-screws")
        );
        (await book.View(second)).Plan!.Acts.ShouldNotContain(Act.LiftOut(PartId.Of("fan")));

        // A session begun by the draft keeps it, whatever becomes of the draft.
        var item = (await book.View(second)).Lines.Single();
        item.Candidates.ShouldBeEmpty();
        var version = (await Draft(book, model)).Version;
        Task<Outcome<string>> Publish(int at) =>
            book.Do<PublishMap, Outcome<string>>(p => p.Draft(Guid.NewGuid(), model, at, mara));
        (await Publish(seen)).Refusal!.Reason.ShouldBe(RefusalReason.Stale);
        (await Publish(version)).Value.ShouldContain("published");
        (await Publish(version)).Refusal!.Message.ShouldContain("as it stands");
        var map = await book.Do<ServiceMapShelf, ServiceMap?>(s => s.Newest(model));
        map!.Revision.ShouldBe(version + 1);
        map.Changed.ShouldBe("Made from 2 sessions of 2 people.");
        (await book.View(second)).Plan!.Map.Revision.ShouldBe(map.Revision);

        // The draft goes on: what is said or seen from now on is in the next edition, and shown before.
        _ = (await Say(new Statement.Called("lift-out:fan", "blower"), version)).Value;
        (await book.Do<ServiceMapShelf, ServiceMap?>(s => s.Newest(model)))!
            .Part(PartId.Of("fan"))
            .Name.ShouldBe("fan");
        var ahead = await Draft(book, model);
        ahead.Version.ShouldBe(map.Revision + 1);
        ahead
            .Unpublished.Select(c => $"{c.Kind} {c.What} {c.Name}")
            .ShouldBe(["Altered part blower", "Altered assembly blower"]);
        (await Publish(ahead.Version)).Value.ShouldContain($"revision {ahead.Version + 1}");
        (await Draft(book, model)).Unpublished.ShouldBeEmpty();
    }

    [Fact]
    public async Task A_session_by_a_draft_can_be_read_when_the_draft_has_grown()
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        var model = await Entered(book, aled, "SK-90001", "SK-90002");
        await Repaired(book, aled, "SK-90001", DownToTheBattery);
        // What came out of the first one is good after all and goes into the second: it is listed for the slot by now.
        var repair = await OnTheBench(book, aled, "SK-90002", "battery", "PLV-4711-001");
        var bench = await book.Bench(repair);
        var version = bench.Session.MapRevision!.Value;
        _ = (
            await book.Do<SayOfModel, Outcome<string>>(s =>
                s.Run(Guid.NewGuid(), model, version, new Statement.Called("lift-out:battery", "main battery"), aled)
            )
        ).Value;

        // The session goes on by the draft it began with, and what it finds flows into the one that has grown.
        while ((bench = await book.Bench(repair)).Ledger.Current is { } step)
        {
            bench.Model.Revision.ShouldBe(version);
            bench.Model.Part(PartId.Of("battery")).Name.ShouldBe("battery");
            Entry entry = step.Act.ToString() switch
            {
                "undo:base-screws" when bench.Ledger.Count is null => new Entry.CountDiffers(
                    step.Number,
                    7,
                    Difference.MapWrong,
                    "one never was there"
                ),
                "read-removed:battery" => new Entry.NumberRead(step.Number, "PLV-4899-001", false),
                _ => bench.Proper(),
            };
            _ = (await book.Record(aled, repair, bench.Sequence, entry)).Value;
        }

        _ = (await book.Close(aled, repair)).Value;
        var draft = await Draft(book, model);
        draft.Draft.From.Sessions.ShouldBe(2);
        draft.Map.Fastener(FastenerId.Of("base-screws")).Count.ShouldBe(7);
        draft.Map.Part(PartId.Of("battery")).Name.ShouldBe("main battery");
        (await book.Ask(db => db.MapFindings.CountAsync(f => f.ModelCode == model))).ShouldBe(0);
    }

    [Fact]
    public async Task A_model_is_entered_once_and_kept_right()
    {
        await using var book = await databases.NewBook();
        var (aled, mara) = (await book.Person("aled"), await book.Person("mara"));
        Task<Outcome<string>> Add(ModelFacts facts) => book.Do<KeepModel, Outcome<string>>(m => m.Add(facts, aled));
        (await Add(Corncrake with { Name = " corncrake   12 " })).Value.ShouldBe("corncrake-12");
        (await Add(Corncrake)).Value.ShouldBe("corncrake-12");
        (await Add(Corncrake with { Name = "Corncrake_12" })).Value.ShouldBe("corncrake-12-2");
        (await Add(Corncrake with { Name = "..." })).Refusal!.Message.ShouldContain("The model's name");
        (await Add(Corncrake with { Maker = null })).Refusal!.Message.ShouldContain("The maker");
        (await Add(Corncrake with { Class = null })).Refusal!.Message.ShouldContain("laptop or a Chromebook");
        (await Add(Corncrake with { NewPrice = -1 })).Refusal!.Message.ShouldContain("between 0");

        Task<Outcome<string>> Change(string code, ModelFacts facts) =>
            book.Do<KeepModel, Outcome<string>>(m => m.Change(code, facts, mara));
        (await Change("corncrake-12-2", Corncrake)).Refusal!.Message.ShouldContain("already");
        (await Change("nothing", Corncrake)).Refusal!.Reason.ShouldBe(RefusalReason.NotFound);
        (await Change("corncrake-12", Corncrake with { LifeMonths = 48 })).Value.ShouldContain("Corncrake 12");
        // Two that enter it at once enter one.
        var both = await Task.WhenAll(
            Add(Corncrake with { Name = "Corncrake 14" }),
            Add(Corncrake with { Name = "CORNCRAKE 14" })
        );
        both[0].Value.ShouldBe(both[1].Value);
    }

    [Fact]
    public async Task A_map_from_a_file_enters_its_model_and_revises_it()
    {
        await using var book = await databases.NewBook();
        var mara = await book.Person("mara");
        var map = (await book.Do<ServiceMapShelf, ServiceMap?>(s => s.Newest("sandpiper-14")))!;
        var mine = map with { Model = map.Model with { Code = "corncrake-14", Name = "Corncrake 14" } };
        Task<Outcome<string>> Import(string? json, Guid? id = null) =>
            book.Do<PublishMap, Outcome<string>>(p => p.File(id ?? Guid.NewGuid(), json, mara));
        (await Import(ServiceMapReader.Write(mine))).Value.ShouldContain("revision 1");
        (await Import(ServiceMapReader.Write(mine))).Value.ShouldContain("Nothing was changed");
        (
            await Import(
                ServiceMapReader.Write(
                    mine with
                    {
                        Parts = [.. mine.Parts.Select(p => p.Fixed ? p : p with { Seconds = 9 })],
                    }
                )
            )
        ).Value.ShouldContain("revision 2");
        (await Import("{}")).Refusal!.Message.ShouldContain("no usable map");
        (await Import(null)).Refusal!.Message.ShouldContain("no usable map");
        (
            await Import(ServiceMapReader.Write(mine with { Model = mine.Model with { Name = "Heron 14" } }))
        ).Refusal!.Message.ShouldContain("is the Tarnwell Corncrake 14 here");
        _ = await book.Opened(mara, "battery", "battery worn");
        (
            await Import(
                ServiceMapReader.Write(
                    map with
                    {
                        Assemblies = [.. map.Assemblies.Where(a => a.Id.Value != "battery")],
                    }
                )
            )
        ).Refusal!.Message.ShouldContain("waits for a battery");
    }

    /// <summary>A repair by the draft in which the part that came out of an earlier one goes in again.</summary>
    private static async Task<long> OnTheBench(Book book, Actor by, string tag, string part, string number)
    {
        var old = await book.Ask(db =>
            db.Items.Where(i => i.BinKind == BinKind.Quarantine && i.Number.Number == number)
                .Select(i => i.Code)
                .FirstAsync()
        );
        _ = (
            await book.Do<MoveItem, Outcome<string>>(m =>
                m.Release(Guid.NewGuid(), old, "B-01", "measured, it is fine", by)
            )
        ).Value;
        var repair = await book.Opened(by, part, $"{part} does not work", tag);
        _ = (await book.Choose(by, repair, part, old)).Value;
        _ = (await book.Start(by, repair)).Value;
        return repair;
    }

    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public async Task What_is_worth_trying_is_tried_at_the_bench_and_the_draft_learns_from_it_either_way(bool comes)
    {
        await using var book = await databases.NewBook();
        var (aled, bo) = (await book.Person("aled"), await book.Person("bo"));
        var model = await Entered(book, aled, "SK-90001", "SK-90002");
        NamedThing[] byWayOfTheCage =
        [
            Screws("base screws", 8),
            Part("base cover", held: "undo:base-screws"),
            Isolated,
            new()
            {
                Kind = NamedKind.Joint,
                Name = "fan plug",
                Joint = JointKind.WirePlug,
            },
            Screws("cage screws", 6),
            Part("drive cage", held: "undo:cage-screws"),
            Screws("fan screws", 3),
            Part("fan", true, "undo:fan-screws", "open:fan-plug"),
        ];
        await Repaired(book, aled, "SK-90001", byWayOfTheCage);
        var repair = await OnTheBench(book, bo, "SK-90002", "fan", "PLV-4711-001");
        var bench = await book.Work(bo, repair, "undo:cage-screws");
        Task<BenchQuestion?> Asked() => book.Do<AskAtBench, BenchQuestion?>(a => a.Run(model, bench.Ledger));
        Task<Outcome<BenchView>> Change(PlanChange change, Guid? id = null) =>
            book.Do<ChangePlan, Outcome<BenchView>>(c =>
                c.Run(repair, id ?? Guid.NewGuid(), bench.Sequence, change, bo)
            );

        // The ways part here: the cage's screws, or the fan's.
        var asked = (await Asked())!;
        (asked.What, asked.After).ShouldBe(("fan", "drive cage"));
        var probe = asked.Probe!;
        probe.IfItComes.ShouldBeLessThan(probe.IfNotTried);
        probe.IfItDoesNot.ShouldBeGreaterThan(probe.IfNotTried);
        (await Change(new PlanChange.Try("lift-out:battery", asked.Wait.After))).Refusal.ShouldNotBeNull();
        (await Change(new PlanChange.Stays())).Refusal!.Message.ShouldContain("Nothing is being tried");
        var request = Guid.NewGuid();
        var wanted = new PlanChange.Try(asked.Wait.What, asked.Wait.After);
        bench = (await Change(wanted, request)).Value;
        (await Change(wanted, request)).Value.Sequence.ShouldBe(bench.Sequence);
        bench.Ledger.Current!.Act.ShouldBe(Act.Undo(FastenerId.Of("fan-screws")));
        bench.Ledger.Plan.Acts.ShouldNotContain(Act.LiftOut(PartId.Of("drive-cage")));
        (await Asked()).ShouldBeNull();

        // Read again from the book it is the same session, and it does not come: the cage first after all.
        bench = await book.Bench(repair);
        bench.Ledger.Trying!.Tried.ShouldBe(Act.LiftOut(PartId.Of("fan")));
        var fanScrews = new Entry.Done(bench.Ledger.Current!.Number, CautionRead: true);
        bench = (await book.Record(bo, repair, bench.Sequence, fanScrews)).Value;
        bench.Ledger.Current!.Act.ShouldBe(Act.LiftOut(PartId.Of("fan")));
        bench = (await Change(new PlanChange.Stays())).Value;
        bench.Ledger.Trying.ShouldBeNull();
        bench.Ledger.Current!.Act.ShouldBe(Act.Undo(FastenerId.Of("cage-screws")));
        (await Asked()).ShouldBeNull();
        if (comes)
        {
            // Said by mistake: taken back, it is tried on.
            bench = (await book.Record(bo, repair, bench.Sequence, new Entry.TakenBack())).Value;
            bench.Ledger.Trying.ShouldNotBeNull();
        }

        while ((bench = await book.Bench(repair)).Ledger.Current is { } step)
        {
            Entry entry =
                step.Act == Act.ReadRemoved(PartId.Of("fan"))
                    ? new Entry.NumberRead(step.Number, "PLV-4899-001", false)
                    : bench.Proper();
            _ = (await book.Record(bo, repair, bench.Sequence, entry)).Value;
        }

        bench.Ledger.Trying.ShouldBeNull();
        _ = (await book.Close(bo, repair)).Value;
        var draft = await Draft(book, model);
        var acts = TeardownPlanner.Plan(draft.Map, [new Goal.Replace(AssemblyId.Of("fan"))]).Value.Acts;
        acts.Contains(Act.LiftOut(PartId.Of("drive-cage"))).ShouldBe(!comes);
        draft.Steps.Count(s => s.Statement is Statement.Needs).ShouldBe(comes ? 0 : 1);
    }

    [Fact]
    public async Task What_a_new_part_brings_is_asked_once_when_it_is_about_to_be_moved_over()
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        var model = await Entered(book, aled, "SK-90001", "SK-90002", "SK-90003", "SK-90004");
        NamedThing[] deckFirst =
        [
            Screws("base screws", 8),
            Part("base cover", held: "undo:base-screws"),
            Isolated,
            Screws("deck screws", 12),
            Part("deck", true, "undo:deck-screws"),
            Screws("pad screws", 4),
            Part("touchpad", held: "undo:pad-screws"),
        ];
        await Repaired(book, aled, "SK-90001", deckFirst);
        var draft = await Draft(book, model);
        _ = (await Said(book, aled, model, draft.Version, new Statement.Rides("touchpad", "deck"))).Value;
        draft = await Draft(book, model);
        _ = (await Said(book, aled, model, draft.Version, new Statement.InSlot("touchpad", "touchpad"))).Value;
        var old = await book.Ask(async db =>
        {
            var unit = await db.Units.SingleAsync(u => u.Tag == "SK-90002");
            var item = await db.Items.Include(i => i.Bin).FirstAsync(i => i.BinKind == BinKind.Shelf);
            var built = new Occasion(aled, book.Clock.GetUtcNow());
            db.Movements.Add(item.MoveTo(unit.Id, "touchpad", MovementReason.Fitted, built));
            await db.SaveChangesAsync();
            return item.Id;
        });

        var repair = await OnTheBench(book, aled, "SK-90002", "deck", "PLV-4711-001");
        var bench = await book.Work(aled, repair, "read-removed:deck");
        var label = new Entry.NumberRead(bench.Ledger.Current!.Number, "PLV-4899-001", false);
        bench = (await book.Record(aled, repair, bench.Sequence, label)).Value;
        // Its screws are undone and it is lifted out in one go: asked before that.
        bench = await book.Work(aled, repair, "undo:pad-screws");
        Task<TransferQuestion?> Asked() => book.Do<AskAtBench, TransferQuestion?>(a => a.Transfer(model, bench.Ledger));
        var asked = (await Asked())!;
        (asked.New, asked.Name).ShouldBe(("deck", "touchpad"));
        bench = (
            await book.Do<ChangePlan, Outcome<BenchView>>(c =>
                c.Run(
                    repair,
                    Guid.NewGuid(),
                    bench.Sequence,
                    new PlanChange.Brings(asked.On.Value, asked.Part.Value),
                    aled
                )
            )
        ).Value;
        (await Asked()).ShouldBeNull();
        bench.Ledger.ToMove.ShouldBeEmpty();
        bench.Ledger.Plan.Acts.Skip(bench.Ledger.DoneSteps).ShouldNotContain(Act.LiftOut(PartId.Of("touchpad")));
        while ((bench = await book.Bench(repair)).Ledger.Current is not null)
        {
            _ = (await book.Record(aled, repair, bench.Sequence, bench.Proper())).Value;
        }

        _ = (await book.Close(aled, repair)).Value;
        (await Draft(book, model)).Draft.Brings(PartId.Of("deck"), PartId.Of("touchpad")).ShouldBe(true);
        // The one recorded in it left on the old deck, and of the new one nobody has read a number.
        var left = await book.Ask(db => db.Items.Include(i => i.Bin).SingleAsync(i => i.Id == old));
        (left.UnitId, left.Bin!.Kind).ShouldBe((null, BinKind.Quarantine));

        // Where the touchpad is exchanged by itself as well, the one that went in stays in.
        var deck = await book.Ask(db =>
            db.Items.Where(i => i.BinKind == BinKind.Quarantine && i.Number.Number == "PLV-4899-001")
                .Select(i => i.Code)
                .SingleAsync(TestContext.Current.CancellationToken)
        );
        var padNumber = await book.Ask(db =>
            db.CatalogueNumbers.Where(n => n.Id == left.NumberId)
                .Select(n => n.Number)
                .SingleAsync(TestContext.Current.CancellationToken)
        );
        foreach (
            var (code, number, slot) in new[] { (deck, "PLV-4899-001", "deck"), (left.Code, padNumber, "touchpad") }
        )
        {
            _ = (await book.Do<DescribeNumber, Outcome<string>>(d => d.List(number, model, slot, aled))).Value;
            _ = (
                await book.Do<MoveItem, Outcome<string>>(m =>
                    m.Release(Guid.NewGuid(), code, "B-01", "measured, it is fine", aled)
                )
            ).Value;
        }

        var replaced = await book.Ask(async db =>
        {
            var unit = await db.Units.SingleAsync(u => u.Tag == "SK-90004");
            var item = await db.Items.Include(i => i.Bin).FirstAsync(i => i.BinKind == BinKind.Shelf && i.Id != old);
            var built = new Occasion(aled, book.Clock.GetUtcNow());
            db.Movements.Add(item.MoveTo(unit.Id, "touchpad", MovementReason.Fitted, built));
            await db.SaveChangesAsync();
            return item.Id;
        });
        var both = Repair
            .NumberOf(
                (
                    await book.Do<OpenRepair, Outcome<string>>(o =>
                        o.Run(
                            "SK-90004",
                            new Intake
                            {
                                Known =
                                [
                                    new Complaint("deck", "deck does not work"),
                                    new Complaint("touchpad", "touchpad does not work"),
                                ],
                            },
                            aled
                        )
                    )
                ).Value
            )!
            .Value;
        _ = (await book.Choose(aled, both, "deck", deck)).Value;
        _ = (await book.Choose(aled, both, "touchpad", left.Code)).Value;
        _ = (await book.Start(aled, both)).Value;
        while ((bench = await book.Bench(both)).Ledger.Current is { } step)
        {
            // No deck is recorded in it: what comes out is read.
            Entry entry =
                step.Act.ToString() == "read-removed:deck"
                    ? new Entry.NumberRead(step.Number, $"PLV-{4900 + step.Number}-001", false)
                    : bench.Proper();
            _ = (await book.Record(aled, both, bench.Sequence, entry)).Value;
        }

        _ = (await book.Close(aled, both)).Value;
        var fitted = await book.Ask(db =>
            db.Items.Include(i => i.Unit).SingleAsync(i => i.Id == old, TestContext.Current.CancellationToken)
        );
        (fitted.Unit?.Tag, fitted.Slot).ShouldBe(("SK-90004", "touchpad"));
        (await book.Ask(db => db.Movements.CountAsync(m => m.ItemId == replaced && m.RepairId != null))).ShouldBe(
            1,
            "the old one came out once"
        );

        // Nothing moves over from what is not out.
        var third = await book.TakeIn(aled, "SK-90003", "will-not-charge");
        _ = (await book.Start(aled, third)).Value;
        bench = await book.Work(aled, third, "check:start");
        (
            await book.Record(
                aled,
                third,
                bench.Sequence,
                new Entry.Named(bench.Ledger.Current!.Number, deckFirst[^1] with { MovesFrom = "deck", Held = [] })
            )
        ).Refusal!.Message.ShouldContain("is not out");
    }

    [Fact]
    public async Task What_came_off_is_placed_while_the_session_goes_on_and_the_session_counts_once()
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        var model = await Entered(book, aled, "SK-90001");
        var repair = await book.TakeIn(aled, "SK-90001", "will-not-charge");
        _ = (await book.Start(aled, repair)).Value;
        var bench = await book.Work(aled, repair, "check:start");
        async Task Go(Entry entry) => bench = (await book.Record(aled, repair, bench.Sequence, entry)).Value;
        Task Off(NamedThing thing) => Go(new Entry.Named(bench.Ledger.Current!.Number, thing));
        Task<Outcome<string>> Place(string what, Shape? shape, Point[]? at, Guid? id = null) =>
            book.Do<PlaceAtBench, Outcome<string>>(p =>
                p.Run(id ?? Guid.NewGuid(), repair, new Statement.Lies(what, shape, at), aled)
            );
        var whole = new Shape.Rect(0, 0, 320, 220);
        (await Place("lift-out:base-cover", whole, null)).Refusal!.Message.ShouldContain("Nothing has come off");

        await Off(DownToTheBattery[0]);
        await Off(DownToTheBattery[1]);
        (await Place("lift-out:fan", whole, null)).Refusal!.Reason.ShouldBe(RefusalReason.NotFound);
        (await Place("undo:base-screws", null, [new(5, 5)])).Refusal!.Message.ShouldContain("8 of them");
        var request = Guid.NewGuid();
        (await Place("lift-out:base-cover", whole, null, request)).Value.ShouldBe("It is placed.");
        (await Place("lift-out:base-cover", whole, null, request)).Value.ShouldBe("It is placed.");
        (await Draft(book, model)).Steps.Count.ShouldBe(2);
        await Off(DownToTheBattery[2]);
        await Off(DownToTheBattery[3]);
        await Go(new Entry.NumberRead(bench.Ledger.Current!.Number, "PLV-4711-001", false));
        _ = (await Place("lift-out:battery", new Shape.Rect(40, 140, 200, 60), null)).Value;

        while (bench.Ledger.Current is { } step)
        {
            await Go(
                step.Act.Kind == ActKind.ReadFitted
                    ? new Entry.NumberRead(step.Number, "PLV-4712-001", false)
                    : bench.Proper()
            );
        }

        _ = (await book.Close(aled, repair)).Value;
        (await Place("lift-out:battery", whole, null)).Refusal!.Message.ShouldContain("not worked on without a map");
        var draft = await Draft(book, model);
        draft.Draft.From.ShouldBe((1, 1));
        draft.Steps.Count(s => s.Repair is not null).ShouldBe(1);
        draft.Draft.Unplaced.ShouldBe(
            [Act.Isolate(draft.Map.Isolation), Act.Undo(FastenerId.Of("base-screws"))],
            ignoreOrder: true
        );
        draft.Map.Part(PartId.Of("battery")).Shape.ShouldBe(new Shape.Rect(40, 140, 200, 60));
    }

    [Fact]
    public async Task A_model_keeps_photographs_of_its_own_and_they_go_along_with_its_map()
    {
        await using var book = await databases.NewBook();
        var (aled, mara) = (await book.Person("aled"), await book.Person("mara"));
        var model = await Entered(book, aled, "SK-90001");
        Task<Outcome<string>> Keep(string code, byte[] file) =>
            book.Do<KeepModelPhoto, Outcome<string>>(k => k.Run(code, file, aled));
        Task<Outcome<string>> Remove(Guid photo) =>
            book.Do<KeepModelPhoto, Outcome<string>>(k => k.Remove(Guid.NewGuid(), model, photo, aled));
        Task<IReadOnlyList<PhotoOfModel>> Photos(string code) =>
            book.Do<ViewDraft, IReadOnlyList<PhotoOfModel>>(d => d.Photos(code));

        (await Keep(model, "no picture"u8.ToArray())).Refusal!.Message.ShouldContain("no picture");
        (await Keep("nothing", PhotoTests.Picture(60, 40))).Refusal!.Reason.ShouldBe(RefusalReason.NotFound);
        // Twice at one moment of the test's clock: two photographs all the same.
        _ = (await Keep(model, PhotoTests.Picture(60, 40))).Value;
        _ = (await Keep(model, PhotoTests.Picture(50, 40))).Value;
        var repair = await Repaired(book, aled, "SK-90001", DownToTheBattery);
        var taken = (
            await book.Do<AddPhoto, Outcome<Guid>>(p =>
                p.Run(repair, PhotoTests.Picture(70, 40), aled, "lift-out:battery")
            )
        ).Value;
        var photos = await Photos(model);
        photos.Count(p => p.Repair is null).ShouldBe(2);
        photos.Single(p => p.Repair is not null).Act.ShouldBe("lift-out:battery");

        // One of its own can lie under the drawing; then it stays.
        var draft = await Draft(book, model);
        var own = photos.First(p => p.Repair is null).Id;
        var laid = new Statement.Pictured(new Underlay(own, 60, 40, new(0, 0), new(0, 0), new(60, 0), new(320, 0)));
        _ = (await Said(book, aled, model, draft.Version, laid)).Value;
        (await Remove(own)).Refusal!.Message.ShouldContain("lies under the drawing");
        (await Remove(taken)).Refusal!.Reason.ShouldBe(RefusalReason.NotFound);

        draft = await Draft(book, model);
        _ = (
            await book.Do<PublishMap, Outcome<string>>(p => p.Draft(Guid.NewGuid(), model, draft.Version, mara))
        ).Value;
        var shared = (await book.Do<ShareMap, SharedMap?>(m => m.Run(model)))!;
        shared.Photos.Count.ShouldBe(3);

        // Another workshop: the same map under another name, its photographs with it, and no second time.
        var there = (await Read(shared.ToZip())).Value;
        there.Photos.Select(p => (p.Act, p.At)).ShouldBe(shared.Photos.Select(p => (p.Act, p.At)));
        var json = there.Json.Replace(model, "corncrake-14").Replace("Corncrake 12", "Corncrake 14");
        Task<Outcome<string>> Take() =>
            book.Do<PublishMap, Outcome<string>>(p => p.File(Guid.NewGuid(), json, mara, there.Photos));
        (await Take()).Value.ShouldContain("revision 1");
        (await Take()).Value.ShouldContain("Its photographs are kept");
        (await Photos("corncrake-14")).Count.ShouldBe(3);

        // Entered twice: they go over, those of one moment once.
        _ = (
            await book.Do<MergeModels, Outcome<string>>(m => m.Run(Guid.NewGuid(), "corncrake-14", model, mara))
        ).Value;
        (await Photos(model)).Count.ShouldBe(4);
        (await Photos("corncrake-14")).ShouldBeEmpty();
        _ = (await Remove((await Photos(model)).First(p => p.Repair is null && p.Id != own).Id)).Value;
    }

    private static Task<Outcome<SharedMap>> Read(byte[] file) =>
        SharedMap.Read(file, TestContext.Current.CancellationToken);

    [Fact]
    public async Task A_zip_that_is_none_of_ours_is_refused_in_a_sentence()
    {
        var none = await Read([(byte)'P', (byte)'K', 3, 4, 5]);
        none.Refusal!.Message.ShouldContain("broken");
        (await Read("{}"u8.ToArray())).Value.Json.ShouldBe("{}");
        (await Read(Zip(("other.txt", "x")))).Refusal!.Message.ShouldContain("no “map.json”");
        (await Read(Zip(("map.json", "{}")))).Value.Photos.ShouldBeEmpty();
        (await Read(Zip(("map.json", new string(' ', ServiceMapReader.MaxBytes + 1))))).Refusal.ShouldNotBeNull();
        foreach (
            var (list, words) in new[]
            {
                ("""[{"file":"../map.jpg","takenAt":"2026-01-01T00:00:00Z"}]""", "holds none of that name"),
                ("""[{"file":"map.json","takenAt":"2026-01-01T00:00:00Z"}]""", "no picture"),
                ("[1]", "cannot be read"),
                ("{", "cannot be read"),
                (
                    "[" + string.Join(',', Enumerable.Repeat("""{"file":"a"}""", SharedMap.MostPhotos + 1)) + "]",
                    "at most 60"
                ),
            }
        )
        {
            (await Read(Zip(("map.json", "{}"), ("photographs.json", list)))).Refusal!.Message.ShouldContain(words);
        }

        static byte[] Zip(params (string Name, string Text)[] entries)
        {
            using var bytes = new MemoryStream();
            using (var zip = new ZipArchive(bytes, ZipArchiveMode.Create, leaveOpen: true))
            {
                foreach (var (name, text) in entries)
                {
                    using var entry = new StreamWriter(zip.CreateEntry(name).Open());
                    entry.Write(text);
                }
            }

            return bytes.ToArray();
        }
    }

    /// <summary>A plan's ledger up to where a part is about to be lifted out.</summary>
    private static Ledger Until(Plan plan, string part)
    {
        var ledger = Ledger.Begin(
            new Brief(plan, new Dictionary<string, PartNumber>(), new Dictionary<string, PartNumber>())
        );
        while (ledger.Current!.Act != Act.LiftOut(PartId.Of(part)))
        {
            ledger = ledger.Add(new Entry.Done(ledger.Current.Number, CautionRead: true)).Value;
        }

        return ledger;
    }

    private static Task<Outcome<string>> Said(Book book, Actor by, string model, int version, Statement what) =>
        book.Do<SayOfModel, Outcome<string>>(s => s.Run(Guid.NewGuid(), model, version, what, by));

    [Fact]
    public async Task What_goes_into_a_slot_is_said_and_numbers_are_judged_by_it()
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        var model = await Entered(book, aled, "SK-90001", "SK-90002");
        // Recorded before there was a map: a slot no map ever had stands in nobody's way.
        (
            await book.Do<CorrectPassport, Outcome<string>>(c =>
                c.Run(Guid.NewGuid(), "SK-90002", "ssd", "PLV-9001-001", null, "read off its label", aled)
            )
        ).Refusal.ShouldBeNull();
        await Repaired(book, aled, "SK-90001", [.. DownToTheBattery, Part("memory", true)]);
        var version = (await Draft(book, model)).Version;
        Specification.Memory memory = new()
        {
            Slot = "memory",
            Generation = "DDR4",
            MegaTransfers = 2666,
        };
        (
            await Said(book, aled, model, version, new Statement.Takes(memory with { Slot = "gills" }))
        ).Refusal!.Message.ShouldContain("gills");
        _ = (await Said(book, aled, model, version, new Statement.Takes(memory))).Value;

        // A stick nobody has listed for this model fits by what the slot takes; an older one does not.
        var passport = await book.Do<PassportOf, Passport>(async p => (await p.Run("SK-90002")).Value);
        var judged = await book.Do<FitOf, IReadOnlyList<JudgedNumber>>(async f =>
            (await f.Slot(passport, "memory")).Value
        );
        judged
            .Where(j =>
                j.Number.Specification is ItemSpecification.Memory { Generation: "DDR4" }
                && j.Answer.Verdict is FitVerdict.Fits or FitVerdict.FitsWithConditions
            )
            .ShouldNotBeEmpty();
        judged
            .Where(j => j.Number.Specification is ItemSpecification.Memory { Generation: "DDR3" })
            .ShouldAllBe(j => j.Answer.Verdict != FitVerdict.Fits);

        // A slot with numbers recorded in it is not taken away, nor the part that has it.
        version = (await Draft(book, model)).Version;
        (
            await Said(book, aled, model, version, new Statement.InSlot("memory", "memory-1"))
        ).Refusal!.Message.ShouldContain("1 unit has a number recorded in the slot “memory”");
        (
            await Said(book, aled, model, version, new Statement.Absent("lift-out:memory"))
        ).Refusal!.Message.ShouldContain("recorded in the slot");
        (await Draft(book, model)).Version.ShouldBe(version);
    }

    [Fact]
    public async Task A_model_is_begun_as_a_like_one_and_what_a_session_does_without_goes()
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        var model = await Entered(book, aled, "SK-90001", "SK-90002");
        Task<Outcome<string>> Copy(string? from, int seen) =>
            book.Do<SayOfModel, Outcome<string>>(s => s.Copy(Guid.NewGuid(), model, seen, from, aled));
        (await Copy(model, 0)).Refusal!.Message.ShouldContain("one with a map");
        (await Copy("nothing", 0)).Refusal!.Message.ShouldContain("one with a map");
        (await Copy("thimble-11-r", 0)).Refusal!.Message.ShouldContain("set aside");
        (await Copy("sandpiper-14", 0)).Value.ShouldContain("Sandpiper 14");
        var draft = await Draft(book, model);
        (await Copy("coot-14", draft.Version)).Refusal!.Message.ShouldContain("already");
        draft.Draft.Like.ShouldBe("Sandpiper 14");
        draft.Draft.NotSeen.ShouldContain(Act.LiftOut(PartId.Of("fan")));

        // The first repair already has a plan, and what is to be ordered.
        var repair = await book.Opened(aled, "battery", "battery does not work", "SK-90001");
        (await book.View(repair)).Plan!.Acts.ShouldContain(Act.LiftOut(PartId.Of("battery")));
        (
            await book.Do<SayOfModel, Outcome<string>>(s =>
                s.TakeBack(Guid.NewGuid(), model, draft.Steps[0].Version, aled)
            )
        ).Refusal!.Message.ShouldContain("waits for a battery");
        _ = (await Said(book, aled, model, draft.Version, new Statement.Seen("lift-out:fan"))).Value;
        (await Draft(book, model)).Draft.NotSeen.ShouldNotContain(Act.LiftOut(PartId.Of("fan")));
    }

    [Fact]
    public async Task Two_entries_of_one_machine_become_one_and_a_retired_model_takes_no_new_unit()
    {
        await using var book = await databases.NewBook();
        var (aled, mara) = (await book.Person("aled"), await book.Person("mara"));
        var model = await Entered(book, aled, "SK-90001");
        var twice = (
            await book.Do<KeepModel, Outcome<string>>(m =>
                m.Add(Corncrake with { Name = "Corncrake XII", WarrantyMonths = 36 }, aled)
            )
        ).Value;
        Task<Outcome<string>> Register(string to, string tag) =>
            book.Do<RegisterUnits, Outcome<string>>(r =>
                r.Run(
                    Guid.NewGuid(),
                    to,
                    "Tidewell",
                    new DateOnly(2025, 3, 1),
                    null,
                    [new NewUnit(tag, $"Q{tag[^5..]}")],
                    aled
                )
            );
        Task<Outcome<string>> Merge(string code, string? into, Guid? id = null) =>
            book.Do<MergeModels, Outcome<string>>(m => m.Run(id ?? Guid.NewGuid(), code, into, mara));
        _ = (await Register(twice, "SK-90002")).Value;
        (
            await book.Ask(db => db.Units.Where(u => u.Tag == "SK-90002").Select(u => u.WarrantyUntil).SingleAsync())
        ).ShouldBe(new DateOnly(2028, 2, 29));
        await Repaired(book, aled, "SK-90001", DownToTheBattery);
        await Repaired(book, mara, "SK-90002", DownToTheBattery);

        (await Merge(twice, twice)).Refusal!.Message.ShouldContain("Choose");
        (await Merge(twice, "nothing")).Refusal!.Reason.ShouldBe(RefusalReason.NotFound);
        (await Merge(twice, "thimble-11")).Refusal!.Message.ShouldContain("Chromebook");
        (await Merge("sandpiper-14", twice)).Refusal.ShouldNotBeNull();
        var open = await book.Opened(aled, "battery", "battery does not work", "SK-90002");
        (await Merge(twice, model)).Refusal!.Message.ShouldContain("underway");
        _ = (await book.Do<WithdrawRepair, Outcome<string>>(w => w.Run(open, null, aled))).Value;

        var request = Guid.NewGuid();
        (await Merge(twice, model, request)).Value.ShouldContain("Corncrake 12 from now on");
        (await Merge(twice, model, request)).Value.ShouldContain("Corncrake 12 from now on");
        (await Merge(twice, model)).Refusal!.Message.ShouldContain("already");
        (await book.Ask(db => db.Units.CountAsync(u => u.ModelCode == model))).ShouldBe(2);
        var draft = await Draft(book, model);
        draft.Draft.From.ShouldBe((2, 2));
        (await book.Ask(db => db.CatalogueFits.CountAsync(f => f.ModelCode == twice))).ShouldBe(0);
        // Both sessions read the same two numbers.
        (await book.Ask(db => db.CatalogueFits.CountAsync(f => f.ModelCode == model))).ShouldBe(2);
        (await Register(twice, "SK-90003")).Refusal!.Message.ShouldContain("retired");
        // Entered once more by its other name it is the one that stayed.
        (
            await book.Do<KeepModel, Outcome<string>>(m => m.Add(Corncrake with { Name = "corncrake xii" }, aled))
        ).Value.ShouldBe(model);
    }
}
