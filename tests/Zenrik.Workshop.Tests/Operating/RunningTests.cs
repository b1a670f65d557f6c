using System.Collections.Concurrent;
using System.Diagnostics;
using System.Diagnostics.Metrics;
using System.Net;
using System.Text;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Practice;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.HouseRules;
using Zenrik.Workshop.Operating;
using Zenrik.Workshop.Practice;
using Zenrik.Workshop.Tests.Web;

namespace Zenrik.Workshop.Tests.Operating;

public sealed class RunningTests(TemplateDatabase databases)
{
    private static CancellationToken Stop => TestContext.Current.CancellationToken;

    [Fact]
    public async Task Who_serves_is_seen_until_it_ends_or_is_not_heard_of()
    {
        await using var book = await databases.NewBook();
        await book.Do<SayServing, int>(Say);
        await book.Do<SayServing, int>(Say);
        (await View(book)).Instances.ShouldHaveSingleItem().Version.ShouldMatch(@"^\d+\.\d+\.\d+$");

        book.Clock.Ahead = TimeSpan.FromMinutes(3);
        (await View(book)).Instances.ShouldBeEmpty();
        await book.Do<SayServing, int>(Say);
        (await View(book)).Instances.Count.ShouldBe(1);
        await book.Do<SayServing, int>(async s =>
        {
            await s.Ends(Stop);
            return 0;
        });

        var view = await View(book);
        view.Instances.ShouldBeEmpty();
        (view.Database.Bytes > 1_000_000, view.Database.Connections > 0).ShouldBe((true, true));
        view.Largest.ShouldContain(t => t.Name == "movements");

        static async Task<int> Say(SayServing s)
        {
            await s.Run(Stop);
            return 0;
        }
    }

    /// <summary>They once had the number of the list of campaigns: each kept the other waiting, or from being done.</summary>
    [Fact]
    public async Task Whoever_begins_a_campaign_does_not_wait_for_chores()
    {
        await using var book = await databases.NewBook();
        var begun = await book.Ask(async db =>
        {
            await using var another = await db.Database.BeginTransactionAsync(Stop);
            (await db.TryLockChores(Stop)).ShouldBeTrue();
            return await book.Do<ChangeUnits, Outcome<string>>(c =>
                c.Mark(Guid.NewGuid(), [Job.Unit], "Dust", book.Lead, Stop)
            );
        });
        begun.Value.ShouldContain("1 unit marked for “Dust”");
    }

    [Fact]
    public async Task Chores_are_done_once_a_day_by_one_of_many_and_clear_nothing_that_is_needed()
    {
        await using var book = await databases.NewBook();
        var bo = await book.Person("bo");
        _ = (await book.Do<SetHouseRule, Outcome<string>>(d => d.Run("readiness", "asked", book.Lead, Stop))).Value;
        var kept = (await Labels(null)).Value;
        var guests = (await Labels("Guest")).Value;
        _ = await book.Do<MakeMove, Outcome<PracticeView>>(m => m.Run(guests, Guid.NewGuid(), 0, "X", bo, Stop));
        var request = Guid.NewGuid();
        await book.Ask(async db =>
        {
            db.DoneRequests.Add(
                new DoneRequest
                {
                    Id = request,
                    At = DateTimeOffset.UtcNow,
                    ById = bo.Id,
                    Act = "Test",
                    Said = "said",
                }
            );
            return await db.SaveChangesAsync(Stop);
        });

        book.Clock.Ahead = TimeSpan.FromDays(DoChores.RequestDays - 1);
        (await Do()).ShouldNotBeNull();
        (await book.Ask(db => db.DoneRequests.AnyAsync(r => r.Id == request, Stop))).ShouldBeTrue();
        (await Do()).ShouldBeNull("it was done a moment ago");

        book.Clock.Ahead = TimeSpan.FromDays(DoChores.RequestDays + 1);
        var many = await Task.WhenAll(Enumerable.Range(0, 6).Select(_ => Do()));

        many.Count(said => said is not null).ShouldBe(1);
        (await book.Ask(db => db.DoneRequests.AnyAsync(r => r.Id == request, Stop))).ShouldBeFalse();
        var runs = await book.Ask(db => db.PracticeRuns.Select(r => r.Id).ToListAsync(Stop));
        runs.ShouldBe([kept]);
        (await book.Ask(db => db.PracticeMoves.AnyAsync(m => m.RunId == guests, Stop))).ShouldBeFalse();
        (await View(book)).Chores.ShouldHaveSingleItem().Said.ShouldContain("runs of practice 1.");

        Task<string?> Do() => book.Do<DoChores, string?>(c => c.Run(Stop));
        Task<Outcome<Guid>> Labels(string? guest) =>
            book.Do<StartPractice, Outcome<Guid>>(s => s.Labels(Guid.NewGuid(), guest, bo, Stop));
    }

    [Fact]
    public async Task Tables_that_are_too_old_or_too_new_are_refused_in_a_sentence()
    {
        await using var book = await databases.NewBook();
        (await Refusal("1.2.3")).ShouldBeNull();
        await Sql($"COMMENT ON TABLE \"__EFMigrationsHistory\" IS '{KnowTables.Least}1.3.0'");
        (await Refusal("1.2.3"))!.ShouldContain("version 1.3.0 and later; this is 1.2.3");
        (await Refusal("1.3.0")).ShouldBeNull();
        await Sql("DELETE FROM \"__EFMigrationsHistory\" WHERE migration_id LIKE '%_Serving'");
        (await Refusal("1.3.0"))!.ShouldContain("1 of their changes are missing");

        Task<string?> Refusal(string version) =>
            book.Do<KnowTables, string?>(k => k.Refusal(new Version(version), Stop));
        Task<int> Sql(string sql) => book.Ask(db => db.Database.ExecuteSqlRawAsync(sql, Stop));
    }

    [Fact]
    public async Task An_act_is_measured_by_its_name_with_what_became_of_it()
    {
        await using var book = await databases.NewBook();
        var heard = new ConcurrentBag<(string Act, string Became)>();
        using var listener = new MeterListener
        {
            InstrumentPublished = (instrument, l) =>
            {
                if (instrument is { Meter.Name: Measured.Name, Name: "zenrik.act.duration" })
                {
                    l.EnableMeasurementEvents(instrument);
                }
            },
        };
        listener.SetMeasurementEventCallback<double>(
            (_, _, tags, _) =>
            {
                var by = tags.ToArray().ToDictionary(t => t.Key, t => (string)t.Value!);
                heard.Add((by["zenrik.act"], by["zenrik.outcome"]));
            }
        );
        listener.Start();

        await book.Do<SetHouseRule, Outcome<string>>(d => d.Run("readiness", "asked", book.Lead, Stop));
        await book.Do<SetHouseRule, Outcome<string>>(d => d.Run("readiness", "no such school", book.Lead, Stop));

        heard.ShouldContain(("SetHouseRule.Run", "done"));
    }

    [Fact]
    public async Task What_fails_in_the_program_is_counted_by_kind_and_route()
    {
        await using var program = await RunningProgram.On(databases);
        using var mara = await program.Visit("mara");
        await program.Book.Ask(db => db.Database.ExecuteSqlRawAsync("ALTER TABLE bins RENAME TO elsewhere", Stop));
        for (var i = 0; i < 2; i++)
        {
            (await mara.Http.GetAsync("/stores?q=secret", Stop)).StatusCode.ShouldBe(
                HttpStatusCode.InternalServerError
            );
        }

        var mishap = (await View(program.Book)).Mishaps.ShouldHaveSingleItem();

        (mishap.Kind, mishap.Place, mishap.Count).ShouldBe(("PostgresException", "GET /stores", 2));
    }

    private static readonly string[] Wanted = ["http.server.request.duration", "fleet/{tag}", "zenrik"];

    [Fact]
    public async Task What_is_told_to_a_collector_names_acts_and_routes_and_nobody()
    {
        using var collector = new HttpListener();
        var port = FreePort();
        collector.Prefixes.Add($"http://127.0.0.1:{port}/");
        collector.Start();
        var told = new StringBuilder();
        var listening = Listen();
        await using (
            var program = await RunningProgram.On(
                databases,
                ("OTEL_EXPORTER_OTLP_ENDPOINT", $"http://127.0.0.1:{port}"),
                ("OTEL_EXPORTER_OTLP_PROTOCOL", "http/protobuf"),
                ("OTEL_METRIC_EXPORT_INTERVAL", "300")
            )
        )
        {
            using var mara = await program.Visit("mara");
            var tag = await program.Book.Ask(db => db.Units.Select(u => u.Tag).FirstAsync(Stop));
            (await mara.Http.GetAsync($"/fleet/{tag}?word=quill", Stop)).StatusCode.ShouldBe(HttpStatusCode.OK);
            var served = await mara.Http.GetStringAsync("/house/running", Stop);
            served.ShouldContain("PostgreSQL 1");
            // What is told first may have been measured before the page was asked for.
            for (var i = 0; i < 600 && Wanted.Any(w => !Said().Contains(w, StringComparison.Ordinal)); i++)
            {
                await Task.Delay(200, Stop);
            }
        }

        collector.Stop();
        await listening;
        // Its bytes are nothing to show.
        Wanted.Where(w => !Said().Contains(w, StringComparison.Ordinal)).ShouldBeEmpty();
        new[] { "SK-0", "quill", "mara" }.Where(w => Said().Contains(w, StringComparison.Ordinal)).ShouldBeEmpty();

        string Said()
        {
            lock (told)
            {
                return told.ToString();
            }
        }

        async Task Listen()
        {
            try
            {
                while (true)
                {
                    var context = await collector.GetContextAsync();
                    using var body = new MemoryStream();
                    await context.Request.InputStream.CopyToAsync(body, Stop);
                    lock (told)
                    {
                        told.Append(Encoding.UTF8.GetString(body.ToArray()));
                    }

                    context.Response.Close();
                }
            }
            catch (Exception e) when (e is HttpListenerException or ObjectDisposedException)
            {
                // It was stopped.
            }
        }
    }

    [Theory]
    [InlineData("ConnectionStrings:News", "Hots=127.0.0.1", "ConnectionStrings__News is not as Npgsql reads it")]
    [InlineData("ConnectionStrings:Workshop", "nonsense", "ConnectionStrings__Workshop is not as Npgsql reads it")]
    [InlineData("ConnectionStrings:Workshop", "Database=zenrik", "ConnectionStrings__Workshop names no Host")]
    [InlineData("OTEL_EXPORTER_OTLP_ENDPOINT", "collector:4318", "it is the address of a collector")]
    public async Task A_configuration_that_cannot_be_meant_ends_the_start_with_a_sentence(
        string name,
        string value,
        string sentence
    )
    {
        var start = new ProcessStartInfo("dotnet", [typeof(Program).Assembly.Location, $"--{name}={value}"])
        {
            RedirectStandardError = true,
            RedirectStandardOutput = true,
        };
        start.Environment["ConnectionStrings__Workshop"] = name.EndsWith("Workshop", StringComparison.Ordinal)
            ? value
            : "Host=127.0.0.1;Database=none";
        using var program = Process.Start(start)!;
        var said = await program.StandardError.ReadToEndAsync(Stop);
        await program.WaitForExitAsync(Stop);

        program.ExitCode.ShouldBe(78);
        said.Trim().Split('\n').ShouldHaveSingleItem().ShouldContain(sentence);
    }

    private static int FreePort()
    {
        using var socket = new System.Net.Sockets.TcpListener(IPAddress.Loopback, 0);
        socket.Start();
        return ((IPEndPoint)socket.LocalEndpoint).Port;
    }

    private static Task<Running> View(Book book) => book.Do<ViewRunning, Running>(v => v.Run(Stop));
}
