using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Scheduling;
using Zenrik.Core.Teardown;
using Zenrik.Core.Tests.Scheduling;
using Zenrik.Workshop.Exporting;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.Scheduling;

namespace Zenrik.Workshop.Tests.Scheduling;

public sealed class CalendarTests(TemplateDatabase databases)
{
    private static readonly string[] Always = [.. Enumerable.Repeat("00:00-23:59", 7)];

    private static CancellationToken Stop => TestContext.Current.CancellationToken;

    [Fact]
    public async Task What_can_go_ahead_is_laid_on_those_who_are_there_and_what_cannot_is_said()
    {
        await using var book = await databases.NewBook();
        var seen = await book.Do<ViewCounter, CounterView>(c => c.Run(Stop));
        var calendar = await Look(book);
        var laid = calendar.Jobs.Select(j => j.Task.Code).ToHashSet();
        seen.Ready.Concat(seen.Waiting.Where(r => r.CanBeLaid))
            .Select(r => r.Repair.Code)
            .ShouldBeSubsetOf(laid.Concat(calendar.Unplaced.Select(n => n.Task.Code)));
        seen.OnBench.ShouldAllBe(b => laid.Contains(b.Repair.Code));
        seen.Waiting.Where(r => !r.CanBeLaid)
            .Select(r => r.Repair.Code)
            .ShouldBeSubsetOf(calendar.Unplaced.Select(n => n.Task.Code));
        foreach (var job in calendar.Jobs)
        {
            job.Placed.Hand.Shifts.All.ShouldContain(s => s.From <= job.Placed.Begins && job.Placed.Begins < s.Until);
        }

        // Nobody there: nothing is laid, and every job says why.
        (await book.Sql("DELETE FROM bench_hours")).ShouldBeNull();
        var empty = await Look(book);
        empty.Jobs.ShouldBeEmpty();
        empty.Unplaced.Count.ShouldBe(calendar.Jobs.Count + calendar.Unplaced.Count);
        empty.Unplaced.ShouldContain(n => n.Why == "Nobody has hours at the bench.");
    }

    [Fact]
    public async Task A_promise_at_risk_is_kept_by_the_way_that_is_offered()
    {
        await using var book = await databases.NewBook();
        // Nobody has a machine of theirs on the bench.
        var hand = await book.Person("bo");
        (await book.Sql("DELETE FROM bench_hours; DELETE FROM absences; DELETE FROM bench_pins")).ShouldBeNull();
        var today = DateOnly.FromDateTime(book.Clock.GetLocalNow().DateTime);
        (await book.Sql("UPDATE repairs SET promised_on = NULL")).ShouldBeNull();
        // Twenty-five minutes tomorrow, for two jobs of some thirteen that are promised for tomorrow: one of them is at risk.
        var tomorrow = today.AddDays(1);
        string[] week = ["", "", "", "", "", "", ""];
        week[((int)tomorrow.DayOfWeek + 6) % 7] = "12:00-12:25";
        await Hours(book, hand, week);
        var numbers = new[] { await Promised(book, tomorrow), await Promised(book, tomorrow) };
        var before = await Look(book);
        var late = before.AtRisk.ShouldHaveSingleItem();
        var (repair, code) = (late.Task.Repair!.Number, late.Task.Code);
        var way = before.Rescues[code].ShouldHaveSingleItem();
        (way.Hand.Id, way.Behind).ShouldBe((hand.Id, null));
        var other = Repair.CodeOf(numbers.Single(n => n != repair));
        way.Harmed.ShouldHaveSingleItem().Job.Id.ShouldBe(other);

        (await Pin(book, repair, way.Hand.Id, way.Behind?.Id)).Value.ShouldBe(
            $"{code} is the first thing {hand.Name} does."
        );
        var after = await Look(book);
        after.AtRisk.ShouldHaveSingleItem().Task.Code.ShouldBe(other);
        var first = after.Jobs.First(j => j.Placed.Hand.Id == hand.Id && !j.Underway);
        (first.Task.Code, first.Pinned).ShouldBe((code, true));
        await Hours(book, hand, Always);

        // Another behind it; then in the other order; then left to the calendar again.
        var second = await Promised(book, today.AddDays(20));
        (await Pin(book, second, hand.Id, code)).Value.ShouldContain($"right after {code}");
        (await Order(book, hand)).Take(2).ShouldBe([code, Repair.CodeOf(second)]);
        _ = (await Pin(book, repair, hand.Id, Repair.CodeOf(second))).Value;
        (await Order(book, hand)).Take(2).ShouldBe([Repair.CodeOf(second), code]);
        _ = (await book.Do<PinJob, Outcome<string>>(p => p.Unpin(Repair.CodeOf(second), book.Lead, Stop))).Value;
        (await Look(book)).Jobs.Single(j => j.Task.Repair?.Number == second).Pinned.ShouldBeFalse();

        // Wrong: nobody, a repair that is none, one on the bench, somebody who does not work there.
        (await Pin(book, 999_999, hand.Id, null)).Refusal!.Message.ShouldContain("There is no repair");
        var underway = await book.Ask(db =>
            db.Repairs.Where(r => r.State == Core.Repairs.RepairState.OnBench).Select(r => r.Number).FirstAsync(Stop)
        );
        (await Pin(book, underway, hand.Id, null)).Refusal!.Message.ShouldContain("on the bench already");
        (await Pin(book, repair, (await book.Person("odd")).Id, null)).Refusal!.Message.ShouldContain(
            "works at the bench"
        );
        (await book.Do<BenchFeed, string>(f => f.Run(new Uri("http://here"), Stop))).ShouldContain(
            $"SUMMARY:{hand.Name}: {code}"
        );
    }

    [Fact]
    public async Task A_better_order_is_kept_for_every_instance_until_something_changes()
    {
        await using var book = await databases.NewBook();
        (await book.Sql("DELETE FROM bench_hours; DELETE FROM absences")).ShouldBeNull();
        var today = DateOnly.FromDateTime(book.Clock.GetLocalNow().DateTime);
        var bo = await book.Person("bo");
        // Half an hour a day: something is late whatever is done.
        await Hours(book, bo, [.. Enumerable.Repeat("12:00-12:30", 7)]);
        for (var i = 0; i < 4; i++)
        {
            await Promised(book, today.AddDays(1));
        }

        var before = await Look(book);
        before.Cost.Late.ShouldBeGreaterThan(0);
        before.ReckonedAt.ShouldBeNull();
        var better = await book.Do<ViewCalendar, BenchCalendar>(c => c.Better(Stop));
        better.Cost.Late.ShouldBeLessThanOrEqualTo(before.Cost.Late);
        // How much is proved hangs on how much the machine had time for; a bound above what was found would be wrong.
        better.Bound.ShouldBeInRange(0, better.Cost.Late);
        var kept = await Look(book);
        (kept.Cost.Late, kept.Bound).ShouldBe((better.Cost.Late, better.Bound));
        kept.ReckonedAt!.Value.ShouldBe(better.ReckonedAt!.Value, TimeSpan.FromMilliseconds(1));
        await Promised(book, today.AddDays(1));
        (await Look(book)).ReckonedAt.ShouldBeNull();
    }

    [Fact]
    public async Task Hours_and_absences_are_kept_as_said_and_what_makes_no_sense_is_refused()
    {
        await using var book = await databases.NewBook();
        var bo = await book.Person("bo");
        var today = DateOnly.FromDateTime(book.Clock.GetLocalNow().DateTime);
        (await Set(book, bo.Id, ["9-13", "", "9-13", "", "", "", ""])).Value.ShouldContain("8 hours a week");
        (await Set(book, bo.Id, ["9 to never", "", "", "", "", "", ""])).Refusal!.Message.ShouldStartWith("Monday");
        (await Set(book, bo.Id, ["9-13"])).Refusal!.Message.ShouldContain("seven days");
        (await Set(book, (await book.Person("desk")).Id, Always)).Refusal!.Message.ShouldContain("works at the bench");
        (
            await book.Do<KeepHours, Outcome<string>>(h => h.Away(bo.Id, today.AddDays(3), today, book.Lead, Stop))
        ).Refusal!.Message.ShouldContain("not before the first");
        await Away(book, bo, today.AddDays(1), today.AddDays(3));
        await Away(book, bo, today.AddDays(2), today.AddDays(5));

        // A calendar replaces what came from one and nothing else; what is free time in it is none of absence.
        const string Event =
            "BEGIN:VEVENT\r\nUID:{0}\r\nDTSTAMP:20260101T000000Z\r\nDTSTART;VALUE=DATE:{1}\r\nDTEND;VALUE=DATE:{2}\r\nSUMMARY:nobody's business\r\n{3}END:VEVENT\r\n";
        string Ics(params (int From, int Until, string More)[] events) =>
            $"BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//test//EN\r\n{string.Concat(events.Select((e, i) => string.Format(null, Event, i, Day(e.From), Day(e.Until), e.More)))}END:VCALENDAR\r\n";
        string Day(int days) => today.AddDays(days).ToString("yyyyMMdd", null);
        (await Take(Ics((10, 12, ""), (20, 21, ""), (30, 31, "TRANSP:TRANSPARENT\r\n")))).Value.ShouldContain(
            "away 2 times"
        );
        (await Take(Ics((10, 12, "")))).Value.ShouldContain("away 1 time");
        (await book.Ask(db => db.Absences.CountAsync(a => a.TechnicianId == bo.Id, Stop))).ShouldBe(3);
        (await book.Ask(db => db.AuditLines.OrderByDescending(l => l.Id).Take(2).ToListAsync(Stop))).ShouldAllBe(l =>
            !$"{l.Changes}".Contains("business")
        );
        (await Take("BEGIN:VCALENDAR")).Refusal!.Message.ShouldContain("Nothing was changed");
        (await Take("")).Refusal!.Message.ShouldContain("calendar file");
        (await book.Ask(db => db.Absences.CountAsync(a => a.TechnicianId == bo.Id, Stop))).ShouldBe(3);
        (await Set(book, bo.Id, ["", "", "", "", "", "", ""])).Value.ShouldContain("has no hours");

        Task<Outcome<string>> Take(string ics) =>
            book.Do<KeepHours, Outcome<string>>(h => h.TakeCalendar(bo.Id, ics, book.Lead, Stop));
    }

    /// <summary>Against trying every order: brute force on two hands, up to six jobs.</summary>
    [Fact]
    public void The_solver_finds_the_least_lateness_there_is_and_proves_it()
    {
        var start = new DateTimeOffset(2026, 11, 23, 8, 0, 0, TimeSpan.Zero);
        for (var seed = 0; seed < 25; seed++)
        {
            var random = new Random(seed);
            var jobs = Enumerable
                .Range(0, 3 + (seed % 3))
                .Select(i =>
                {
                    var minutes = random.Next(5, 50);
                    return new BenchJob(
                        $"j{i}",
                        $"m{random.Next(2)}",
                        new Minutes(minutes, minutes, minutes),
                        random.Next(1, 6),
                        start.AddMinutes(random.Next(60)),
                        start.AddMinutes(random.Next(10, 120)),
                        true
                    );
                });
            BenchHand Hand(int id, params Shift[] away) =>
                new(
                    new Guid(id, 0, 0, new byte[8]),
                    $"h{id}",
                    Shifts.Of([new Shift(start, start.AddMinutes(900))], away)
                );
            var (work, _) = BenchWork.Of(
                jobs,
                [Hand(1), Hand(2, new Shift(start.AddMinutes(40), start.AddMinutes(110)))],
                random.Next(6)
            );
            var solved = SolveSchedule.Run(work, Dispatch.FirstComeFirstServed(work), TimeSpan.FromSeconds(20));
            solved.Late.ShouldBe(EveryOrder.Least(work), $"seed {seed}");
            solved.Bound.ShouldBe(solved.Late);
            work.Cost(solved.Orders)!.Value.Late.ShouldBe(solved.Late);
        }
    }

    [Fact]
    public async Task What_somebody_leaves_to_others_is_laid_on_others()
    {
        await using var book = await databases.NewBook();
        (await book.Sql("DELETE FROM bench_hours; DELETE FROM absences")).ShouldBeNull();
        var (bo, ines) = (await book.Person("bo"), await book.Person("ines"));
        await Hours(book, bo, Always);
        var code = Repair.CodeOf(await Promised(book, DateOnly.FromDateTime(book.Clock.GetLocalNow().DateTime)));
        (await Who()).ShouldBe(bo.Name);

        (await Leave("sandpiper-14", "Fan")).Value.ShouldBe($"{bo.Name} leaves to others: Sandpiper 14, fan.");
        (await Look(book))
            .Unplaced.Single(n => n.Task.Code == code)
            .Why.ShouldBe($"{bo.Name} leaves such work to others.");
        await Hours(book, ines, Always);
        (await Who()).ShouldBe(ines.Name);

        // Wrong: a model and a part that nobody knows; nothing is changed.
        (await Leave("Sandpipr", null)).Refusal!.Message.ShouldContain("There is no model \"Sandpipr\".");
        (await Leave(null, "fan, flux")).Refusal!.Message.ShouldContain("No part is called \"flux\".");
        (await Who()).ShouldBe(ines.Name);
        (await Leave(" ", ",")).Value.ShouldBe($"{bo.Name} does whatever comes.");
        (await book.Ask(db => db.LeftWork.CountAsync(Stop))).ShouldBe(0);

        async Task<string> Who() => (await Look(book)).Jobs.Single(j => j.Task.Code == code).Placed.Hand.Name;

        Task<Outcome<string>> Leave(string? models, string? parts) =>
            book.Do<KeepHours, Outcome<string>>(h => h.Leave(bo.Id, models, parts, book.Lead, Stop));
    }

    private static async Task<long> Promised(Book book, DateOnly day)
    {
        var bo = await book.Person("bo");
        var repair = await book.Opened(bo, "fan", "fan noisy", await book.Idle("sandpiper-14"));
        _ = (
            await book.Do<CorrectRepair, Outcome<string>>(c =>
                c.Run(Guid.CreateVersion7(), repair, Priority.Normal, day, null, bo, Stop)
            )
        ).Value;
        return repair;
    }

    private static Task<BenchCalendar> Look(Book book) => book.Do<ViewCalendar, BenchCalendar>(c => c.Run(Stop));

    private static async Task<IEnumerable<string>> Order(Book book, Actor hand) =>
        (await Look(book)).Jobs.Where(j => j.Placed.Hand.Id == hand.Id && !j.Underway).Select(j => j.Task.Code);

    private static Task<Outcome<string>> Pin(Book book, long repair, Guid who, string? behind) =>
        book.Do<PinJob, Outcome<string>>(p => p.Pin(Repair.CodeOf(repair), who, behind, book.Lead, Stop));

    private static Task<Outcome<string>> Set(Book book, Guid who, string[] days) =>
        book.Do<KeepHours, Outcome<string>>(h => h.Set(who, days, book.Lead, Stop));

    private static async Task Hours(Book book, Actor who, string[] days) => _ = (await Set(book, who.Id, days)).Value;

    private static async Task Away(Book book, Actor who, DateOnly from, DateOnly until) =>
        _ = (await book.Do<KeepHours, Outcome<string>>(h => h.Away(who.Id, from, until, book.Lead, Stop))).Value;
}
