using Zenrik.Core.BenchLedger;
using Zenrik.Core.Stock;
using Zenrik.Workshop.People;

namespace Zenrik.Workshop.BenchLedger;

/// <summary>
/// A technician carrying out a plan. The plan's acts and the map revision are fixed when it begins; its state is
/// whatever replaying <see cref="Entries"/> gives.
/// </summary>
public sealed class BenchSession
{
    public required Guid Id { get; init; }

    public required RepairId RepairId { get; init; }

    public required string ModelCode { get; init; }

    public required int MapRevision { get; init; }

    /// <summary>Optional parts this unit has, as ids of the map.</summary>
    public required string[] FittedParts { get; init; }

    /// <summary>The house rules it was planned under, where they depart from the defaults: "rule=school".</summary>
    public required string[] Practice { get; init; }

    /// <summary>The plan, each act as "kind:target".</summary>
    public required string[] Acts { get; init; }

    public required DateTimeOffset StartedAt { get; init; }

    public required Guid StartedById { get; init; }

    public Technician StartedBy { get; init; } = null!;

    public List<BenchEntry> Entries { get; init; } = [];
}

/// <summary>One line of the ledger as stored. Lines are added, never changed.</summary>
public sealed class BenchEntry
{
    public required Guid SessionId { get; init; }

    /// <summary>From 1, without gaps.</summary>
    public required int Sequence { get; init; }

    /// <summary>Made by the page for each line it may send, so that a line sent twice is stored once.</summary>
    public required Guid RequestId { get; init; }

    public required EntryKind Kind { get; init; }

    public int? Step { get; init; }

    public int? Count { get; init; }

    public Difference? Difference { get; init; }

    /// <summary>A number read, or a note.</summary>
    public string? Text { get; init; }

    /// <summary>The caution was read, or the number confirmed.</summary>
    public bool Confirmed { get; init; }

    public required DateTimeOffset At { get; init; }

    public required Guid ById { get; init; }

    public static BenchEntry Of(Guid session, int sequence, Guid request, Entry entry, Actor by, DateTimeOffset at)
    {
        (EntryKind Kind, int? Step, int? Count, Difference? Why, string? Text, bool Confirmed) row = entry switch
        {
            Entry.Counted e => (EntryKind.Counted, e.Step, e.Count, null, null, false),
            Entry.Done e => (EntryKind.Done, e.Step, null, null, null, e.CautionRead),
            Entry.CountDiffers e => (EntryKind.CountDiffers, e.Step, e.Count, e.Why, e.Note, false),
            Entry.NumberRead e => (EntryKind.NumberRead, e.Step, null, null, e.Number, e.Confirmed),
            Entry.Noted e => (EntryKind.Noted, e.Step, null, null, e.Text, false),
            Entry.TakenBack => (EntryKind.TakenBack, null, null, null, null, false),
            _ => throw new ArgumentOutOfRangeException(nameof(entry)),
        };
        return new BenchEntry
        {
            SessionId = session,
            Sequence = sequence,
            RequestId = request,
            Kind = row.Kind,
            Step = row.Step,
            Count = row.Count,
            Difference = row.Why,
            Text = row.Text,
            Confirmed = row.Confirmed,
            At = at,
            ById = by.Id,
        };
    }

    public Entry ToEntry() =>
        Kind switch
        {
            EntryKind.Counted => new Entry.Counted(Step!.Value, Count!.Value),
            EntryKind.Done => new Entry.Done(Step!.Value, Confirmed),
            EntryKind.CountDiffers => new Entry.CountDiffers(Step!.Value, Count!.Value, Difference!.Value, Text),
            EntryKind.NumberRead => new Entry.NumberRead(Step!.Value, Text!, Confirmed),
            EntryKind.Noted => new Entry.Noted(Step!.Value, Text!),
            EntryKind.TakenBack => new Entry.TakenBack(),
            _ => throw new InvalidOperationException($"unknown ledger line {Kind}"),
        };
}

public enum EntryKind
{
    Counted,
    Done,
    CountDiffers,
    NumberRead,
    Noted,
    TakenBack,
}
