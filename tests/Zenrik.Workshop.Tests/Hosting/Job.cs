using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.Fleet;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.BenchLedger;
using Zenrik.Workshop.Repairs;

namespace Zenrik.Workshop.Tests;

/// <summary>The road of a repair in few words.</summary>
internal static class Job
{
    public const string Unit = "SK-00417";

    public static Task<Outcome<string>> Open(
        this Book book,
        Actor by,
        string assembly,
        string fault,
        string tag = Unit
    ) =>
        book.Do<OpenRepair, Outcome<string>>(o =>
            o.Run(tag, new Intake { Known = [new Complaint(assembly, fault)] }, by)
        );

    public static async Task<long> Opened(this Book book, Actor by, string assembly, string fault, string tag = Unit) =>
        Repair.NumberOf((await book.Open(by, assembly, fault, tag)).Value)!.Value;

    /// <summary>Takes a unit in by what its user notices.</summary>
    public static async Task<long> TakeIn(this Book book, Actor by, string tag, params string[] symptoms) =>
        Repair
            .NumberOf(
                (
                    await book.Do<OpenRepair, Outcome<string>>(o => o.Run(tag, new Intake { Symptoms = symptoms }, by))
                ).Value
            )!
            .Value;

    /// <summary>A unit of a model that was never in a repair.</summary>
    public static Task<string> Idle(this Book book, string model) =>
        book.Ask(db =>
            db.Units.Where(u =>
                    u.ModelCode == model && u.State == UnitState.InUse && !db.Repairs.Any(r => r.UnitId == u.Id)
                )
                .OrderBy(u => u.Tag)
                .Select(u => u.Tag)
                .FirstAsync()
        );

    public static Task<RepairView> View(this Book book, long repair) =>
        book.Do<RepairOf, RepairView>(async r => (await r.Run(repair)).Value);

    public static Task<Outcome<string>> Choose(this Book book, Actor by, long repair, string slot, string item) =>
        book.Do<ChooseItem, Outcome<string>>(c => c.Run(repair, slot, item, by));

    public static Task<Outcome<string>> Start(this Book book, Actor by, long repair) =>
        book.Do<StartSession, Outcome<string>>(s => s.Run(repair, by));

    public static Task<Outcome<BenchView>> Record(
        this Book book,
        Actor by,
        long repair,
        int seen,
        Entry entry,
        Guid? id = null
    ) => book.Do<RecordEntry, Outcome<BenchView>>(r => r.Run(repair, id ?? Guid.NewGuid(), seen, entry, by));

    public static Task<BenchView> Bench(this Book book, long repair) =>
        book.Do<BenchOf, BenchView>(async b => (await b.Run(repair)).Value);

    public static Task<Outcome<string>> Close(this Book book, Actor by, long repair) =>
        book.Do<CloseRepair, Outcome<string>>(c => c.Run(repair, by));

    /// <summary>Opens, chooses the first free item, and goes to the bench.</summary>
    public static async Task<long> OnBench(this Book book, Actor by, string assembly, string fault)
    {
        var repair = await book.Opened(by, assembly, fault);
        var line = (await book.View(repair)).Lines.Single();
        _ = (await book.Choose(by, repair, line.Line.Slot, line.Candidates.First(c => c.MayBeTaken).Code)).Value;
        _ = (await book.Start(by, repair)).Value;
        return repair;
    }

    /// <summary>Does acts as a careful technician would, until the plan ends or the given act is next.</summary>
    /// <param name="seconds">What each act takes; 0: all of it is only ticked off.</param>
    public static async Task<BenchView> Work(
        this Book book,
        Actor by,
        long repair,
        string? until = null,
        int seconds = 0
    )
    {
        var bench = await book.Bench(repair);
        while (bench.Ledger.Current is { } step && step.Act.ToString() != until)
        {
            book.Clock.Ahead += TimeSpan.FromSeconds(seconds);
            bench = (await book.Record(by, repair, bench.Sequence, bench.Proper())).Value;
        }

        return bench;
    }

    /// <summary>The entry a careful technician makes now.</summary>
    public static Entry Proper(this BenchView bench)
    {
        var step = bench.Ledger.Current!;
        var brief = bench.Ledger.Brief;
        return step.Act.Kind switch
        {
            ActKind.ReadRemoved => new Entry.NumberRead(step.Number, brief.Removed[Slot()].Text, false),
            // Scanned: a new part's bar code begins with what it says.
            ActKind.ReadFitted => new Entry.NumberRead(step.Number, $"1P{brief.Fitted[Slot()].Text}", false),
            ActKind.PutIn when bench.Ledger.ToTick is [var item, ..] => new Entry.Moved(step.Number, item.Item),
            _ => new Entry.Done(step.Number, CautionRead: true),
        };

        string Slot() => brief.Plan.Map.Part(step.Act.Part).Slot!;
    }
}
