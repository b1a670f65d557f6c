using System.Data.Common;
using System.Diagnostics;
using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Diagnostics;
using Npgsql;
using Zenrik.Core;
using Zenrik.Demo.World;
using Zenrik.Workshop;
using Zenrik.Workshop.Batteries;
using Zenrik.Workshop.Book;
using Zenrik.Workshop.Economics;
using Zenrik.Workshop.Fit;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Reliability;
using Zenrik.Workshop.Scheduling;
using Zenrik.Workshop.Sourcing;
using Zenrik.Workshop.Stock;

namespace Zenrik.Benchmarks;

/// <summary>
/// Pages of a large fleet, asked of the real program over HTTP, against the same SQL through a bare prepared command and an
/// empty page, both in this run: what is ours is what is left.
/// </summary>
internal static class FleetMeasures
{
    private const int Runs = 200;

    /// <summary>Before times are taken, so that all three run as they do after minutes of service.</summary>
    private const int WarmUps = 300;

    /// <summary>A page is asked for no longer than this at a time, in milliseconds, but forty times at least.</summary>
    private const double Longest = 6000;

    /// <param name="crowd">False: the pages alone.</param>
    public static async Task Run(string server, EmptyPage emptyPage, bool quick, bool crowd)
    {
        var fleet = quick ? 10_000 : 100_000;
        await using (var source = NpgsqlDataSource.Create(server))
        {
            await using var command = source.CreateCommand("CREATE DATABASE zenrik_large");
            await command.ExecuteNonQueryAsync();
        }

        var connection = new NpgsqlConnectionStringBuilder(server) { Database = "zenrik_large" }.ConnectionString;
        await using var services = new ServiceCollection()
            .AddLogging()
            .AddWorkshop(connection)
            .AddScoped<MakeWorld>()
            .AddScoped<LoadDemo>()
            .BuildServiceProvider();
        var watch = Stopwatch.StartNew();
        await Use<MakeWorld, IReadOnlyList<string>>(p => p.Run(true, fleet));
        var made = watch.Elapsed.TotalSeconds;
        await using var bare = await new NpgsqlDataSourceBuilder(connection).Build().OpenConnectionAsync();
        var (units, items, movements) = (await Count("units"), await Count("items"), await Count("movements"));
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"A large fleet: {units} units, {items} items, {movements} movements, made in {made:0} s"
            )
        );

        await Anew("batteries", () => Use<FleetBatteries, int>(async b => (await b.Run()).Batteries.Count));
        await Anew("what fails", () => Use<FleetLives, int>(async l => (await l.Run()).Parts.Count()));
        await Anew("spares", () => Use<ExpectedDemand, int>(async d => (await d.Run(60, 0.95)).Count));

        await using var program = await RunningProgram.Start(connection);
        var tag = $"SK-{1000 + (fleet / 2):00000}";
        var id = await Use<WorkshopDb, Core.Stock.UnitId>(db =>
            db.Units.Where(u => u.Tag == tag).Select(u => u.Id).SingleAsync()
        );
        _ = await emptyPage.Times(WarmUps);
        var empty = await emptyPage.Times(Runs);

        Page[] pages =
        [
            new(
                "search as one types",
                $"/fleet?search={tag[..7]}",
                Fragment: true,
                async () =>
                {
                    await Use<ListUnits, UnitPage>(l => l.Run(new UnitQuery(tag[..7])));
                    await Use<WallOf, int>(async w => (await w.Run(new UnitQuery(tag[..7]))).Count);
                }
            ),
            new(
                "search of a site, a word",
                "/fleet?search=merrow&site=Ferry%20Office",
                Fragment: true,
                () => Use<ListUnits, UnitPage>(l => l.Run(new UnitQuery("merrow", "Ferry Office")))
            ),
            new(
                "fleet page",
                "/fleet",
                Fragment: false,
                async () =>
                {
                    await Use<ListUnits, UnitPage>(l => l.Run(new UnitQuery()));
                    await Use<ListUnits, int>(async l => (await l.Choices()).Sites.Count);
                }
            ),
            new(
                "passport",
                $"/fleet/{tag}",
                Fragment: false,
                async () =>
                {
                    var passport = (await Use<PassportOf, Outcome<Passport>>(p => p.Run(tag))).Value;
                    await Use<HistoryOf, UnitHistory>(h => h.Run(id));
                    await Use<FitOf, IReadOnlyList<Upgrade>>(f => f.Upgrades(passport));
                }
            ),
            new(
                "stock page",
                "/stores",
                Fragment: false,
                async () =>
                {
                    await Use<ViewStock, bool>(async s => (await s.Run(new StockQuery())).More);
                    await Use<ViewBin, int>(async b => (await b.All()).Count);
                    await Use<ViewStock, int>(async s => (await s.ToHandOut()).Count);
                    await Use<ViewStock, int>(async s => (await s.ToPutBack()).Count);
                    await Use<ViewOrders, int>(async o => (await o.Coming()).Count);
                }
            ),
            .. Outlook(),
        ];
        foreach (var page in pages)
        {
            // The first look reckons what is kept from then on.
            await program.Get(page.Address, page.Fragment);
            _ = await For(() => program.Get(page.Address, page.Fragment), WarmUps);
        }

        foreach (var page in pages)
        {
            await Print(page);
        }

        if (crowd)
        {
            await CrowdMeasures.Run(program, emptyPage, await Mixed(), quick);
        }

        // What looks ahead, from figures that are kept.
        IReadOnlyList<Page> Outlook() =>
            [
                new(
                    "batteries",
                    "/outlook",
                    Fragment: false,
                    () =>
                        Use<FleetBatteries, int>(async b =>
                            (await b.ByNumber(await b.Run(), b.Today.AddMonths(6), 0.9)).Count
                        )
                ),
                new("what fails", "/outlook/watch", Fragment: false, () => Use<FleetLives, FleetLife>(l => l.Run())),
                new(
                    "a slot's curve",
                    "/outlook/wear/sandpiper-14/battery",
                    Fragment: false,
                    () => Use<FleetLives, FleetLife>(l => l.Run())
                ),
                new(
                    "spares",
                    "/outlook/spares",
                    Fragment: false,
                    () => Use<ExpectedDemand, int>(async d => (await d.Run(60, 0.95)).Count)
                ),
                new(
                    "calendar",
                    "/outlook/calendar",
                    Fragment: false,
                    () => Use<ViewCalendar, BenchCalendar>(c => c.Run())
                ),
                new(
                    "repair or replace",
                    "/outlook/replace?model=sandpiper-14",
                    Fragment: false,
                    async () =>
                    {
                        await Use<ViewFrontier, int>(async f => (await f.Models()).Count);
                        await Use<ViewFrontier, FrontierView?>(f => f.Run("sandpiper-14"));
                    }
                ),
                new("harvest", "/outlook/harvest", Fragment: false, () => Use<PlanHarvest, HarvestView>(h => h.Run())),
                new("money", "/outlook/money", Fragment: false, () => Use<YearAhead, YearView>(y => y.Run())),
                new(
                    "a last order",
                    "/outlook/last-order/sandpiper-14/battery",
                    Fragment: false,
                    () => Use<PlanLastOrder, LastOrder?>(l => l.Run("sandpiper-14", "battery", null))
                ),
            ];

        // What a day at a workshop asks for, as often: the Counter and its repairs, passports of all the fleet, what is on
        // the shelves, now and then what lies ahead.
        async Task<IReadOnlyList<string>> Mixed()
        {
            var tags = Enumerable.Range(0, 40).Select(i => $"/fleet/SK-{1000 + (i * fleet / 50):00000}");
            var repairs = await Use<WorkshopDb, List<string>>(async db =>
                (
                    await db.Repairs.OrderByDescending(r => r.Number).Select(r => r.Number).Take(40).ToListAsync()
                ).ConvertAll(n => $"/repairs/{Repair.CodeOf(n)}")
            );
            return
            [
                .. tags,
                .. repairs,
                .. Enumerable.Repeat("/", 30),
                .. Enumerable.Range(0, 20).Select(i => $"/fleet?search=SK-{(1000 + (i * fleet / 25)) / 100:000}"),
                .. Enumerable.Repeat("/fleet", 10),
                .. Enumerable.Repeat("/stores", 20),
                .. Enumerable.Repeat("/outlook", 5),
            ];
        }

        // Reckoned from the book, then asked again while the book is the same.
        async Task Anew(string what, Func<Task<int>> run)
        {
            var anew = Stopwatch.StartNew();
            var count = await run();
            var first = anew.Elapsed.TotalSeconds;
            anew.Restart();
            _ = await run();
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"  outlook, {what}: {count} rows anew in {first:0.0} s, {anew.Elapsed.TotalSeconds / first:0.000} of that when kept; {GC.GetTotalMemory(true) / 1_048_576} MB held"
                )
            );
        }

        async Task Print(Page page)
        {
            var statements = await Statements.Of(page.UseCases);
            _ = await For(() => Replay(statements), WarmUps);
            var sql = await For(() => Replay(statements), Runs);
            var asked = await For(() => program.Get(page.Address, page.Fragment), Runs);
            var floor = Measure.Quantile(sql, 0.5) + Measure.Quantile(empty, 0.5);
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"  {page.What, -26} {Measure.Quantile(asked, 0.5) / floor, 6:0.00} × (same SQL + empty page): median {Measure.Quantile(asked, 0.5):0.0}, p95 {Measure.Quantile(asked, 0.95):0.0} ms against {Measure.Quantile(sql, 0.5):0.0} + {Measure.Quantile(empty, 0.5):0.0}; p95 of the SQL {Measure.Quantile(sql, 0.95):0.0}; {statements.Count} statements"
                )
            );
        }

        static async Task<IReadOnlyList<double>> For(Func<Task> act, int runs)
        {
            var each = Measure.Quantile(await Measure.Times(act, 5), 0.5);
            return await Measure.Times(act, (int)Math.Clamp(Longest / each, 40, runs));
        }

        // Every statement prepared once, then asked one after the other with every row read; in a transaction, as some of them are.
        async Task Replay(IReadOnlyList<NpgsqlCommand> statements)
        {
            await using var transaction = await bare.BeginTransactionAsync();
            foreach (var statement in statements)
            {
                if (!statement.IsPrepared)
                {
                    statement.Connection = bare;
                    await statement.PrepareAsync();
                }

                await using var reader = await statement.ExecuteReaderAsync();
                while (await reader.ReadAsync())
                {
                    for (var i = 0; i < reader.FieldCount; i++)
                    {
                        _ = reader.GetValue(i);
                    }
                }
            }
        }

        async Task<long> Count(string table)
        {
            await using var command = new NpgsqlCommand($"SELECT count(*) FROM {table}", bare);
            return (long)(await command.ExecuteScalarAsync())!;
        }

        async Task<T> Use<TUseCase, T>(Func<TUseCase, Task<T>> use)
            where TUseCase : notnull
        {
            await using var scope = services.CreateAsyncScope();
            return await use(scope.ServiceProvider.GetRequiredService<TUseCase>());
        }
    }

    /// <param name="UseCases">What the page asks of the book, for its SQL.</param>
    private sealed record Page(string What, string Address, bool Fragment, Func<Task> UseCases);

    /// <summary>What EF Core sends while something runs, copied so that it can be sent again without it.</summary>
    private sealed class Statements
        : IObserver<DiagnosticListener>,
            IObserver<KeyValuePair<string, object?>>,
            IDisposable
    {
        private readonly List<NpgsqlCommand> seen = [];
        private readonly List<IDisposable> subscriptions = [];

        public static async Task<IReadOnlyList<NpgsqlCommand>> Of(Func<Task> run)
        {
            // Once to compile the queries and fill caches, as in a program that serves.
            await run();
            using var listener = new Statements();
            using var all = DiagnosticListener.AllListeners.Subscribe(listener);
            // EF Core remembers for a second that nobody listened.
            await Task.Delay(1500);
            await run();
            return listener.seen;
        }

        public void OnNext(DiagnosticListener value)
        {
            if (value.Name == DbLoggerCategory.Name)
            {
                subscriptions.Add(value.Subscribe(this));
            }
        }

        public void OnNext(KeyValuePair<string, object?> value)
        {
            if (
                value.Key == RelationalEventId.CommandExecuted.Name
                && value.Value is CommandExecutedEventData { Command: { } command }
            )
            {
                var copy = new NpgsqlCommand(command.CommandText);
                foreach (DbParameter parameter in command.Parameters)
                {
                    copy.Parameters.Add(((NpgsqlParameter)parameter).Clone());
                }

                seen.Add(copy);
            }
        }

        public void OnCompleted() { }

        public void OnError(Exception error) { }

        public void Dispose() => subscriptions.ForEach(s => s.Dispose());
    }
}
