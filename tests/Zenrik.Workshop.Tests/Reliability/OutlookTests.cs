using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Caching.Memory;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging.Abstractions;
using Zenrik.Core;
using Zenrik.Core.Economics;
using Zenrik.Core.Fleet;
using Zenrik.Core.Reliability;
using Zenrik.Demo.World;
using Zenrik.Workshop.Batteries;
using Zenrik.Workshop.Economics;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Reliability;

namespace Zenrik.Workshop.Tests.Reliability;

/// <summary>The outlook on the demo world, whose failures are made by laws that are known.</summary>
public sealed class OutlookTests(TemplateDatabase databases)
{
    private const string BadLot = "KB-24-07";

    [Fact]
    public async Task The_bad_lot_of_keyboards_is_found_with_the_units_that_still_carry_it_and_nothing_else_is()
    {
        await using var book = await databases.NewBook();
        var fleet = await Lives(book);

        var found = fleet.Found.ShouldHaveSingleItem();
        (found.By, found.Value, found.Model, found.Slot).ShouldBe((WatchBy.Lot, BadLot, "thimble-11", "keyboard-deck"));
        var carried = await book.Ask(db =>
            db.Items.Where(i =>
                    i.Batch == BadLot
                    && i.UnitId != null
                    && i.Unit!.State != UnitState.Donor
                    && i.Unit.State != UnitState.Retired
                )
                .Select(i => i.Unit!.Tag)
                .ToListAsync()
        );
        fleet.Carriers(found).ShouldBe(carried, ignoreOrder: true);
        // What the demo's batteries are made of: wear of shape 3.2 at 1,250 days.
        var batteries = fleet.Slots.Where(s => s.Slot == "battery" && s.Law is not null).ToList();
        batteries
            .Count(b => b.Law!.Shape.Low <= 3.2 && 3.2 <= b.Law.Shape.High)
            .ShouldBeGreaterThan(batteries.Count / 2);
        batteries.ShouldContain(b => b.Law!.Shape.Low > 1, "wear is told from chance");
    }

    [Fact]
    public async Task What_is_kept_and_renewed_is_what_is_reckoned_anew_whatever_is_written()
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        using var cache = new MemoryCache(new MemoryCacheOptions());
        var clock = new Paced(0);
        var kept = await book.Do<IServiceScopeFactory, KeptFigures>(s => KeptBy(cache, s, clock));
        var before = await Kept();
        Same(before, await book.Do<FleetLives, FleetLife>(f => f.Reckon(default)));

        var repair = await book.OnBench(aled, "battery", "battery worn");
        await book.Work(aled, repair);
        _ = (await book.Close(aled, repair)).Value;
        var after = await Renewed(before);
        Failed(after).ShouldBe(Failed(before) + 1);
        after.Parts.Count().ShouldBe(before.Parts.Count() + 1);
        var elsewhere = after.Slots.First(s => s.ModelCode != "alder-14" && s.InService > 0);
        after
            .WearOf(elsewhere.ModelCode, elsewhere.Slot)!
            .Slot.ShouldBeSameAs(
                before.WearOf(elsewhere.ModelCode, elsewhere.Slot)!.Slot,
                "what nothing was written of is not reckoned again"
            );

        // The site is what groups are told apart by; what is lost serves no longer.
        var bad = after.Carriers(after.Found.ShouldHaveSingleItem());
        _ = (
            await book.Do<ChangeUnits, Outcome<string>>(c =>
                c.Move(Guid.NewGuid(), [.. bad.Take(3)], "Ferry Office", aled)
            )
        ).Value;
        var moved = await Renewed(after);
        moved
            .Parts.Count(p => p.Life.Site == "Ferry Office")
            .ShouldNotBe(after.Parts.Count(p => p.Life.Site == "Ferry Office"));
        _ = (
            await book.Do<LoseUnit, Outcome<string>>(l => l.Lost(Guid.NewGuid(), bad[^1], "left on the ferry", aled))
        ).Value;
        var lost = await Renewed(moved);
        lost.Carriers(lost.Found.ShouldHaveSingleItem()).Count.ShouldBe(bad.Count - 1);

        Task<FleetLife> Kept() => book.Ask(db => new FleetLives(db, new Figures(db, kept, clock), clock).Run());
        static int Failed(FleetLife fleet) => fleet.Parts.Count(p => p.Life.Life.Failed);
        static void Same(FleetLife one, FleetLife other) => Text(one).ShouldBe(Text(other));
        static IEnumerable<string> Text(FleetLife fleet) =>
            [
                .. fleet.Parts.Select(p => p.ToString()).Order(StringComparer.Ordinal),
                .. fleet.Slots.Select(s =>
                    $"{s with { Law = null }} {s.Law?.Shape.Value:0.000000} {s.Law?.ScaleDays.Value:0.000}"
                ),
                .. fleet.Found.Select(f =>
                    $"{f.By} {f.Value} {f.Parts} {f.InService} {f.Test.Worse:e6} {f.Rate.Ratio:e6} {f.Since}"
                ),
            ];

        async Task<FleetLife> Renewed(FleetLife was)
        {
            var renewed = await Kept();
            renewed.ShouldNotBeSameAs(was);
            Same(renewed, await book.Do<FleetLives, FleetLife>(f => f.Reckon(default)));
            (await Kept()).ShouldBeSameAs(renewed);
            return renewed;
        }
    }

    [Fact]
    public async Task A_battery_is_forecast_from_what_it_said_until_another_is_in()
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        (await Wear()).Batteries.ShouldNotContain(b => b.Tag == Job.Unit);
        const string says = "POWER_SUPPLY_ENERGY_FULL=25000000\nPOWER_SUPPLY_ENERGY_FULL_DESIGN=54000000\n";
        _ = (await book.Do<HearUnit, Outcome<Heard>>(h => h.Power(Job.Unit, says, aled))).Value;
        var worn = (await Wear()).Batteries.Single(b => b.Tag == Job.Unit);
        worn.Forecast.Due!.Value.ShouldBeLessThan(DateOnly.FromDateTime(DateTime.Now));
        var (spoke, silent) = ((await Wear()).Batteries.Count, (await Wear()).Silent);

        // Due at once: it is asked for by its number, less what is free.
        var need = (
            await book.Do<FleetBatteries, IReadOnlyList<NumberNeed>>(async f =>
                await f.ByNumber(await f.Run(), f.Today.AddDays(1), 0.9)
            )
        ).Single(n => n.Need.Number == worn.Number);
        need.Need.Due.ShouldContain(Job.Unit);
        need.ToOrder.ShouldBe(Math.Max(0, need.Need.Enough - need.Free - need.Coming));

        var repair = await book.OnBench(aled, "battery", "battery worn");
        await book.Work(aled, repair);
        _ = (await book.Close(aled, repair)).Value;
        var after = await Wear();
        (after.Batteries.Count, after.Silent).ShouldBe((spoke - 1, silent + 1));

        Task<FleetWear> Wear() => book.Do<FleetBatteries, FleetWear>(f => f.Run());
    }

    [Fact]
    public async Task An_empty_book_has_no_outlook_and_breaks_nothing()
    {
        await using var book = await databases.NewBook(empty: true);
        _ = await book.Do<MakeWorld, IReadOnlyList<string>>(p => p.Run(withDemo: false));
        var wear = await book.Do<FleetBatteries, FleetWear>(f => f.Run());
        (wear.Batteries.Count, wear.Silent, wear.Kinds.Count).ShouldBe((0, 0, 0));
        var fleet = await Lives(book);
        (fleet.Parts.Count(), fleet.Slots.Count, fleet.Found.Count).ShouldBe((0, 0, 0));
        (await book.Do<ExpectedDemand, IReadOnlyList<ShelfDemand>>(d => d.Run(60, 0.95))).ShouldBeEmpty();
    }

    [Fact]
    public async Task Expected_demand_adds_up_over_time_and_a_higher_level_never_asks_for_less()
    {
        await using var book = await databases.NewBook();
        var month = await Spares(30, 0.9);
        var year = await Spares(365, 0.9);
        var sure = await Spares(365, 0.99);
        month.ShouldNotBeEmpty();
        foreach (var row in month)
        {
            var (longer, surer) = (year.Single(Is), sure.Single(Is));
            longer.Expected.ShouldBeGreaterThan(row.Expected);
            surer.Enough.ShouldBeGreaterThanOrEqualTo(longer.Enough);
            row.Low.ShouldBeLessThanOrEqualTo(row.High);
            longer.Expected.ShouldBeLessThanOrEqualTo(row.InService);

            bool Is(ShelfDemand d) => (d.Slot.ModelCode, d.Slot.Slot) == (row.Slot.ModelCode, row.Slot.Slot);
        }

        Task<IReadOnlyList<ShelfDemand>> Spares(int days, double level) =>
            book.Do<ExpectedDemand, IReadOnlyList<ShelfDemand>>(d => d.Run(days, level));
    }

    [Fact]
    public async Task Slots_that_take_the_same_number_count_on_the_shelf_once()
    {
        await using var book = await databases.NewBook();
        (
            await book.Sql(
                """
                UPDATE items SET number_id = (SELECT id FROM catalogue_numbers WHERE number = 'TW-5R0Q-21847')
                WHERE number_id = (SELECT id FROM catalogue_numbers WHERE number = 'TW-6L4P-88206')
                """
            )
        ).ShouldBeNull();
        var rows = await book.Do<ExpectedDemand, IReadOnlyList<ShelfDemand>>(d => d.Run(365, 0.95));
        var shared = rows.Single(r => r.Numbers.Contains("TW-5R0Q-21847"));
        shared.Name.ShouldBe("battery, Sandpiper 14, Coot 14");
        shared.InService.ShouldBe(shared.Slots.Sum(s => s.InService));
        shared.ToOrder.ShouldBe(Math.Max(0, shared.Enough - shared.Free - shared.Coming));
        rows.SelectMany(r => r.Numbers).ShouldBeUnique();
        rows.SelectMany(r => r.Slots).Select(s => (s.ModelCode, s.Slot)).ShouldBeUnique();
        rows.Count(r => r.Slots.Count > 1).ShouldBe(1);

        // The last order of the number is for both, whichever is asked for.
        foreach (var (model, other) in new[] { ("sandpiper-14", "Coot 14"), ("coot-14", "Sandpiper 14") })
        {
            var last = (await book.Do<PlanLastOrder, LastOrder?>(p => p.Run(model, "battery", 0.95)))!;
            last.Also.ShouldBe([$"battery of the {other}"]);
            (last.InService, last.Free).ShouldBe((shared.InService, shared.Free));
        }
    }

    [Fact]
    public async Task The_year_adds_up_and_a_repair_costs_its_model_and_its_site_the_same()
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        var before = await Year();
        before.Budget.Expected.ShouldBe(
            before.Batteries.Concat(before.Spares).Concat(before.Replacements).Sum(l => l.Expected ?? 0)
        );
        before.Budget.Low.ShouldBeLessThan(before.Budget.Expected);
        before.Spares.ShouldNotContain(
            l => l.What.StartsWith("battery", StringComparison.Ordinal),
            "they come due above"
        );
        foreach (var rows in new[] { before.Sites, before.Ages, before.Causes })
        {
            Totals(rows).ShouldBe(Totals(before.Models));
        }

        before.Models.ShouldAllBe(m => m.Between.Low <= m.Between.Sum && m.Between.Sum <= m.Between.High);
        var repair = await book.OnBench(aled, "battery", "battery worn");
        await book.Work(aled, repair, seconds: 20);
        _ = (await book.Close(aled, repair)).Value;

        var after = await Year();
        Totals(after.Models).ShouldBe(Totals(after.Sites));
        Cause(after, CostCause.Wear).Repairs.ShouldBe(Cause(before, CostCause.Wear).Repairs + 1);
        var cost = await book.Ask(db =>
            db.Repairs.Where(r => r.Number == repair).Select(r => r.Lines.Sum(l => l.ItemIn!.Cost ?? 0)).SingleAsync()
        );
        (Totals(after.Models).Parts - Totals(before.Models).Parts).ShouldBe(cost);
        Totals(after.Models).Labour.ShouldBeGreaterThan(Totals(before.Models).Labour);
        Totals(after.Models).Repairs.ShouldBe(Totals(before.Models).Repairs + 1);

        Task<YearView> Year() => book.Do<YearAhead, YearView>(y => y.Run());
        static PastCost Cause(YearView year, CostCause cause) => year.Causes.Single(c => c.Name == cause.Name());
        static (int Repairs, decimal Parts, decimal Labour) Totals(IReadOnlyList<PastCost> rows) =>
            (rows.Sum(r => r.Repairs), rows.Sum(r => r.Parts), Math.Round(rows.Sum(r => r.Labour), 6));
    }

    [Fact]
    public async Task What_takes_long_is_reckoned_behind_ones_back_and_one_is_told_how_old_it_is()
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        using var cache = new MemoryCache(new MemoryCacheOptions());
        var clock = new Paced(2);
        var kept = await book.Do<IServiceScopeFactory, KeptFigures>(s => KeptBy(cache, s, clock));
        var (before, _) = await Asked();
        (await Asked()).Since.ShouldBeNull("the book is the same");

        var repair = await book.OnBench(aled, "battery", "battery worn");
        await book.Work(aled, repair);
        _ = (await book.Close(aled, repair)).Value;
        var (same, since) = await Asked();
        same.ShouldBeSameAs(before);
        since.ShouldBe(clock.GetUtcNow());

        // How long a renewal takes is not known: it is begun, and whoever asks is not kept waiting for it.
        var once = await Finished();
        once.Parts.Count().ShouldBe(before.Parts.Count() + 1);

        // It took two seconds. It is begun again when what there is, is twenty times as old.
        _ = (
            await book.Do<LoseUnit, Outcome<string>>(l => l.Lost(Guid.NewGuid(), Job.Unit, "left on the ferry", aled))
        ).Value;
        (await Asked()).Since.ShouldBe(clock.GetUtcNow());
        clock.Ahead = TimeSpan.FromSeconds(39);
        (await Asked()).Fleet.ShouldBeSameAs(once);
        clock.Ahead = TimeSpan.FromSeconds(41);
        var twice = await Finished();
        Serving(twice).ShouldBeLessThan(Serving(once));

        // What is older than a day is shown to nobody.
        clock.Ahead = TimeSpan.FromDays(2);
        (await Asked()).Since.ShouldBeNull();

        static int Serving(FleetLife fleet) => fleet.Slots.Sum(s => s.InService);

        async Task<FleetLife> Finished()
        {
            var (fleet, older) = await Asked();
            for (var tries = 0; tries < 200 && older is not null; tries++)
            {
                await Task.Delay(50, TestContext.Current.CancellationToken);
                (fleet, older) = await Asked();
            }

            older.ShouldBeNull();
            return fleet;
        }

        Task<(FleetLife Fleet, DateTimeOffset? Since)> Asked() =>
            book.Ask(async db =>
            {
                var figures = new Figures(db, kept, clock);
                return (await new FleetLives(db, figures, clock).Run(), figures.Since);
            });
    }

    private static Task<KeptFigures> KeptBy(IMemoryCache cache, IServiceScopeFactory scopes, TimeProvider clock) =>
        Task.FromResult(new KeptFigures(cache, scopes, clock, NullLogger<KeptFigures>.Instance));

    /// <summary>It stands, and everything takes so many seconds by it.</summary>
    private sealed class Paced(int seconds) : TimeProvider
    {
        private readonly DateTimeOffset began = DateTimeOffset.UtcNow;
        private long ticks;

        public TimeSpan Ahead { get; set; }

        public override DateTimeOffset GetUtcNow() => began + Ahead;

        public override long GetTimestamp() => Interlocked.Add(ref ticks, seconds * TimestampFrequency);
    }

    private static Task<FleetLife> Lives(Book book) => book.Do<FleetLives, FleetLife>(f => f.Run());
}
