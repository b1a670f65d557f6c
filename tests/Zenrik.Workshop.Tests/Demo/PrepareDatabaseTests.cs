using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Repairs;
using Zenrik.Core.Stock;
using Zenrik.Demo.World;
using Zenrik.Workshop.Sourcing;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Tests.Demo;

public sealed class PrepareDatabaseTests(TemplateDatabase databases)
{
    /// <summary>150 laptops and 280 Chromebooks of the scenario, and three without a map.</summary>
    private const int Units = 433;

    private static Task<IReadOnlyList<string>> Prepare(Book book, bool demo = true) =>
        book.Do<MakeWorld, IReadOnlyList<string>>(p => p.Run(demo));

    [Fact]
    public async Task The_demo_world_is_as_described_and_not_made_twice()
    {
        await using var book = await databases.NewBook();
        (await Prepare(book)).ShouldBeEmpty();
        (await book.Ask(db => db.Units.CountAsync())).ShouldBe(Units);
        (await book.Ask(db => db.Items.CountAsync(i => i.BinKind == BinKind.Shelf))).ShouldBeInRange(90, 150);
        (await book.Ask(db => db.Repairs.CountAsync(r => r.End == RepairEnd.Exchanged && r.Session != null))).ShouldBe(
            3
        );
        // Three years behind it: one exchange for about every two units.
        (await book.Ask(db => db.Repairs.CountAsync(r => r.End == RepairEnd.Exchanged))).ShouldBeInRange(150, 400);
        (await book.Ask(db => db.Loans.CountAsync(l => l.BackAt == null))).ShouldBe(3);
        (await book.Ask(db => db.BatteryReadings.CountAsync())).ShouldBeGreaterThan(2000);
        (await book.Do<ProveStock, (long, long)>(p => p.Whole())).ShouldBe((0, 0));
        // The bad lot is there to be found: more of it has been exchanged than of the same deck elsewhere.
        var lot = await book.Ask(db => db.Items.Where(i => i.Batch == FailureProcess.BadLot).ToListAsync());
        lot.Count.ShouldBeGreaterThan(10);
        ((double)lot.Count(i => i.UnitId == null) / lot.Count).ShouldBeGreaterThan(0.3);
        (await book.Ask(db => db.BenchSessions.CountAsync())).ShouldBe(5);
    }

    [Fact]
    public async Task Instances_that_start_together_make_one_world()
    {
        await using var book = await databases.NewBook(empty: true);
        await Task.WhenAll(Enumerable.Range(0, 3).Select(_ => Task.Run(() => Prepare(book))));
        (await book.Ask(db => db.Units.CountAsync())).ShouldBe(Units);
    }

    [Fact]
    public async Task A_world_left_half_made_is_made_anew()
    {
        await using var book = await databases.NewBook();
        await book.Sql("UPDATE demo_marks SET complete = false");
        (await Prepare(book)).ShouldContain(s => s.Contains("cleared away"));
        (await book.Ask(db => db.Units.CountAsync())).ShouldBe(Units);
        (await book.Ask(db => DemoMark.IsLoaded(db))).ShouldBeTrue();
    }

    [Fact]
    public async Task An_empty_workshop_gets_one_sign_in_and_shows_no_demo_names()
    {
        await using var book = await databases.NewBook(empty: true);
        (await Prepare(book, demo: false)).ShouldHaveSingleItem().ShouldContain("password");
        (await book.Ask(db => db.Users.Select(u => u.UserName).ToListAsync())).ShouldBe(["lead"]);
        (await book.Do<SetFigures, HouseFigures>(f => f.Read())).Notice.ShouldBeNull();
        (await book.Ask(db => DemoMark.IsLoaded(db))).ShouldBeFalse();
    }
}
