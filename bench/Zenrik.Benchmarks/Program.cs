using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;
using Zenrik.Benchmarks;
using Zenrik.Core;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;
using Zenrik.Demo.World;
using Zenrik.Workshop;
using Zenrik.Workshop.BenchLedger;
using Zenrik.Workshop.Book;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.Repairs;

// Every figure is a ratio of two things measured in this run on this machine; milliseconds are shown for scale only.

if (args.Contains("learning"))
{
    LearningMeasures.Measure(quick: args.Contains("quick"));
    return;
}

if (args.Contains("outlook"))
{
    OutlookMeasures.Run(quick: args.Contains("quick"));
    return;
}

if (args.Contains("schedule"))
{
    ScheduleMeasures.Run(quick: args.Contains("quick"));
    return;
}

if (args.Contains("triage"))
{
    await using var page = await EmptyPage.Start();
    await TriageMeasures.Run(page, quick: args.Contains("quick"));
    return;
}

var server =
    Environment.GetEnvironmentVariable("ZENRIK_TEST_CONNECTION")
    ?? throw new InvalidOperationException("Run ./zenrik bench, which starts a PostgreSQL for it.");
var source = NpgsqlDataSource.Create(server);
await Bare("CREATE DATABASE zenrik_bench");
var connection = new NpgsqlConnectionStringBuilder(server) { Database = "zenrik_bench" }.ConnectionString;
await using var services = new ServiceCollection()
    .AddLogging()
    .AddWorkshop(connection)
    .AddScoped<MakeWorld>()
    .AddScoped<LoadDemo>()
    .BuildServiceProvider();
await Use<MakeWorld, IReadOnlyList<string>>(p => p.Run(withDemo: true));
source = NpgsqlDataSource.Create(connection);

if (args.Contains("practice"))
{
    PracticeMeasures.Learners(quick: args.Contains("quick"));
    await using var nothing = await EmptyPage.Start();
    await PracticeMeasures.Moves(services, nothing, connection);
    return;
}

if (!args.Contains("fleet") && !args.Contains("lists"))
{
    OutlookMeasures.Run(quick: args.Contains("quick"));
    Console.WriteLine();
    ScheduleMeasures.Run(quick: args.Contains("quick"));
    Console.WriteLine();
    Planning.Measure(quick: args.Contains("quick"));
}

Console.WriteLine();
await using var emptyPage = await EmptyPage.Start();
if (args.Contains("fleet"))
{
    await FleetMeasures.Run(server, emptyPage, quick: args.Contains("quick"), crowd: !args.Contains("pages"));
    return;
}

await ImportMeasures.Run(server, quick: args.Contains("quick"));
if (args.Contains("lists"))
{
    return;
}

Console.WriteLine();
await TriageMeasures.Run(emptyPage, quick: args.Contains("quick"));

Console.WriteLine();
LearningMeasures.Measure(quick: args.Contains("quick"));

Console.WriteLine();
PracticeMeasures.Learners(quick: args.Contains("quick"));
await PracticeMeasures.Moves(services, emptyPage, connection);

Console.WriteLine();
Console.WriteLine("The bench");
await Bare("CREATE TABLE bare (id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY, text text)");
var insert = await Measure.MedianAsync(() => Bare("INSERT INTO bare (text) VALUES ('x')"), 200);

// A program that serves benches is warm: a first session is worked before the one that is measured.
var idle = await Use<WorkshopDb, string>(db =>
    db.Units.Where(u => u.ModelCode == "sandpiper-14" && !db.Repairs.Any(r => r.UnitId == u.Id))
        .OrderBy(u => u.Tag)
        .Select(u => u.Tag)
        .FirstAsync()
);
var (warm, by, warming) = await OnTheBench(idle, "battery", "battery worn");
for (var i = 0; i < 300; i++)
{
    var seen = warming;
    warming = (
        await Use<RecordEntry, Outcome<BenchView>>(r =>
            r.Run(warm, Guid.NewGuid(), seen.Sequence, new Entry.Noted(seen.Ledger.Current!.Number, "warm"), by)
        )
    ).Value;
}

var (repair, _, bench) = await OnTheBench("SK-00417", "board", "no sign of life");
var act = await Measure.MedianAsync(
    async () =>
    {
        var step = bench.Ledger.Current!;
        Entry entry = step.Act.Kind switch
        {
            ActKind.ReadRemoved => new Entry.NumberRead(step.Number, bench.Ledger.Brief.Removed["board"].Text, false),
            ActKind.ReadFitted => new Entry.NumberRead(step.Number, bench.Ledger.Brief.Fitted["board"].Text, false),
            _ => new Entry.Done(step.Number, true),
        };
        bench = (
            await Use<RecordEntry, Outcome<BenchView>>(r => r.Run(repair, Guid.NewGuid(), bench.Sequence, entry, by))
        ).Value;
    },
    100
);
Measure.Print("record an act of a board swap", act, "bare one-row insert", insert);

Console.WriteLine();
Console.WriteLine("Looking things up");
var select = await Measure.MedianAsync(() => Bare("SELECT tag FROM units WHERE tag = 'SK-00417'"), 300);
await Look("scan a tag", () => Use<ResolveCode, Resolved>(r => r.Run("SK-00417")));
await Look("scan an unknown code", () => Use<ResolveCode, Resolved>(r => r.Run("SK-OO4I7")));
await Look("passport", () => Use<PassportOf, Outcome<Passport>>(p => p.Run("SK-00417")));
await Look("Counter", () => Use<ViewCounter, CounterView>(c => c.Run()));

Console.WriteLine();
await FleetMeasures.Run(server, emptyPage, quick: args.Contains("quick"), crowd: true);

async Task Look<T>(string what, Func<Task<T>> look) =>
    Measure.Print(what, await Measure.MedianAsync(look, 60), "bare lookup by tag", select);

async Task Bare(string sql)
{
    await using var command = source.CreateCommand(sql);
    await command.ExecuteNonQueryAsync();
}

async Task<T> Use<TUseCase, T>(Func<TUseCase, Task<T>> use)
    where TUseCase : notnull
{
    await using var scope = services.CreateAsyncScope();
    return await use(scope.ServiceProvider.GetRequiredService<TUseCase>());
}

async Task<(long Repair, Actor By, BenchView Bench)> OnTheBench(string tag, string assembly, string fault)
{
    var who = await Use<WorkshopDb, Actor>(db =>
        db.Users.Where(u => u.UserName == "aled").Select(u => new Actor(u.Id, u.Name)).SingleAsync()
    );
    var code = (
        await Use<OpenRepair, Outcome<string>>(o =>
            o.Run(tag, new Intake { Known = [new Complaint(assembly, fault)] }, who)
        )
    ).Value;
    var number = Repair.NumberOf(code)!.Value;
    var view = (await Use<RepairOf, Outcome<RepairView>>(r => r.Run(number))).Value;
    var item = view.Lines[0].Candidates.First(c => c.PromisedTo is null).Code;
    _ = (await Use<ChooseItem, Outcome<string>>(c => c.Run(number, assembly, item, who))).Value;
    _ = (await Use<StartSession, Outcome<string>>(s => s.Run(number, who))).Value;
    return (number, who, (await Use<BenchOf, Outcome<BenchView>>(b => b.Run(number))).Value);
}
