using Microsoft.EntityFrameworkCore;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.Fleet;

namespace Zenrik.Workshop.BenchLedger;

/// <summary>One line of a session as it is read afterwards.</summary>
/// <param name="Act">The act that was current; null once all were done.</param>
/// <param name="Said">What the line says beyond "done"; empty when it says no more.</param>
/// <param name="Seconds">How long the act took; null for lines that end none, after a pause, and where it was taken back.</param>
/// <param name="TakenBack">True when a later line took this one back.</param>
public sealed record RecordLine(
    int Sequence,
    DateTimeOffset At,
    string By,
    EntryKind Kind,
    int? Step,
    Act? Act,
    string Title,
    string Said,
    double? Seconds,
    bool TakenBack
);

/// <summary>What was done in a session, by whom and when: every line, those taken back too.</summary>
public sealed class RecordOf(WorkshopDb db)
{
    public async Task<IReadOnlyList<RecordLine>> Run(BenchView bench, CancellationToken stop = default)
    {
        var ids = bench.Session.Entries.Select(e => e.ById).Distinct().ToList();
        var names = await db.Users.Where(u => ids.Contains(u.Id)).ToDictionaryAsync(u => u.Id, u => u.Name, stop);
        var lines = new List<RecordLine>();
        var standing = new Stack<int>();
        var ledger = Ledger.Begin(bench.Ledger.Brief);
        var last = bench.Session.StartedAt;
        var since = TimeSpan.Zero;
        foreach (var row in bench.Session.Entries)
        {
            var entry = row.ToEntry();
            var before = ledger;
            ledger = ledger.Add(entry).Value;
            var gap = row.At - last;
            (last, since) = (row.At, since + gap);
            var ends = entry is Entry.Done or Entry.CountDiffers or Entry.NumberRead or Entry.Named;
            if (entry is Entry.TakenBack)
            {
                lines[standing.Peek()] = lines[standing.Pop()] with { TakenBack = true, Seconds = null };
            }
            else
            {
                standing.Push(lines.Count);
            }

            lines.Add(
                new RecordLine(
                    row.Sequence,
                    row.At,
                    names[row.ById],
                    row.Kind,
                    row.Step,
                    before.Current?.Act,
                    TitleOf(entry, before),
                    Say(entry, before),
                    ends && gap <= WorkingTime.LongestAct ? since.TotalSeconds : null,
                    false
                )
            );
            if (ends || entry is Entry.Left or Entry.TakenBack)
            {
                since = TimeSpan.Zero;
            }
        }

        return lines;
    }

    private static string TitleOf(Entry entry, Ledger before) =>
        entry switch
        {
            Entry.TakenBack => "Taken back",
            Entry.Replanned => "Planned anew",
            Entry.Named named => named.Thing.Kind == NamedKind.Isolation ? "Battery isolated" : named.Thing.Name,
            _ => before.Current?.Title ?? "",
        };

    private static string Say(Entry entry, Ledger before) =>
        entry switch
        {
            Entry.Done { CautionRead: true } when before.Current is { MustAcknowledge: true } => "caution read",
            Entry.Counted e => $"{e.Count} counted",
            Entry.CountDiffers e =>
                $"{e.Count} of {before.Expected}: {e.Why.Said()}{(e.Note is null ? "" : $", {e.Note}")}",
            Entry.NumberRead e =>
                $"{e.Number}{(e.Item is null ? "" : $" ({e.Item})")}{(e.Why is null ? "" : $": {e.Why.Value.Said()}")}",
            Entry.Noted e => e.Text,
            Entry.Left e => $"{e.How.Said()}: {e.Reason}",
            Entry.Moved e => $"moved over: {e.Item}",
            Entry.Replanned e => e.Goal is null ? e.Reason : $"{Replanning.Title(before.Plan.Map, e.Goal)}: {e.Reason}",
            Entry.Named e => e.Thing.Kind switch
            {
                NamedKind.Screws => $"{e.Thing.Count} screws out",
                NamedKind.Part => e.Thing.Exchanged ? "out, to be exchanged" : "out",
                NamedKind.Tie => "free",
                _ => "open",
            },
            _ => "",
        };
}
