using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Economics;
using Zenrik.Core.Fleet;
using Zenrik.Workshop.Economics;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Repairs;

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
    public async Task A_unit_is_retired_only_when_its_storage_is_erased_well_enough()
    {
        await using var book = await databases.NewBook();
        var bo = await book.Person("bo");
        var repair = await book.Opened(bo, "board", "no sign of life");
        async Task<Outcome<string>> Retire(params Erased[] erased) =>
            await book.Do<RetireUnit, Outcome<string>>(r => r.Run(repair, erased, asDonor: false, bo));

        (await Retire()).Refusal!.Message.ShouldContain("how the drive A was erased");
        (
            await Retire(new Erased("drive-a", DataHeld.Confidential, ErasureMethod.Clear, true))
        ).Refusal!.Message.ShouldContain("At least Purge");
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
}
