using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fleet;
using Zenrik.Demo.Units;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Tests.Fleet;

/// <summary>Units speak; the simulated one stands for them.</summary>
public sealed class HearUnitTests(TemplateDatabase databases)
{
    [Fact]
    public async Task A_unit_that_is_as_recorded_agrees_and_one_that_is_not_raises_a_question_once()
    {
        await using var book = await databases.NewBook();
        var odd = await book.Person("odd");
        var unit = await Simulated(book, Job.Unit);
        (await Hardware(unit)).Value.Questions.ShouldBeEmpty();

        var swapped = unit.With(UnitFault.MemorySwapped);
        for (var i = 0; i < 2; i++)
        {
            (await Hardware(swapped)).Value.Questions.ShouldHaveSingleItem().ShouldContain("GX-8G-3200");
        }

        var question = await book.Ask(db => db.UnitQuestions.SingleAsync());
        (await Slot("memory-a")).Number.Number.ShouldBe("TW-6M1R-80016");
        (await Decide(true)).Value.ShouldContain("has GX-8G-3200 in memory-a now");
        (await Decide(false)).Refusal!.Message.ShouldContain("the other way");
        (await Slot("memory-a")).Number.Number.ShouldBe("GX-8G-3200");
        (await Hardware(swapped)).Value.Questions.ShouldBeEmpty();
        (await book.Do<ProveStock, (long, long)>(p => p.Whole())).ShouldBe((0, 0));

        (await Hardware(swapped.With(UnitFault.MemoryDead)))
            .Value.Questions.ShouldHaveSingleItem()
            .ShouldContain("sees nothing");
        (await Hardware(unit.With(UnitFault.CutShort))).Refusal!.Message.ShouldContain("not whole");

        Task<Outcome<Heard>> Hardware(SimulatedUnit said) =>
            book.Do<HearUnit, Outcome<Heard>>(h => h.Hardware(Job.Unit, said.HardwareList(), odd));

        Task<Outcome<string>> Decide(bool accept) =>
            book.Do<DecideQuestion, Outcome<string>>(d => d.Run(question.Id, accept, odd));

        Task<Item> Slot(string slot) =>
            book.Ask(db => db.Items.Include(i => i.Number).SingleAsync(i => i.Unit!.Tag == Job.Unit && i.Slot == slot));
    }

    [Fact]
    public async Task Another_machines_list_and_a_part_that_is_elsewhere_are_kept_for_a_person()
    {
        await using var book = await databases.NewBook();
        var odd = await book.Person("odd");
        var other = await book.Idle("sandpiper-14");
        var list = (await Simulated(book, other)).HardwareList();
        var refused = (await book.Do<HearUnit, Outcome<Heard>>(h => h.Hardware(Job.Unit, list, odd))).Refusal!;
        refused.Message.ShouldContain($"It is the list of {other}");
        (await book.Ask(db => db.UnitQuestions.SingleAsync())).Writable.ShouldBeFalse();
        (await book.Ask(db => db.UnitEvents.CountAsync(e => e.Kind == UnitEventKind.Heard))).ShouldBe(0);

        // Its own list, with a module that the book has in the other unit.
        var theirs = await book.Ask(db => db.Items.SingleAsync(i => i.Unit!.Tag == other && i.Slot == "memory-a"));
        var mine = await Simulated(book, Job.Unit);
        var stolen = mine with
        {
            Parts = [.. mine.Parts, new SimulatedPart(PartKind.Memory, "TW-6M1R-80016", theirs.Serial, 16)],
        };
        var heard = (
            await book.Do<HearUnit, Outcome<Heard>>(h => h.Hardware(Job.Unit, stolen.HardwareList(), odd))
        ).Value;
        heard.Questions.ShouldNotBeNull();
        (await book.Ask(db => db.Items.CountAsync(i => i.Serial == theirs.Serial))).ShouldBe(1);
    }

    [Fact]
    public async Task A_battery_that_ages_leaves_readings_and_a_mad_gauge_leaves_none()
    {
        await using var book = await databases.NewBook();
        var odd = await book.Person("odd");
        var unit = await Simulated(book, Job.Unit) with { AgeMonths = 0 };
        for (var i = 0; i < 4; i++)
        {
            (await Power(unit.Uevent())).Value.Questions.ShouldBeEmpty();
            unit = unit.AgedBy(9);
        }

        (await Power(unit.With(UnitFault.GaugeMad).Uevent()))
            .Value.Questions.ShouldHaveSingleItem()
            .ShouldContain("gauge is wrong");
        var doubtful = unit.Uevent()
            .Replace("ENERGY_FULL_DESIGN=54", "ENERGY_FULL_DESIGN=78", StringComparison.Ordinal);
        (await Power(doubtful)).Value.Questions.ShouldHaveSingleItem().ShouldContain("another one inside");
        var kept = await book.Ask(db =>
            db.BatteryReadings.OrderBy(r => r.Id).Where(r => r.Cycles == null || r.Cycles >= 0).ToListAsync()
        );
        var mine = kept.TakeLast(4).ToList();
        mine.Select(r => r.Health).ShouldBeInOrder(SortDirection.Descending);
        mine[0].Health.ShouldBe(1, 0.001);
        mine.ShouldAllBe(r => r.ItemId != null);

        Task<Outcome<Heard>> Power(string text) => book.Do<HearUnit, Outcome<Heard>>(h => h.Power(Job.Unit, text, odd));
    }

    private static async Task<SimulatedUnit> Simulated(Book book, string tag)
    {
        var passport = await book.Do<PassportOf, Passport>(async p => (await p.Run(tag)).Value);
        var kinds = new Dictionary<Core.Fit.ItemKind, PartKind>
        {
            [Core.Fit.ItemKind.Memory] = PartKind.Memory,
            [Core.Fit.ItemKind.Drive] = PartKind.Drive,
            [Core.Fit.ItemKind.Radio] = PartKind.Radio,
            [Core.Fit.ItemKind.Battery] = PartKind.Battery,
        };
        return new SimulatedUnit(
            passport.Unit.Model.Name,
            passport.Unit.Serial,
            [
                .. from slot in passport.Slots
                where slot.Item is not null && HardwareCheck.KindOf(slot.Slot) is { } kind && kinds.ContainsKey(kind)
                select new SimulatedPart(
                    kinds[HardwareCheck.KindOf(slot.Slot)!.Value],
                    slot.Item!.Number.Number,
                    slot.Item.Serial,
                    slot.Item.Number.Specification?.Holds ?? 0
                ),
            ],
            54,
            20,
            new HashSet<UnitFault>()
        );
    }
}
