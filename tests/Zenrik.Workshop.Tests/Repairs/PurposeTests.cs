using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fleet;
using Zenrik.Core.Repairs;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Repairs;

namespace Zenrik.Workshop.Tests.Repairs;

/// <summary>What a unit is taken in for besides a fault, and how that goes on and ends.</summary>
public sealed class PurposeTests(TemplateDatabase databases)
{
    private static readonly string[] All = [.. RepairPurposes.CheckUp.Select(p => p.Id)];

    [Fact]
    public async Task An_upgrade_puts_the_larger_first_and_ends_as_any_exchange()
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        var tag = await book.Idle("sandpiper-14");
        (await Open(book, tag, new Intake { Purpose = RepairPurpose.Upgrade })).Refusal!.Message.ShouldContain(
            "what is to be upgraded"
        );
        var repair = await Opened(
            book,
            tag,
            new Intake
            {
                Purpose = RepairPurpose.Upgrade,
                Known = [new Complaint("drive-a", RepairPurposes.ToBeUpgraded)],
            }
        );
        var view = await book.View(repair);
        view.Repair.What.ShouldBe("drive A to be upgraded");
        var sizes = view.Lines[0].Numbers.Where(n => n.Answer.Verdict == 0 && n.Free > 0).ToList();
        sizes
            .Select(n => n.Number.Specification!.Holds)
            .ShouldBe(sizes.Select(n => n.Number.Specification!.Holds).OrderDescending());
        view.Lines[0]
            .Numbers.Where(n => n.Free > 0)
            .ShouldAllBe(n => n.Number.Specification!.Holds > 256, "the same or less is no upgrade");
    }

    [Fact]
    public async Task An_empty_slot_is_filled_and_nothing_comes_out_of_it()
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        var tag = await book.Ask(db =>
            db.Units.Where(u => u.ModelCode == "sandpiper-14" && u.State == UnitState.InUse)
                .Where(u => !db.Repairs.Any(r => r.UnitId == u.Id))
                .Where(u => db.Items.Any(i => i.UnitId == u.Id && i.Slot == "memory-a"))
                .Where(u => !db.Items.Any(i => i.UnitId == u.Id && i.Slot == "memory-b"))
                .OrderBy(u => u.Tag)
                .Select(u => u.Tag)
                .FirstAsync()
        );
        (await Passport()).ToUpgrade("memory-b")!.Id.Value.ShouldBe("memory-b");
        // Only an upgrade fills what is empty: a fault is in something.
        (
            await Open(book, tag, new Intake { InOwnWords = true, Known = [new Complaint("memory-b", "too little")] })
        ).Refusal!.Message.ShouldContain("Choose from the list");
        var repair = await Opened(
            book,
            tag,
            new Intake
            {
                Purpose = RepairPurpose.Upgrade,
                Known = [new Complaint("memory-b", RepairPurposes.ToBeUpgraded)],
            }
        );
        var counter = await book.Do<ViewCounter, CounterView>(c => c.Run());
        counter.Waiting.Single(r => r.Repair.Number == repair).Minutes.Expected.ShouldBeGreaterThan(0);
        var view = await book.View(repair);
        var item = view.Lines.Single().Candidates.First(c => c.MayBeTaken).Code;
        _ = (await book.Choose(aled, repair, "memory-b", item)).Value;
        _ = (await book.Start(aled, repair)).Value;
        await book.Work(aled, repair);
        _ = (await book.Close(aled, repair)).Value;

        var line = (await book.View(repair)).Repair.Lines.Single();
        (line.ItemOutId, line.NumberOut, line.ItemIn!.Code).ShouldBe((null, null, item));
        var after = await Passport();
        after.Slots.Single(s => s.Slot == "memory-b").Item!.Code.ShouldBe(item);
        after.Fitted!.Vacant.ShouldBeEmpty();

        Task<Passport> Passport() => book.Do<PassportOf, Passport>(async p => (await p.Run(tag)).Value);
    }

    [Fact]
    public async Task One_stick_is_promised_to_one_of_two_slots_that_both_take_it()
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        var repair = await Opened(
            book,
            await book.Idle("sandpiper-14"),
            new Intake
            {
                Purpose = RepairPurpose.Upgrade,
                Known =
                [
                    new Complaint("memory-a", RepairPurposes.ToBeUpgraded),
                    new Complaint("memory-b", RepairPurposes.ToBeUpgraded),
                ],
            }
        );
        var item = (await book.View(repair))
            .Lines.Single(l => l.Line.Slot == "memory-a")
            .Candidates.First(c => c.MayBeTaken)
            .Code;
        (await book.Choose(aled, repair, "memory-a", item)).Value.ShouldBe(item);
        (await book.Choose(aled, repair, "memory-a", item)).Value.ShouldBe(item, "chosen twice is no fault");
        (await book.Choose(aled, repair, "memory-b", item)).Refusal!.Message.ShouldContain("another line of");
    }

    [Fact]
    public async Task A_cleaning_is_planned_worked_and_closed_without_a_part_and_refused_where_nothing_gathers_dust()
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        (
            await Open(book, await book.Idle("thimble-11-r"), new Intake { Purpose = RepairPurpose.Cleaning })
        ).Refusal!.Message.ShouldContain("gather dust");
        var tag = await book.Idle("sandpiper-14");
        (
            await Open(
                book,
                tag,
                new Intake { Purpose = RepairPurpose.Cleaning, Known = [new Complaint("battery", "battery worn")] }
            )
        ).Refusal!.Message.ShouldContain("nothing is exchanged");
        var repair = await Opened(book, tag, new Intake { Purpose = RepairPurpose.Cleaning });
        (await book.View(repair)).Plan!.Steps.ShouldContain(s => s.Act.Kind == Core.Teardown.ActKind.BlowClean);

        // A map that does not know any more what is to be cleaned stops this repair and nothing else.
        _ = await book.Sql($"UPDATE repairs SET also_goals = ARRAY['clean:bellows'] WHERE number = {repair}");
        var counter = await book.Do<ViewCounter, CounterView>(c => c.Run());
        counter.Waiting.Single(r => r.Repair.Number == repair).Blocks.Single().ShouldContain("bellows");
        (await book.View(repair)).Plan.ShouldBeNull();
        (await book.Start(aled, repair)).Refusal!.Message.ShouldContain("bellows");
        _ = await book.Sql($"UPDATE repairs SET also_goals = ARRAY['clean:fan'] WHERE number = {repair}");

        _ = (await book.Start(aled, repair)).Value;
        await book.Work(aled, repair);
        _ = (await book.Close(aled, repair)).Value;
        var closed = (await book.View(repair)).Repair;
        (closed.State, closed.End, closed.What).ShouldBe((RepairState.Closed, RepairEnd.Serviced, "cleaning"));
    }

    [Fact]
    public async Task A_check_up_ends_in_order_or_becomes_a_fault_or_stops()
    {
        await using var book = await databases.NewBook();
        var good = await CheckUp(await book.Idle("sandpiper-14"));
        (await End(good, All[1..], [], [])).Refusal!.Message.ShouldContain("lies flat");
        (await End(good, All[..^1], [], [All[^1]])).Value.ShouldContain("in order");
        var closed = (await book.View(good)).Repair;
        (closed.End, closed.Decided).ShouldBe((RepairEnd.Serviced, "Looked through, 13 points: everything in order."));
        (await book.View(good)).Passport.Unit.State.ShouldBe(UnitState.InUse);
        (await End(good, All, [], [])).Refusal!.Message.ShouldContain("any more");

        var bad = await CheckUp(await book.Idle("cormorant-15"));
        _ = (await End(bad, [.. All.Except(["keys"])], ["keys"], [])).Value;
        var found = (await book.View(bad)).Repair;
        (found.InTriage, found.Symptoms.Single()).ShouldBe((true, "keys-dead"));

        var swollen = await CheckUp(await book.Idle("thimble-11"));
        (await End(swollen, All[1..], [All[0]], [])).Value.ShouldContain("set apart");
        (await book.View(swollen)).Repair.State.ShouldBe(RepairState.Stopped);

        Task<long> CheckUp(string tag) => Opened(book, tag, new Intake { Purpose = RepairPurpose.CheckUp });
        Task<Outcome<string>> End(long repair, string[] works, string[] fails, string[] none) =>
            book.Do<EndCheckUp, Outcome<string>>(e => e.Run(Guid.NewGuid(), repair, works, fails, none, book.Lead));
    }

    [Fact]
    public async Task What_ended_unopened_is_taken_up_again_and_what_was_exchanged_comes_back_as_a_new_repair()
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        var tag = await book.Idle("sandpiper-14");
        var withdrawn = await book.Opened(aled, "battery", "battery worn", tag);
        _ = (await book.Do<WithdrawRepair, Outcome<string>>(w => w.Run(withdrawn, null, aled))).Value;
        (await Reopen(withdrawn, "x")).Refusal!.Message.ShouldContain("why");
        var other = await book.Opened(aled, "battery", "battery worn", tag);
        (await Reopen(withdrawn, "it was the wrong one")).Refusal!.Message.ShouldContain(Repair.CodeOf(other));
        _ = (await book.Do<WithdrawRepair, Outcome<string>>(w => w.Run(other, null, aled))).Value;
        // Two at once: taken up once.
        var both = await Task.WhenAll(Reopen(withdrawn, "one"), Reopen(withdrawn, "other"));
        both.Count(o => o.Refusal is null).ShouldBe(1);
        var again = await book.View(withdrawn);
        (again.Repair.State, again.Repair.ClosedAt, again.Passport.Unit.State).ShouldBe(
            (RepairState.Open, null, UnitState.AtCounter)
        );
        again.Repair.Notes.ShouldContain(n => n.Kind == RepairNoteKind.Reopened);

        var done = await book.OnBench(aled, "battery", "battery worn");
        await book.Work(aled, done);
        _ = (await book.Close(aled, done)).Value;
        (await Reopen(done, "comes back")).Refusal!.Message.ShouldContain("Take the unit in again");
        (
            await Open(book, tag: Job.Unit, new Intake { Symptoms = ["battery-short"], Follows = withdrawn })
        ).Refusal!.Message.ShouldContain("was no repair of");
        var back = await Opened(book, Job.Unit, new Intake { Symptoms = ["battery-short"], Follows = done });
        (await book.View(back)).Repair.Follows!.Number.ShouldBe(done);

        // Given to somebody who works at the bench; not to whoever only looks.
        var desk = await book.Person("desk");
        (await Give(back, desk.Id)).Refusal!.Message.ShouldContain("works at the bench");
        (await Give(back, aled.Id)).Value.ShouldContain($"{aled.Name} is to do it");
        (await book.View(back)).Repair.AssignedTo!.Id.ShouldBe(aled.Id);

        Task<Outcome<string>> Reopen(long repair, string why) =>
            book.Do<ReopenRepair, Outcome<string>>(r => r.Run(Guid.NewGuid(), repair, why, aled));
        Task<Outcome<string>> Give(long repair, Guid who) =>
            book.Do<CorrectRepair, Outcome<string>>(c =>
                c.Run(Guid.NewGuid(), repair, Priority.Normal, null, who, aled)
            );
    }

    [Fact]
    public async Task A_campaign_takes_its_units_in_counts_them_done_and_ends_with_a_reason_for_what_is_left()
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        string[] tags =
        [
            .. await book.Ask(db =>
                db.Units.Where(u =>
                        u.ModelCode == "sandpiper-14"
                        && u.State == UnitState.InUse
                        && !db.Repairs.Any(r => r.UnitId == u.Id)
                    )
                    .OrderBy(u => u.Tag)
                    .Select(u => u.Tag)
                    .Take(3)
                    .ToListAsync()
            ),
        ];
        const string Name = "Dust before summer";
        _ = (await Mark(tags)).Value;
        var day = DateOnly.FromDateTime(DateTime.Today).AddDays(9);
        (await TakeIn(Name, tags[0])).Refusal!.Message.ShouldContain("Say first what is done");
        (await Say(RepairPurpose.Fault, null, "recalled")).Refusal!.Message.ShouldContain("Choose the part");
        (await Say(RepairPurpose.Fault, "battery", "x")).Refusal!.Message.ShouldContain("why");
        _ = (await Say(RepairPurpose.Cleaning, null, null)).Value;
        var view = (await View())!;
        (view.Line.Marked, view.Line.Left, view.Models.Single().Plan is not null).ShouldBe((3, 3, true));
        view.Minutes.ShouldBe(3 * view.Models[0].Plan!.Minutes.Expected, 1e-9);

        (await TakeIn("Another", tags[0])).Refusal!.Message.ShouldContain("no campaign");
        _ = (await TakeIn(Name, tags[0])).Value;
        var repair = (await View())!.Next.Single(u => u.Tag == tags[0]).Repair!.Value;
        (await book.View(repair)).Repair.ShouldSatisfyAllConditions(
            r => r.Purpose.ShouldBe(RepairPurpose.Cleaning),
            r => r.Campaign.ShouldBe(Name),
            r => r.PromisedOn.ShouldBe(day)
        );
        (await View())!.Line.InRepair.ShouldBe(1);
        _ = (await book.Start(aled, repair)).Value;
        await book.Work(aled, repair);
        _ = (await book.Close(aled, repair)).Value;
        (await View())!.Line.ShouldSatisfyAllConditions(l => l.Done.ShouldBe(1), l => l.InRepair.ShouldBe(0));

        (await End("")).Refusal!.Message.ShouldContain("2 units are still to do");
        _ = (await End("the school keeps them")).Value;
        (await Mark(tags)).Refusal!.Message.ShouldContain("has ended");
        (await TakeIn(Name, tags[1])).Refusal!.Message.ShouldContain("has ended");
        (await Say(RepairPurpose.CheckUp, null, null)).Refusal!.Message.ShouldContain("has ended");
        _ = (await book.Do<KeepCampaigns, Outcome<string>>(c => c.TakeUp(Name, aled))).Value;
        (await View())!.Line.Campaign.EndedAt.ShouldBeNull();

        Task<Outcome<string>> TakeIn(string name, string tag) =>
            book.Do<TakeInBox, Outcome<string>>(t => t.ForCampaign(Guid.NewGuid(), name, [tag], day, aled));
        Task<CampaignView?> View() => book.Do<KeepCampaigns, CampaignView?>(c => c.Of(Name));
        Task<Outcome<string>> Mark(string[] which) =>
            book.Do<ChangeUnits, Outcome<string>>(c => c.Mark(Guid.NewGuid(), which, Name, aled));
        Task<Outcome<string>> Say(RepairPurpose purpose, string? part, string? why) =>
            book.Do<KeepCampaigns, Outcome<string>>(c => c.Say(Name, purpose, part, why, null, aled));
        Task<Outcome<string>> End(string why) => book.Do<KeepCampaigns, Outcome<string>>(c => c.End(Name, why, aled));
    }

    private static Task<Outcome<string>> Open(Book book, string tag, Intake intake) =>
        book.Do<OpenRepair, Outcome<string>>(o => o.Run(tag, intake, book.Lead));

    private static async Task<long> Opened(Book book, string tag, Intake intake) =>
        Repair.NumberOf((await Open(book, tag, intake)).Value)!.Value;
}
