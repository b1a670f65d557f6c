using Zenrik.Core.BenchLedger;
using Zenrik.Core.Stock;
using Zenrik.Core.Teardown;

namespace Zenrik.Workshop.Book;

/// <summary>
/// A technician carrying out a plan. The plan's acts and the map revision are fixed when it begins; its state is
/// whatever replaying <see cref="Entries"/> gives.
/// </summary>
public sealed class BenchSession
{
    public required Guid Id { get; init; }

    public required RepairId RepairId { get; init; }

    public required string ModelCode { get; init; }

    /// <summary>The map's edition; null when the model has none.</summary>
    public required int? MapRevision { get; init; }

    /// <summary>Optional parts this unit has, as ids of the map.</summary>
    public required string[] FittedParts { get; init; }

    /// <summary>Slots that were empty when it began and are filled in it.</summary>
    public string[] VacantSlots { get; init; } = [];

    /// <summary>The house rules it was planned under, where they depart from the defaults: "rule=school".</summary>
    public required string[] Practice { get; init; }

    /// <summary>The plan, each act as "kind:target".</summary>
    public required string[] Acts { get; init; }

    /// <summary>True for a unit whose model has no map: things get their names as they come off.</summary>
    public bool IsFree => MapRevision is null;

    public required DateTimeOffset StartedAt { get; init; }

    public required Guid StartedById { get; init; }

    public Technician StartedBy { get; init; } = null!;

    public List<BenchEntry> Entries { get; init; } = [];

    /// <summary>The same session with other lines; for views only, it is never stored.</summary>
    internal BenchSession With(List<BenchEntry> entries) =>
        new()
        {
            Id = Id,
            RepairId = RepairId,
            ModelCode = ModelCode,
            MapRevision = MapRevision,
            FittedParts = FittedParts,
            VacantSlots = VacantSlots,
            Practice = Practice,
            Acts = Acts,
            StartedAt = StartedAt,
            StartedById = StartedById,
            StartedBy = StartedBy,
            Entries = entries,
        };
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

    /// <summary>Screws counted, or acts done in one go where there were several.</summary>
    public int? Count { get; init; }

    public Difference? Difference { get; init; }

    /// <summary>A number read, or a note.</summary>
    public string? Text { get; init; }

    /// <summary>How an act was left, or what explains a number that differs; by name.</summary>
    public string? Cause { get; init; }

    /// <summary>A goal that joined, as "clean:fan", or what the map says otherwise, as <see cref="MapCorrection"/> writes it.</summary>
    public string? Goal { get; init; }

    /// <summary>The code of the item whose own label was read, where one was.</summary>
    public string? Item { get; init; }

    /// <summary>Every act that remains, where the line plans anew.</summary>
    public string[]? Rest { get; init; }

    /// <summary>The caution was read, or the number confirmed.</summary>
    public bool Confirmed { get; init; }

    public required DateTimeOffset At { get; init; }

    public required Guid ById { get; init; }

    public static BenchEntry Of(Guid session, int sequence, Guid request, Entry entry, Actor by, DateTimeOffset at)
    {
        BenchEntry Row(
            EntryKind kind,
            int? step = null,
            string? text = null,
            int? count = null,
            Difference? difference = null,
            Enum? cause = null,
            bool confirmed = false,
            string? goal = null,
            IReadOnlyList<Act>? rest = null,
            string? item = null
        ) =>
            new()
            {
                SessionId = session,
                Sequence = sequence,
                RequestId = request,
                Kind = kind,
                Step = step,
                Count = count,
                Difference = difference,
                Text = text,
                Cause = cause?.ToString(),
                Goal = goal,
                Item = item,
                Rest = rest is null ? null : [.. rest.Select(a => a.ToString())],
                Confirmed = confirmed,
                At = at,
                ById = by.Id,
            };

        return entry switch
        {
            Entry.Counted e => Row(EntryKind.Counted, e.Step, count: e.Count),
            Entry.Done e => Row(EntryKind.Done, e.Step, count: e.Acts > 1 ? e.Acts : null, confirmed: e.CautionRead),
            Entry.CountDiffers e => Row(EntryKind.CountDiffers, e.Step, e.Note, e.Count, e.Why),
            Entry.NumberRead e => Row(
                EntryKind.NumberRead,
                e.Step,
                e.Number,
                cause: e.Why,
                confirmed: e.Confirmed,
                item: e.Item
            ),
            Entry.Noted e => Row(EntryKind.Noted, e.Step, e.Text),
            Entry.Left e => Row(EntryKind.Left, e.Step, e.Reason, cause: e.How),
            Entry.Moved e => Row(EntryKind.Moved, e.Step, e.Item),
            Entry.Replanned e => Row(
                EntryKind.Replanned,
                e.Step,
                e.Reason,
                goal: e.Goal is { } joined ? GoalText.Of(joined) : e.Correction?.ToString(),
                rest: e.Rest
            ),
            Entry.Named e => Row(EntryKind.Named, e.Step, e.Thing.ToText()),
            Entry.TakenBack => Row(EntryKind.TakenBack),
            _ => throw new ArgumentOutOfRangeException(nameof(entry)),
        };
    }

    public Entry ToEntry() =>
        Kind switch
        {
            EntryKind.Counted => new Entry.Counted(Step!.Value, Count!.Value),
            EntryKind.Done => new Entry.Done(Step!.Value, Confirmed, Count ?? 1),
            EntryKind.CountDiffers => new Entry.CountDiffers(Step!.Value, Count!.Value, Difference!.Value, Text),
            EntryKind.NumberRead => new Entry.NumberRead(
                Step!.Value,
                Text!,
                Confirmed,
                Cause is null ? null : Enum.Parse<NumberDifference>(Cause),
                Item
            ),
            EntryKind.Noted => new Entry.Noted(Step!.Value, Text!),
            EntryKind.Left => new Entry.Left(Step!.Value, Enum.Parse<Leaving>(Cause!), Text!),
            EntryKind.Moved => new Entry.Moved(Step!.Value, Text!),
            EntryKind.Replanned => new Entry.Replanned(
                Step!.Value,
                Goal is null || MapCorrection.Read(Goal) is not null ? null : GoalText.Read([Goal]).Value[0],
                Text!,
                [.. Rest!.Select(Act.Parse)],
                MapCorrection.Read(Goal)
            ),
            EntryKind.Named => new Entry.Named(Step!.Value, NamedThing.Parse(Text!)),
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
    Left,
    Moved,
    Replanned,
    Named,
}
