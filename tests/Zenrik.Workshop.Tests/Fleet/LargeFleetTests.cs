using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fleet;
using Zenrik.Demo.World;
using Zenrik.Workshop.Fit;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.Stock;
using Zenrik.Workshop.Triage;

namespace Zenrik.Workshop.Tests.Fleet;

/// <summary>A generated fleet many times the scenario's: it is a true book, and no page reads a whole large table of it.</summary>
public sealed class LargeFleetTests(TemplateDatabase databases)
{
    private const int Generated = 8000;

    private static readonly string[] Large =
    [
        "units",
        "items",
        "movements",
        "repairs",
        "unit_events",
        "battery_readings",
    ];

    [Fact]
    public async Task No_page_of_a_large_fleet_reads_a_whole_table()
    {
        await using var book = await databases.NewBook(empty: true);
        var said = new List<string>();
        _ = await book.Do<MakeWorld, IReadOnlyList<string>>(p => p.Run(true, Generated, say: said.Add));
        said.ShouldContain(s => s.Contains("8000 of 8000"));
        (await book.Ask(db => db.Units.CountAsync())).ShouldBe(Generated + 433);
        (await book.Do<ProveStock, (long, long)>(p => p.Whole())).ShouldBe((0, 0));

        // The generator leaves the sequences where new repairs and items go on, and keys that were not asked for are right.
        var odd = await book.Person("odd");
        var unit = await book.Ask(db =>
            db.Units.Where(u => u.Tag.CompareTo("SK-05000") > 0 && u.State == UnitState.InUse)
                .OrderBy(u => u.Tag)
                .FirstAsync()
        );
        var repair = await book.TakeIn(odd, unit.Tag, "no-wireless");
        repair.ShouldBeGreaterThan(2000);
        (
            await book.Sql("ALTER TABLE movements ADD CONSTRAINT again FOREIGN KEY (item_id) REFERENCES items (id)")
        ).ShouldBeNull();
        (await book.Sql("VACUUM ANALYZE")).ShouldBeNull();

        var code = await book.Ask(db => db.Items.Where(i => i.BinId != null).Select(i => i.Code).FirstAsync());
        await Reads("search by tag", () => book.Do<ListUnits, UnitPage>(l => l.Run(new UnitQuery("SK-05123"))));
        await Reads(
            "search by serial part",
            () => book.Do<ListUnits, UnitPage>(l => l.Run(new UnitQuery(unit.Serial[3..8])))
        );
        await Reads("search by nothing known", () => book.Do<ListUnits, UnitPage>(l => l.Run(new UnitQuery("zzqqxx"))));
        await Reads("fleet", () => book.Do<ListUnits, UnitPage>(l => l.Run(new UnitQuery())));
        await Reads(
            "fleet of a site",
            () => book.Do<ListUnits, UnitPage>(l => l.Run(new UnitQuery(Site: "Ferry Office", Order: UnitOrder.Newest)))
        );
        await Reads(
            "fleet, the choices",
            async () => await book.Do<ListUnits, int>(async l => (await l.Choices()).Sites.Count)
        );
        var passport = await book.Do<PassportOf, Passport>(async p => (await p.Run(unit.Tag)).Value);
        await Reads("passport", () => book.Do<PassportOf, Outcome<Passport>>(p => p.Run(unit.Tag)));
        await Reads("upgrades", () => book.Do<FitOf, IReadOnlyList<Upgrade>>(f => f.Upgrades(passport)));
        await Reads("history", () => book.Do<HistoryOf, UnitHistory>(h => h.Run(unit.Id)));
        await Reads(
            "stock page",
            async () => await book.Do<ViewStock, int>(async s => (await s.Run(new StockQuery())).Lines.Count)
        );
        var number = await book.Ask(db =>
            db.Items.Where(i => i.UnitId == unit.Id && i.Slot == "board").Select(i => i.Number).SingleAsync()
        );
        await Reads("number", () => book.Do<ViewStock, Outcome<NumberView>>(s => s.OfNumber(number.Number)));
        await Reads("proof", () => book.Do<ProveStock, IReadOnlyList<ProofLine>>(p => p.OfNumber(number.Number)));
        await Reads("bin", () => book.Do<ViewBin, Outcome<BinView>>(b => b.Run("QUARANTINE")));
        await Reads("counter", () => book.Do<ViewCounter, CounterView>(c => c.Run()));
        await Reads("a repair", () => book.Do<RepairOf, Outcome<RepairView>>(r => r.Run(repair)));
        await Reads("triage", () => book.Do<TriageOf, Outcome<TriageView>>(t => t.Run(repair)));
        await Reads(
            "closed repairs",
            () => book.Do<ListHistory, (IReadOnlyList<Repair>, bool)>(h => h.Run(new HistoryQuery()))
        );
        await Reads(
            "item",
            async () => await book.Do<ViewStock, int>(async s => (await s.Item(code)).Value.Movements.Count)
        );
        await Reads("scan", () => book.Do<ResolveCode, Resolved>(r => r.Run(unit.Serial)));
        await Reads("scan of a misread tag", () => book.Do<ResolveCode, Resolved>(r => r.Run("SK-O5I23")));

        async Task Reads<T>(string what, Func<Task<T>> page)
        {
            _ = await page();
            var before = await Scanned();
            _ = await page();
            var after = await Scanned();
            foreach (var table in Large)
            {
                // The first thousand of a list may be read as they lie; a whole table may not.
                (after[table].Read - before[table].Read).ShouldBeLessThan(
                    after[table].Rows / 4,
                    $"{what} reads {table}"
                );
            }
        }

        // PostgreSQL's own count of rows read, by walking a table or an index; connections report it when they end.
        async Task<Dictionary<string, (long Read, long Rows)>> Scanned()
        {
            Npgsql.NpgsqlConnection.ClearAllPools();
            await Task.Delay(150);
            return await book.Ask(async db =>
            {
                var rows = await db
                    .Database.SqlQuery<string>(
                        $"SELECT relname || ' ' || coalesce(seq_tup_read, 0) + coalesce(idx_tup_fetch, 0) || ' ' || n_live_tup AS \"Value\" FROM pg_stat_user_tables"
                    )
                    .ToListAsync();
                return rows.Select(r => r.Split(' ')).ToDictionary(r => r[0], r => (Number(r[1]), Number(r[2])));
            });
        }
    }

    private static long Number(string text) => long.Parse(text, System.Globalization.CultureInfo.InvariantCulture);
}
