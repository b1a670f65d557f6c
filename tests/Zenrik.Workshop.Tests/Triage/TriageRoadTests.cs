using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fit;
using Zenrik.Core.Repairs;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Sourcing;
using Zenrik.Core.Triage;
using Zenrik.Workshop.Fit;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.ServiceMaps;
using Zenrik.Workshop.Shipped;
using Zenrik.Workshop.Triage;

namespace Zenrik.Workshop.Tests.Triage;

/// <summary>From what a user notices to what is exchanged, on real rows.</summary>
public sealed class TriageRoadTests(TemplateDatabase databases)
{
    [Fact]
    public async Task What_may_be_needed_is_weighed_for_ordering_before_it_is_sure()
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        var repair = await book.TakeIn(aled, await book.Idle("sandpiper-14"), "pointer-dead");
        _ = await Answer(book, repair, Guid.NewGuid(), new TriageStep.Tested("firmware-input", "dead"));

        // Nobody has asked a supplier: no offer is known.
        var part = (await Ahead(book, repair)).Single(a => a.Assembly.Contains("touchpad"));
        part.Chance.ShouldBeInRange(0.1, 0.95);
        part.Order.ShouldBeNull();
        (
            await book.Sql(
                "UPDATE items SET bin_id = (SELECT id FROM bins WHERE kind = 'Quarantine'), bin_kind = 'Quarantine' WHERE bin_kind = 'Shelf'"
            )
        ).ShouldBeNull();
        (await Ahead(book, repair)).ShouldAllBe(a => a.Free == 0 && a.Order == null);

        // A supplier that hands over on Mondays alone has one: what is saved is what the calendar says.
        var numbers = await book.Ask(db =>
            db.CatalogueFits.Where(f => f.ModelCode == "sandpiper-14" && f.Slot == "touchpad")
                .Join(db.CatalogueNumbers, f => f.NumberId, n => n.Id, (f, n) => n.Canonical)
                .ToListAsync()
        );
        await book.Ask(async db =>
        {
            var supplier = await db.Suppliers.OrderBy(s => s.Name).FirstAsync();
            var ferry = new FreightOption(
                "ferry",
                new Money(6, "GBP"),
                new Money(0, "GBP"),
                new Money(0, "GBP"),
                true,
                new Carrier("Monday ferry", [DayOfWeek.Monday], 2)
            );
            db.StoredOffers.AddRange(
                numbers.Select(canonical => new StoredOffer
                {
                    SupplierId = supplier.Id,
                    Canonical = canonical,
                    FetchedAt = book.Clock.GetUtcNow(),
                    Offer = new Offer
                    {
                        Supplier = supplier.Name,
                        Number = canonical,
                        Grade = PartGrade.Brand,
                        Price = new Money(30, "GBP"),
                        WeightKg = 0.1m,
                        HandlingDays = 0,
                        Freight = [ferry],
                        Returns = new ReturnTerms(1, new Money(4, "GBP")),
                    },
                })
            );
            return await db.SaveChangesAsync();
        });

        var order = (await Ahead(book, repair)).Single(a => a.Assembly.Contains("touchpad")).Order.ShouldNotBeNull();
        order.Chance.ShouldBe(part.Chance);
        order.DaysSaved.ShouldBeOneOf(0, 7);
        order.Saves.Amount.ShouldBe(
            Math.Round((decimal)(order.Chance * order.Bid.Chance.Mean) * order.DaysSaved * 2, 2),
            0.01m
        );
    }

    private static async Task<IReadOnlyList<MaybeNeeded>> Ahead(Book book, long repair)
    {
        var view = (await book.Do<TriageOf, Outcome<TriageView>>(t => t.Run(repair))).Value;
        return await book.Do<OrderBeforeSure, IReadOnlyList<MaybeNeeded>>(o => o.Run(view));
    }

    [Fact]
    public async Task Answers_are_stored_once_taken_back_and_end_in_an_assembly()
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        var repair = await book.TakeIn(aled, Job.Unit, "pointer-dead");
        var first = (await book.Do<TriageOf, Outcome<TriageView>>(t => t.Run(repair))).Value;
        first.Advice.Best!.Id.ShouldBe("firmware-input");

        var request = Guid.NewGuid();
        var answer = new TriageStep.Tested("firmware-input", "dead");
        for (var i = 0; i < 2; i++)
        {
            (await Answer(book, repair, request, answer)).Value.ShouldBe(1);
        }

        (await Answer(book, repair, Guid.NewGuid(), answer)).Refusal!.Message.ShouldContain("has been answered");
        var dead = (await book.Do<TriageOf, Outcome<TriageView>>(t => t.Run(repair))).Value;
        dead.Leading.Component.ShouldBe("touchpad");

        // Back, and the belief is the one before.
        var step = dead.Steps.Single().Id;
        (await book.Do<AnswerTriage, Outcome<int>>(a => a.TakeBack(repair, step, book.Lead))).Value.ShouldBe(0);
        (await book.Do<AnswerTriage, Outcome<int>>(a => a.TakeBack(repair, step, book.Lead))).Value.ShouldBe(0);
        var again = (await book.Do<TriageOf, Outcome<TriageView>>(t => t.Run(repair))).Value;
        again.Advice.Faults.Select(f => f.Chance).ShouldBe(first.Advice.Faults.Select(f => f.Chance));

        (
            await book.Do<ChooseAssembly, Outcome<string>>(c => c.Run(repair, "touchpad", book.Lead))
        ).Refusal!.Message.ShouldContain("end it first");
        (await End(book, repair, TriageStanding.Cured, "pointer-off")).Refusal!.Message.ShouldContain(
            "Nothing tried so far"
        );
        (await End(book, repair, TriageStanding.SureEnough, "pointer-off")).Refusal!.Message.ShouldContain(
            "nothing a part is exchanged for"
        );
        (await End(book, repair, TriageStanding.SureEnough, "fan-worn")).Refusal!.Message.ShouldContain(
            "does not explain"
        );
        (await End(book, repair, TriageStanding.SureEnough, "touchpad-broken")).Value.ShouldContain("touchpad broken");

        var what = await book.Do<WhatToFit, WhatToFitView>(async w => await w.Run(await book.View(repair)));
        what.Choices.Single().Assembly.Id.Value.ShouldBe("touchpad");
        (await book.Do<ChooseAssembly, Outcome<string>>(c => c.Run(repair, "touchpad", book.Lead))).Value.ShouldBe(
            "touchpad"
        );
        (await book.View(repair)).Lines.Single().Line.Fault.ShouldBe("touchpad broken");
        (await book.Do<EndTriage, Outcome<string>>(e => e.TakeBack(repair, book.Lead))).Refusal!.Message.ShouldContain(
            "Take it off"
        );
    }

    [Fact]
    public async Task A_broken_charger_is_exchanged_for_one_that_fits_the_machine()
    {
        await using var book = await databases.NewBook();
        (await Chargers("sandpiper-14")).ShouldBe([
            ("TW-1A9C-90065", FitVerdict.Fits),
            ("TW-1A9C-90130", FitVerdict.Fits),
            ("HT 65-D7", FitVerdict.FitsWithConditions),
        ]);
        (await Chargers("thimble-11")).ShouldBe([("MB 2207-0145-A", FitVerdict.Fits)]);

        // A part is none, and a charger is recorded inside nothing.
        var unit = await book.Idle("coot-14");
        (await Outside(unit, "touchpad")).ShouldBeNull();
        (await book.Do<ServiceMapShelf, Refusal?>(m => m.Lacks("coot-14", "charger"))).ShouldBeNull();
        (await book.Do<ServiceMapShelf, Refusal?>(m => m.Lacks("coot-14", "charger", inside: true)))!.Reason.ShouldBe(
            RefusalReason.NotFound
        );

        async Task<OutsideChoice?> Outside(string tag, string component)
        {
            var passport = (await book.Do<PassportOf, Outcome<Passport>>(p => p.Run(tag))).Value;
            return await book.Do<WhatToFit, OutsideChoice?>(w =>
                w.Outside(passport, ShippedTriage.Knowledge.Component(component))
            );
        }

        async Task<IEnumerable<(string, FitVerdict)>> Chargers(string model) =>
            (await Outside(await book.Idle(model), "charger"))!.Numbers.Select(n =>
                (n.Number.Number, n.Answer.Verdict)
            );
    }

    [Fact]
    public async Task What_is_cured_without_a_part_closes_the_repair_and_is_learned_until_it_is_set_aside()
    {
        await using var book = await databases.NewBook();
        var (aled, mara) = (await book.Person("aled"), await book.Person("mara"));
        var tag = await book.Idle("thimble-11");
        var repair = await book.TakeIn(aled, tag, "no-wireless");
        (await Answer(book, repair, Guid.NewGuid(), new TriageStep.Tried("update-all", true))).Value.ShouldBe(1);
        (
            await Answer(book, repair, Guid.NewGuid(), new TriageStep.Tested("radio-listed", "yes"))
        ).Refusal!.Message.ShouldContain("cured");
        (await End(book, repair, TriageStanding.NoFaultFound, "no-fault")).Refusal!.Message.ShouldContain(
            "take that step back"
        );
        var before = await Share(book);
        (await End(book, repair, TriageStanding.Cured, "radio-driver")).Value.ShouldContain("cured without a part");
        var closed = await book.Ask(db => db.Repairs.SingleAsync(r => r.Number == repair));
        (closed.State, closed.End, closed.FaultId).ShouldBe((RepairState.Closed, RepairEnd.Cured, "radio-driver"));

        (await Share(book)).ShouldBeGreaterThan(before);
        _ = await book.Do<LearnedFaults, Outcome<string>>(l => l.Reset(DeviceClass.Chromebook, mara));
        (await Share(book)).ShouldBe(0.0, 1e-9, "set aside: as shipped again");

        static async Task<double> Share(Book book)
        {
            var weight = (
                await book.Do<LearnedFaults, IReadOnlyList<LearnedWeight>>(l =>
                    l.Of("thimble-11", DeviceClass.Chromebook)
                )
            ).First(w => w.Fault.Id == "radio-driver");
            return weight.ForModel - weight.Shipped;
        }
    }

    [Fact]
    public async Task Two_who_answer_at_once_leave_one_consistent_triage()
    {
        await using var book = await databases.NewBook();
        var repair = await book.TakeIn(await book.Person("aled"), Job.Unit, "pointer-dead");
        var answers = await Task.WhenAll(
            Enumerable
                .Range(0, 8)
                .Select(i =>
                    Answer(
                        book,
                        repair,
                        Guid.NewGuid(),
                        new TriageStep.Tested("firmware-input", i % 2 == 0 ? "dead" : "works")
                    )
                )
        );
        answers.Count(a => a.Refusal is null).ShouldBe(1);
        (await book.Do<TriageOf, Outcome<TriageView>>(t => t.Run(repair))).Value.Steps.Count.ShouldBe(1);
    }

    /// <summary>Every outcome that the files call dangerous, wherever it comes up.</summary>
    [Fact]
    public async Task A_finding_that_is_dangerous_sets_the_unit_apart_like_a_complaint_does()
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        var knowledge = ShippedTriage.Knowledge;
        var dangerous = knowledge.Tests.Where(t => t.Outcomes.Any(o => o.Stop is not null)).ToList();
        dangerous.Count.ShouldBeGreaterThan(5);
        foreach (var test in dangerous)
        {
            var tag = await book.Idle("sandpiper-14");
            var symptom = knowledge
                .Symptoms.First(s =>
                    s.Stop is null
                    && s.Forbids.Count == 0
                    && TriageNetwork
                        .Of(knowledge, new TriageCase { Class = DeviceClass.Laptop, Symptoms = [s.Id] })
                        .Try(out var network, out _)
                    && network.Tests.Any(t => t.Id == test.Id)
                )
                .Id;
            var repair = await book.TakeIn(aled, tag, symptom);
            var found = test.Outcomes.First(o => o.Stop is not null);
            var request = Guid.NewGuid();
            _ = (await Answer(book, repair, request, new TriageStep.Tested(test.Id, found.Id))).Value;
            (await book.View(repair)).Repair.State.ShouldBe(RepairState.Stopped, test.Id);
            (await book.Start(aled, repair)).Refusal!.Message.ShouldContain("set apart as dangerous");
        }
    }

    /// <summary>By a person's own end of triage, and by the reason a part is to be exchanged for.</summary>
    [Fact]
    public async Task A_swollen_cell_sets_the_unit_apart_whatever_road_it_comes_up_on()
    {
        await using var book = await databases.NewBook();
        var (aled, mara) = (await book.Person("aled"), await book.Person("mara"));
        var repair = await book.TakeIn(aled, Job.Unit, "pointer-jumps");
        (await End()).Value.ShouldContain("set apart");
        var view = (await book.View(repair)).Repair;
        view.State.ShouldBe(RepairState.Stopped);
        view.Symptoms.ShouldContain("swollen");
        _ = (
            await book.Do<ReleaseStopped, Outcome<string>>(r =>
                r.Run(repair, "battery taken away by the service", mara)
            )
        ).Value;
        (await End()).Value.ShouldBe("To act on: battery swollen.");
        view = (await book.View(repair)).Repair;
        view.Notes.ShouldHaveSingleItem()
            .Text.ShouldBe("Safe to work on: battery taken away by the service", "whatever is decided later");
        _ = (await book.Do<ChooseAssembly, Outcome<string>>(c => c.Run(repair, "battery", aled))).Value;
        (await book.View(repair)).Lines.ShouldHaveSingleItem().Line.Fault.ShouldBe("battery swollen");

        var tag = await book.Idle("thimble-11");
        var known = new Intake { Purpose = RepairPurpose.Fault }.For("battery", "Bulging, by its user");
        var other = Repair
            .NumberOf((await book.Do<OpenRepair, Outcome<string>>(o => o.Run(tag, known, aled))).Value)!
            .Value;
        (await book.View(other)).Repair.State.ShouldBe(RepairState.Stopped);

        Task<Outcome<string>> End() =>
            book.Do<EndTriage, Outcome<string>>(e =>
                e.With(repair, TriageStanding.SureEnough, "battery-swollen", aled)
            );
    }

    [Fact]
    public async Task A_wet_machine_gets_no_power_however_it_is_asked_for()
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        var repair = await book.TakeIn(aled, Job.Unit, "liquid");
        var view = (await book.Do<TriageOf, Outcome<TriageView>>(t => t.Run(repair))).Value;
        view.Acts.ShouldNotBeEmpty();
        view.Acts.Where(a => a.IsTest)
            .ShouldAllBe(a => view.Knowledge.Test(a.Id)!.Needs.All(n => n == Core.Triage.Need.Opened));
        (
            await Answer(book, repair, Guid.NewGuid(), new TriageStep.Tested("key-tester", "all-work"))
        ).Refusal!.Message.ShouldContain("needs power, and this machine must not get it yet");
        (await book.Ask(db => db.Repairs.SingleAsync(r => r.Number == repair))).State.ShouldBe(RepairState.Open);

        // Where nothing has to be chosen first the bench is one click away: not without a map either.
        var without = await book.Ask(db =>
            db.Models.Where(m => !db.ServiceMapRevisions.Any(r => r.ModelCode == m.Code))
                .Select(m => m.Code)
                .FirstAsync()
        );
        var bare = await book.TakeIn(aled, await book.Idle(without), "liquid");
        (await book.Start(aled, bare)).Refusal!.Message.ShouldContain("must not get power yet");
        (await book.View(bare)).NotYet!.Message.ShouldContain("Clean and dry it");
        _ = (await Answer(book, bare, Guid.NewGuid(), new TriageStep.Tried("wet-road", false))).Value;
        (await book.View(bare)).NotYet.ShouldBeNull();
        (await book.Start(aled, bare)).Refusal.ShouldBeNull();
    }

    [Fact]
    public async Task An_answer_without_a_number_of_its_own_or_with_another_s_changes_nothing()
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        var repair = await book.TakeIn(aled, Job.Unit, "pointer-dead");
        var other = await book.TakeIn(aled, await book.Idle("thimble-11"), "no-wireless");
        var answer = new TriageStep.Tested("firmware-input", "dead");
        (await Answer(book, repair, Guid.Empty, answer)).Refusal!.Message.ShouldContain("no number of its own");
        var request = Guid.NewGuid();
        _ = (await Answer(book, repair, request, answer)).Value;
        (
            await Answer(book, other, request, new TriageStep.Tested("radio-listed", "yes"))
        ).Refusal!.Message.ShouldContain("something else already");
        (await book.Do<TriageOf, Outcome<TriageView>>(t => t.Run(other))).Value.Steps.ShouldBeEmpty();
    }

    [Fact]
    public async Task What_is_dangerous_is_set_apart_until_somebody_says_it_is_safe()
    {
        await using var book = await databases.NewBook();
        var (aled, mara) = (await book.Person("aled"), await book.Person("mara"));
        var repair = await book.TakeIn(aled, Job.Unit, "swollen", "pointer-jumps");
        (await book.View(repair)).Repair.State.ShouldBe(RepairState.Stopped);
        (
            await Answer(book, repair, Guid.NewGuid(), new TriageStep.Tested("rock-test", "flat"))
        ).Refusal.ShouldNotBeNull();
        (await book.Start(aled, repair)).Refusal!.Message.ShouldContain("set apart as dangerous");
        (await book.Open(aled, "battery", "battery worn")).Refusal!.Message.ShouldContain("already in repair");
        (await book.Do<ReleaseStopped, Outcome<string>>(r => r.Run(repair, "ok", mara))).Refusal!.Message.ShouldContain(
            "5 to 200"
        );
        (
            await book.Do<ReleaseStopped, Outcome<string>>(r =>
                r.Run(repair, "battery taken away by the service", mara)
            )
        ).Refusal.ShouldBeNull();
        var view = (await book.Do<TriageOf, Outcome<TriageView>>(t => t.Run(repair))).Value;
        view.Repair.Symptoms.ShouldBe(["pointer-jumps"]);
    }

    [Theory]
    [InlineData("sings", null, "no symptom")]
    [InlineData("pointer-dead", "in-the-rain", "no circumstance")]
    [InlineData(null, null, "Say what is wrong")]
    public async Task What_cannot_be_taken_in_is_said(string? symptom, string? circumstance, string words)
    {
        await using var book = await databases.NewBook();
        var by = await book.Person("aled");
        var intake = new Intake
        {
            Symptoms = symptom is null ? [] : [symptom],
            Circumstances = circumstance is null ? [] : [circumstance],
        };
        (await book.Do<OpenRepair, Outcome<string>>(o => o.Run(Job.Unit, intake, by))).Refusal!.Message.ShouldContain(
            words
        );
        (
            await book.Do<OpenRepair, Outcome<string>>(o =>
                o.Run(
                    Job.Unit,
                    intake with
                    {
                        Symptoms = ["slow"],
                        Circumstances = [],
                        Since = new DateOnly(2199, 1, 1),
                    },
                    by
                )
            )
        ).Refusal!.Message.ShouldContain("after today");
    }

    private static Task<Outcome<int>> Answer(Book book, long repair, Guid request, TriageStep step) =>
        book.Do<AnswerTriage, Outcome<int>>(async a => await a.Run(repair, request, step, await book.Person("aled")));

    private static Task<Outcome<string>> End(Book book, long repair, TriageStanding end, string fault) =>
        book.Do<EndTriage, Outcome<string>>(async e => await e.With(repair, end, fault, await book.Person("aled")));
}
