using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Repairs;
using Zenrik.Workshop.Exporting;
using Zenrik.Workshop.Repairs;

namespace Zenrik.Workshop.Tests.Exporting;

public sealed class MonthReportTests(TemplateDatabase databases)
{
    private static CancellationToken Stop => TestContext.Current.CancellationToken;

    [Fact]
    public async Task A_month_counts_what_was_closed_in_it_and_tells_kept_promises_from_broken_ones()
    {
        await using var book = await databases.NewBook();
        var (bo, today) = (await book.Person("bo"), DateOnly.FromDateTime(book.Clock.GetLocalNow().DateTime));
        var before = await Report(book, today);
        await Close(book, bo, today);
        await Close(book, bo, today);
        // The second was promised for yesterday: nobody can promise that, but a day can pass.
        (
            await book.Sql(
                "UPDATE repairs SET promised_on = promised_on - 1 WHERE number = (SELECT max(number) FROM repairs)"
            )
        ).ShouldBeNull();
        var after = await Report(book, today);
        (after.Closed, after.TakenIn).ShouldBe((before.Closed + 2, before.TakenIn + 2));
        (after.Kept, after.Broken).ShouldBe((before.Kept + 1, before.Broken + 1));
        after.Open.ShouldBe(before.Open);
        after.Ends[RepairEnd.NoFaultFound].ShouldBe(before.Ends.GetValueOrDefault(RepairEnd.NoFaultFound) + 2);

        // Every month of the demo's history, against the rows themselves.
        for (var back = 0; back < 6; back++)
        {
            var month = await Report(book, today.AddMonths(-back));
            var from = new DateTimeOffset(month.First.ToDateTime(TimeOnly.MinValue), TimeSpan.Zero);
            var until = from.AddMonths(1);
            var rows = await book.Ask(db =>
                db.Repairs.Where(r => r.State == RepairState.Closed && r.ClosedAt >= from && r.ClosedAt < until)
                    .Select(r => new { r.MinutesTaken, Fitted = r.Lines.Count(l => l.ItemInId != null) })
                    .ToListAsync(Stop)
            );
            month.Closed.ShouldBe(rows.Count);
            month.Parts.Sum(p => p.Fitted).ShouldBeLessThanOrEqualTo(rows.Sum(r => r.Fitted));
            month.Faults.Sum(f => f.Repairs).ShouldBeLessThanOrEqualTo(rows.Count);
        }

        // A month that has not begun is the present one; one before anything is empty and says so.
        (await Report(book, today.AddYears(3))).First.ShouldBe(new DateOnly(today.Year, today.Month, 1));
        var nothing = await Report(book, new DateOnly(1999, 1, 1));
        (nothing.Closed, nothing.TakenIn, nothing.MedianDays, nothing.Faults.Count).ShouldBe((0, 0, null, 0));
    }

    [Theory]
    [InlineData("bench")]
    [InlineData("spares")]
    [InlineData("watch")]
    [InlineData("lives")]
    [InlineData("batteries")]
    public async Task Every_row_of_a_list_has_a_cell_for_each_heading(string id)
    {
        await using var book = await databases.NewBook();
        var rows = await book.Do<GiveOutLists, List<IReadOnlyList<string?>>>(async lists =>
        {
            var list = lists.Find(id)!;
            var read = await list.Rows.ToListAsync(Stop);
            read.ShouldAllBe(r => r.Count == list.Headings.Count);
            return read;
        });
        rows.ShouldNotBeEmpty();
    }

    private static Task<MonthView> Report(Book book, DateOnly month) =>
        book.Do<MonthReport, MonthView>(r => r.Run(month, Stop));

    private static async Task Close(Book book, Actor by, DateOnly promised)
    {
        var repair = await book.TakeIn(by, await book.Idle("sandpiper-14"), "no-wireless");
        _ = (
            await book.Do<CorrectRepair, Outcome<string>>(c =>
                c.Run(Guid.CreateVersion7(), repair, Priority.Normal, promised, null, by, Stop)
            )
        ).Value;
        (
            await book.Sql(
                $"UPDATE repairs SET state = 'Closed', \"end\" = 'NoFaultFound', closed_at = now(), closed_by_id = '{by.Id}' WHERE number = {repair}"
            )
        ).ShouldBeNull();
    }
}
