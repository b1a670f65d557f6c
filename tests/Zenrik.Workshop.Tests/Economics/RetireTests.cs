using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Economics;
using Zenrik.Core.Fleet;
using Zenrik.Core.HouseRules;
using Zenrik.Core.Repairs;
using Zenrik.Core.Stock;
using Zenrik.Core.Triage;
using Zenrik.Workshop.Economics;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.HouseRules;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.Stock;
using Zenrik.Workshop.Triage;

namespace Zenrik.Workshop.Tests.Economics;

public sealed class RetireTests(TemplateDatabase databases)
{
    [Fact]
    public async Task A_dead_board_is_weighed_and_the_decision_kept_with_its_figures()
    {
        await using var book = await databases.NewBook();
        var bo = await book.Person("bo");
        var repair = await book.Ask(db =>
            db.Repairs.Where(r => r.FaultId == "board-dead").Select(r => r.Number).SingleAsync()
        );
        var view = (await book.Do<DecideFor, Outcome<DecisionView>>(d => d.Run(repair))).Value;
        view.Decision.Ways.Select(w => w.Option.Way).ShouldBe([Way.Donor, Way.Retire, Way.SendAway], ignoreOrder: true);
        view.Decision.Turns.ShouldAllBe(t => t.Sentence.Length > 0);

        (await book.Do<RecordDecision, Outcome<string>>(r => r.Run(repair, "burn it", bo))).Refusal.ShouldNotBeNull();
        var best = view.Decision.Best.Option.Name;
        (await book.Do<RecordDecision, Outcome<string>>(r => r.Run(repair, best, bo))).Value.ShouldContain(bo.Name);
        (await book.View(repair)).Repair.Decided!.ShouldContain("a month of use");
    }

    [Fact]
    public async Task What_fails_by_itself_under_warranty_may_go_to_the_maker_before_it_is_opened()
    {
        MakersWarranty.Harm.ShouldAllBe(h => Shipped.ShippedTriage.Knowledge.Symptom(h) != null);
        await using var book = await databases.NewBook();
        var bo = await book.Person("bo");
        var until = DateOnly.FromDateTime(DateTime.Now).AddDays(30);
        await book.Sql($"UPDATE units SET warranty_until = '{until:yyyy-MM-dd}' WHERE tag = '{Job.Unit}'");
        var repair = await book.Opened(bo, "board", "no sign of life");
        (await book.View(repair)).Warranty.ShouldBe(new RunningWarranty(until, WarrantyRepairs.MakerFirst));
        _ = (
            await book.Do<SetHouseRule, Outcome<string>>(s => s.Run("warranty-repairs", "mend-here", book.Lead))
        ).Value;
        (await book.View(repair)).Warranty!.Rule.ShouldBe(WarrantyRepairs.MendHere);

        var ways = (await book.Do<DecideFor, Outcome<DecisionView>>(d => d.Run(repair))).Value.Decision.Ways;
        var maker = ways.Single(w => w.Option.Name.Contains("under warranty"));
        (maker.Option.Way, maker.PartsCost).ShouldBe((Way.SendAway, 0m));
        _ = (await book.Do<RecordDecision, Outcome<string>>(r => r.Run(repair, maker.Option.Name, bo))).Value;
        var sent = await book.View(repair);
        (sent.Repair.End, sent.Warranty).ShouldBe((RepairEnd.SentAway, null));
    }

    [Fact]
    public async Task A_unit_that_was_sent_away_is_waited_for_until_its_repair_is_taken_up_again()
    {
        await using var book = await databases.NewBook();
        var bo = await book.Person("bo");
        var repair = await book.Ask(db =>
            db.Repairs.Where(r => r.FaultId == "board-dead").Select(r => r.Number).SingleAsync()
        );
        var view = (await book.Do<DecideFor, Outcome<DecisionView>>(d => d.Run(repair))).Value;
        var (tag, way) = (
            view.Repair.Unit.Tag,
            view.Decision.Ways.Single(w => w.Option.Way == Way.SendAway).Option.Name
        );
        (await Away()).ShouldNotContain(a => a.Tag == tag);
        _ = (await book.Do<RecordDecision, Outcome<string>>(r => r.Run(repair, way, bo))).Value;
        (await Away()).ShouldHaveSingleItem().Code.ShouldBe(Repair.CodeOf(repair));
        _ = (await book.Do<LendUnit, Outcome<string>>(l => l.Pool(Guid.NewGuid(), tag, true, bo))).Value;
        (
            await book.Do<LendUnit, Outcome<string>>(l => l.Out(Guid.NewGuid(), tag, "M. Reed", null, null, bo))
        ).Refusal!.Message.ShouldContain($"was sent away in {Repair.CodeOf(repair)}");

        _ = (
            await book.Do<ReopenRepair, Outcome<string>>(r =>
                r.Run(Guid.NewGuid(), repair, "board exchanged by the maker", bo)
            )
        ).Value;
        (await Away()).ShouldBeEmpty();
        (await book.Ask(db => db.Units.SingleAsync(u => u.Tag == tag))).State.ShouldBe(UnitState.AtCounter);

        async Task<List<AwayUnit>> Away() =>
            [.. (await book.Do<NoteRepair, IReadOnlyList<AwayUnit>>(n => n.Away())).Where(a => a.Tag == tag)];
    }

    [Fact]
    public async Task A_unit_is_retired_only_when_its_storage_is_erased_well_enough()
    {
        await using var book = await databases.NewBook();
        var bo = await book.Person("bo");
        var repair = await book.Opened(bo, "board", "no sign of life");
        async Task<Outcome<string>> Retire(params Erased[] erased) =>
            await book.Do<RetireUnit, Outcome<string>>(r => r.Run(repair, erased, asDonor: false, bo));

        (await Retire()).Refusal!.Message.ShouldContain("how the drive A was erased");
        (
            await Retire(new Erased("drive-a", DataHeld.Internal, ErasureMethod.Clear, true))
        ).Refusal!.Message.ShouldContain("At least Purge");
        (
            await Retire(new Erased("drive-a", DataHeld.Confidential, ErasureMethod.Purge, true))
        ).Refusal!.Message.ShouldContain("At least Destroy");
        (
            await Retire(new Erased("drive-a", DataHeld.Public, ErasureMethod.Purge, Answers: false))
        ).Refusal!.Message.ShouldContain("At least Destroy");
        (await book.Ask(db => db.Erasures.CountAsync())).ShouldBe(0, "nothing half-written");
        (
            await Retire(new Erased("drive-a", DataHeld.Confidential, ErasureMethod.Destroy, true))
        ).Refusal.ShouldBeNull();
        (await Retire(new Erased("drive-a", DataHeld.Confidential, ErasureMethod.Destroy, true))).Refusal.ShouldBeNull(
            "retiring twice is no fault"
        );
        (await book.Ask(db => db.Erasures.CountAsync())).ShouldBe(1);
        (await book.Ask(db => db.Units.SingleAsync(u => u.Tag == Job.Unit))).State.ShouldBe(UnitState.Retired);
        (await book.Open(bo, "board", "no sign of life")).Refusal!.Message.ShouldContain("out of use");
    }

    [Fact]
    public async Task A_drive_nobody_uses_again_is_destroyed_and_one_the_book_has_is_not_said_to_be_gone()
    {
        await using var book = await databases.NewBook();
        var bo = await book.Person("bo");
        var repair = await book.Opened(bo, "board", "no sign of life");
        var kept = new Erased("drive-a", DataHeld.Internal, ErasureMethod.Purge, true, Reused: false);
        (await Retire(kept)).Refusal!.Message.ShouldContain("At least Destroy");
        (await Retire(kept with { Absent = true })).Refusal!.Message.ShouldContain("Put the passport right first");
        (await Retire(kept with { Method = ErasureMethod.Destroy })).Value.ShouldContain("is retired");

        Task<Outcome<string>> Retire(params Erased[] erased) =>
            book.Do<RetireUnit, Outcome<string>>(r => r.Run(repair, erased, asDonor: false, bo));
    }

    [Fact]
    public async Task A_donor_serves_again_only_whole_and_leaves_the_house_only_erased()
    {
        await using var book = await databases.NewBook();
        var bo = await book.Person("bo");
        var repair = await book.Opened(bo, "board", "no sign of life");
        var kept = new Erased("drive-a", DataHeld.Internal, ErasureMethod.Clear, true);
        (await book.Do<RetireUnit, Outcome<string>>(r => r.Run(repair, [kept], true, bo))).Refusal.ShouldBeNull();
        (await Strip("battery")).Refusal.ShouldBeNull();
        (await Back(Guid.NewGuid())).Refusal!.Message.ShouldContain("lacks what was taken out of it: battery");

        var taken = await book.Ask(db => db.Movements.OrderByDescending(m => m.Id).FirstAsync());
        _ = (
            await book.Do<TakeBackMovement, Outcome<string>>(t =>
                t.Run(Guid.NewGuid(), taken.Id, "the unit is wanted after all", bo)
            )
        ).Value;
        var request = Guid.NewGuid();
        (await Back(request)).Value.ShouldBe($"{Job.Unit} is in use.");
        (await Back(request)).Value.ShouldBe($"{Job.Unit} is in use.", "sent twice, done once");
        (await Back(Guid.NewGuid())).Refusal!.Message.ShouldContain("is in use, not a donor");

        var again = await book.Opened(bo, "board", "no sign of life");
        (await book.Do<RetireUnit, Outcome<string>>(r => r.Run(again, [kept], true, bo))).Refusal.ShouldBeNull();
        (await Retire()).Refusal!.Message.ShouldContain("how the drive A was erased");
        (await Retire(kept)).Refusal!.Message.ShouldContain("At least Purge");
        (await Retire(kept with { Method = ErasureMethod.Destroy })).Value.ShouldContain("is retired");
        (await Back(Guid.NewGuid())).Refusal!.Message.ShouldContain("is retired");
        (await book.Ask(db => db.Erasures.CountAsync(e => e.RepairId == null))).ShouldBe(1);

        Task<Outcome<string>> Back(Guid id) => book.Do<EndDonor, Outcome<string>>(e => e.BackInUse(id, Job.Unit, bo));
        Task<Outcome<string>> Retire(params Erased[] erased) =>
            book.Do<EndDonor, Outcome<string>>(e => e.Retire(Guid.NewGuid(), Job.Unit, erased, bo));
        Task<Outcome<string>> Strip(string slot) =>
            book.Do<StripDonor, Outcome<string>>(s =>
                s.Run(Guid.NewGuid(), Job.Unit, [new Stripped(slot, null, true)], "B-07", bo)
            );
    }

    [Fact]
    public async Task What_triage_found_faulty_in_a_donor_is_doubtful_and_not_counted_on()
    {
        await using var book = await databases.NewBook();
        var bo = await book.Person("bo");
        var repair = await book.TakeIn(bo, Job.Unit, "will-not-start");
        var view = (await book.Do<TriageOf, Outcome<TriageView>>(t => t.Run(repair))).Value;
        var board = view.Network.Faults.First(f => f.Component == "board");
        _ = (
            await book.Do<EndTriage, Outcome<string>>(e => e.With(repair, TriageStanding.SureEnough, board.Id, bo))
        ).Value;
        var shredded = new Erased("drive-a", DataHeld.Internal, ErasureMethod.Destroy, true);
        _ = (await book.Do<RetireUnit, Outcome<string>>(r => r.Run(repair, [shredded], true, bo))).Value;
        var donor = view.Repair.UnitId;
        (await book.Do<StripDonor, GivenUp?>(s => s.GivenUp(donor)))!.Slots.ShouldBe(["board"]);
        (await book.Do<PlanHarvest, HarvestView>(h => h.Run()))
            .Strip.Where(d => d.Donor.Tag == Job.Unit)
            .SelectMany(d => d.Slots)
            .ShouldNotContain("board");
    }

    [Fact]
    public async Task A_donor_given_up_while_triage_was_open_is_doubted_in_what_was_likely()
    {
        await using var book = await databases.NewBook();
        var bo = await book.Person("bo");
        var repair = await book.TakeIn(bo, Job.Unit, "will-not-start");
        var view = (await book.Do<TriageOf, Outcome<TriageView>>(t => t.Run(repair))).Value;
        var shredded = new Erased("drive-a", DataHeld.Internal, ErasureMethod.Destroy, true);
        _ = (await book.Do<RetireUnit, Outcome<string>>(r => r.Run(repair, [shredded], true, bo))).Value;
        var doubted = (await book.Do<StripDonor, GivenUp?>(s => s.GivenUp(view.Repair.UnitId)))!.Slots;
        doubted.ShouldContain("board");
        doubted.ShouldNotContain("keyboard");
        doubted.Count.ShouldBeLessThan(view.Passport.Slots.Count / 2);
    }

    /// <summary>Neither given back unrepaired nor kept for its parts: nobody meets the danger without its being said.</summary>
    [Fact]
    public async Task What_is_dangerous_does_not_come_back_by_a_side_door()
    {
        await using var book = await databases.NewBook();
        var (bo, mara) = (await book.Person("bo"), await book.Person("mara"));
        var kept = new Erased("drive-a", DataHeld.Internal, ErasureMethod.Destroy, true);
        var swollen = await book.TakeIn(bo, Job.Unit, "swollen");
        (await Withdraw(swollen)).Refusal!.Message.ShouldContain("First a lead says what made it safe");
        (await AsDonor(swollen)).Refusal!.Message.ShouldContain("a donor is opened");
        (await book.View(swollen)).Repair.State.ShouldBe(RepairState.Stopped);
        (await AsItIs(swollen, ErasureMethod.Purge)).Refusal!.Message.ShouldContain("neither switched on nor opened");
        _ = (
            await book.Do<ReleaseStopped, Outcome<string>>(r => r.Run(swollen, "the wrong machine was scanned", mara))
        ).Value;
        _ = (await Withdraw(swollen)).Value;

        var wet = await book.TakeIn(bo, Job.Unit, "liquid");
        (await Withdraw(wet)).Refusal!.Reason.ShouldBe(RefusalReason.NeedsConfirmation);
        _ = (await Withdraw(wet, "its user wants it as it is")).Value;
        (await book.View(wet)).Repair.Decided!.ShouldContain("although it must not get power: its user wants it");

        // A wet donor is stripped without power; its parts are looked at before anybody counts on them.
        var again = await book.TakeIn(bo, Job.Unit, "liquid");
        _ = (await AsDonor(again)).Value;
        (
            await book.Do<EndDonor, Outcome<string>>(e => e.BackInUse(Guid.NewGuid(), Job.Unit, bo))
        ).Refusal!.Message.ShouldContain($"given up in {Repair.CodeOf(again)} while it must not get power");
        (await book.Ask(db => db.Items.AnyAsync(i => i.Unit!.Tag == Job.Unit && i.Slot == "drive-a"))).ShouldBeFalse(
            "what was shredded is no part of it"
        );
        (await book.Do<PlanHarvest, HarvestView>(h => h.Run())).Strip.ShouldNotContain(d => d.Donor.Tag == Job.Unit);
        (
            await book.Do<StripDonor, Outcome<string>>(s =>
                s.Run(Guid.NewGuid(), Job.Unit, [new Stripped("fan", null, true)], null, bo)
            )
        ).Value.ShouldContain("(fan, quarantine)");

        Task<Outcome<string>> Withdraw(long repair, string? why = null) =>
            book.Do<WithdrawRepair, Outcome<string>>(w => w.Run(repair, why, bo));
        Task<Outcome<string>> AsItIs(long repair, ErasureMethod how) =>
            book.Do<RetireUnit, Outcome<string>>(r => r.Run(repair, [kept with { Method = how }], false, bo));
        Task<Outcome<string>> AsDonor(long repair) =>
            book.Do<RetireUnit, Outcome<string>>(r => r.Run(repair, [kept], true, bo));
    }
}
