using System.Diagnostics;
using System.Globalization;
using System.Text;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;
using Zenrik.Demo.World;
using Zenrik.Workshop;
using Zenrik.Workshop.Book;
using Zenrik.Workshop.Importing;

namespace Zenrik.Benchmarks;

/// <summary>A whole fleet taken in from a list, against PostgreSQL's own COPY of the same rows into the same tables.</summary>
internal static class ImportMeasures
{
    public static async Task Run(string server, bool quick)
    {
        var units = quick ? 10_000 : 100_000;
        Console.WriteLine($"Lists taken in: {units:N0} units, each a row of the book and a line of its timeline");
        await using (var admin = NpgsqlDataSource.Create(server))
        {
            await using var make = admin.CreateCommand("CREATE DATABASE zenrik_lists");
            await make.ExecuteNonQueryAsync();
        }

        var connection = new NpgsqlConnectionStringBuilder(server) { Database = "zenrik_lists" }.ConnectionString;
        await using var services = new ServiceCollection()
            .AddLogging()
            .AddWorkshop(connection)
            .AddScoped<MakeWorld>()
            .AddScoped<LoadDemo>()
            .BuildServiceProvider();
        await Use<MakeWorld, IReadOnlyList<string>>(p => p.Run(withDemo: true));
        var by = await Use<WorkshopDb, Actor>(db =>
            Task.FromResult(db.Users.Where(u => u.UserName == "mara").Select(u => new Actor(u.Id, u.Name)).Single())
        );
        var file = await Kept(Csv("TW", units));

        // What stays below a bound whatever the file's length is what the process holds beside the file itself.
        GC.Collect();
        var before = Process.GetCurrentProcess().PeakWorkingSet64;
        var clock = Stopwatch.StartNew();
        var view = (await Use<TakeInFile, Core.Outcome<FileView>>(f => f.Look(file, by))).Value;
        var looked = clock.Elapsed;
        if (view.Counts[FateFilter.New] != units)
        {
            throw new InvalidOperationException($"{view.Counts[FateFilter.New]} new: {view.Rows[0].Fate}");
        }

        clock.Restart();
        _ = (await Use<TakeInFile, Core.Outcome<string>>(f => f.Take(Guid.NewGuid(), file, false, by))).Value;
        var taken = clock.Elapsed;
        var peak = (Process.GetCurrentProcess().PeakWorkingSet64 - before) / (1024.0 * 1024);

        // The same list again: nothing is new.
        file = await Kept(Csv("TW", units));
        clock.Restart();
        _ = (await Use<TakeInFile, Core.Outcome<string>>(f => f.Take(Guid.NewGuid(), file, false, by))).Value;
        var same = clock.Elapsed;

        var copied = await Copy(connection, by, units);
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"  taken in                       {taken / copied:0.00} × COPY of the same rows ({taken.TotalSeconds:0.0} s, goal ≤ 3)"
            )
        );
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"  looked at                      {looked / copied:0.00} × that COPY ({looked.TotalSeconds:0.0} s)"
            )
        );
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"  taken in again, nothing new    {same / copied:0.00} × that COPY ({same.TotalSeconds:0.0} s)"
            )
        );
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"  memory held at most, besides   {peak:0} MB"));

        async Task<Guid> Kept(byte[] content) =>
            (await Use<TakeInFile, Core.Outcome<Guid>>(f => f.Keep("units", "fleet.csv", content, by))).Value;

        async Task<T> Use<TService, T>(Func<TService, Task<T>> use)
            where TService : notnull
        {
            await using var scope = services.CreateAsyncScope();
            return await use(scope.ServiceProvider.GetRequiredService<TService>());
        }
    }

    private static byte[] Csv(string prefix, int units)
    {
        var text = new StringBuilder("tag,serial,model,site,user,bought\n");
        for (var i = 0; i < units; i++)
        {
            text.Append(
                CultureInfo.InvariantCulture,
                $"{prefix}-{i:000000},L{i:00000000},Sandpiper 14,Site {i % 40},User {i % 9000},2024-09-{1 + (i % 28):00}\n"
            );
        }

        return Encoding.UTF8.GetBytes(text.ToString());
    }

    /// <summary>As many rows of the same width into the same two tables, with their indexes and triggers.</summary>
    private static async Task<TimeSpan> Copy(string connection, Actor by, int units)
    {
        await using var source = NpgsqlDataSource.Create(connection);
        await using var open = await source.OpenConnectionAsync();
        var ids = Enumerable.Range(0, units).Select(_ => Guid.CreateVersion7()).ToList();
        var clock = Stopwatch.StartNew();
        await using var transaction = await open.BeginTransactionAsync();
        await using (
            var rows = await open.BeginTextImportAsync(
                "COPY units (id, tag, serial, model_code, site, user_name, bought_on, state, in_loan_pool) FROM STDIN"
            )
        )
        {
            for (var i = 0; i < units; i++)
            {
                await rows.WriteAsync(
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"{ids[i]}\tTX-{i:000000}\tM{i:00000000}\tsandpiper-14\tSite {i % 40}\tUser {i % 9000}\t2024-09-{1 + (i % 28):00}\tInUse\tf\n"
                    )
                );
            }
        }

        await using (
            var events = await open.BeginTextImportAsync("COPY unit_events (unit_id, at, by_id, kind, text) FROM STDIN")
        )
        {
            for (var i = 0; i < units; i++)
            {
                await events.WriteAsync(
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"{ids[i]}\t2026-11-27 10:00:00+00\t{by.Id}\tRegistered\tEntered the book from a list, for Site {i % 40}\n"
                    )
                );
            }
        }

        await transaction.CommitAsync();
        return clock.Elapsed;
    }
}
