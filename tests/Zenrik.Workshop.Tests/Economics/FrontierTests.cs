using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Economics;
using Zenrik.Workshop.Economics;

namespace Zenrik.Workshop.Tests.Economics;

public sealed class FrontierTests(TemplateDatabase databases)
{
    [Fact]
    public async Task A_model_says_from_how_many_months_on_each_part_is_worth_it_and_in_how_many_units_no_more()
    {
        await using var book = await databases.NewBook();
        var stop = TestContext.Current.CancellationToken;
        var view = (await Look("sandpiper-14"))!;
        (await book.Do<ViewFrontier, IReadOnlyList<(string, string, int)>>(f => f.Models(stop))).ShouldContain(
            ("sandpiper-14", "Sandpiper 14", view.Left.Count)
        );
        view.Left.Count.ShouldBe(
            await book.Ask(db => db.Units.Where(Unit.Serving).CountAsync(u => u.ModelCode == "sandpiper-14", stop))
        );
        view.Parts.ShouldNotBeEmpty();
        view.Parts.Select(p => p.WorthFrom).ShouldBeInOrder(SortDirection.Descending);
        view.Parts.ShouldAllBe(p => p.Low <= p.WorthFrom && p.WorthFrom <= p.High && p.Below <= p.BelowInAYear);
        var board = view.Parts.Single(p => p.Assembly.Id.Value == "board");
        // By hand: part, minutes at the house's rate and two days of a loan unit, against a month of another.
        var cost =
            board.Price
            + (view.Figures.LabourPerHour * (decimal)board.Minutes.Expected / 60)
            + (WhileOpen.DaysAway * view.Figures.LoanPerDay);
        board.Cost.ShouldBe(cost);
        board.WorthFrom.ShouldBeGreaterThan((double)(cost / view.Retiring) * view.Model.LifeMonths);
        board.Below.ShouldBe(view.Left.Count(m => m < board.WorthFrom));

        // A dearer new one makes every part worth it sooner; one nobody knows the price of says nothing.
        (await book.Sql("UPDATE models SET new_price = new_price * 2 WHERE code = 'sandpiper-14'")).ShouldBeNull();
        (await Look("sandpiper-14"))!
            .Parts.Single(p => p.Assembly.Id.Value == "board")
            .WorthFrom.ShouldBeInRange(board.WorthFrom / 2, board.WorthFrom * 0.6);
        (await book.Sql("UPDATE models SET new_price = 0 WHERE code = 'sandpiper-14'")).ShouldBeNull();
        (await Look("sandpiper-14"))!.Parts.ShouldBeEmpty();
        (await Look("no-such")).ShouldBeNull();

        Task<FrontierView?> Look(string code) => book.Do<ViewFrontier, FrontierView?>(f => f.Run(code, stop));
    }
}
