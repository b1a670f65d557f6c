using System.Collections.Immutable;
using Zenrik.Core.Parts;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.BenchLedger;

/// <summary>What a session starts from: its plan and the numbers it expects to read.</summary>
/// <param name="Removed">By slot: the number the passport records, where one is known.</param>
/// <param name="Fitted">By slot: the number of the item promised to this repair.</param>
public sealed record Brief(
    Plan Plan,
    IReadOnlyDictionary<string, PartNumber> Removed,
    IReadOnlyDictionary<string, PartNumber> Fitted
);

/// <summary>A screw group that is out.</summary>
/// <param name="Out">How many came out.</param>
/// <param name="MatField">The field they lie in; null when they stay captive.</param>
/// <param name="Explained">Set when the count differs from the map.</param>
/// <param name="KeptAt">Where they lie, by the house's way of keeping screws.</param>
public sealed record ScrewsOut(FastenerGroup Group, int Out, int? MatField, string KeptAt, Difference? Explained);

/// <summary>A number that has been read, exactly as printed.</summary>
/// <param name="Likeness">How it stands to what was expected; null when nothing was.</param>
public sealed record ReadNumber(string Slot, bool Fitted, PartNumber Number, Likeness? Likeness);

/// <summary>A count that was explained, kept for the repair's record.</summary>
public sealed record CountNote(FastenerGroup Group, bool Back, int Expected, int Count, Difference Why, string? Note);

/// <summary>Two groups of one part that are out, fit the same driver and thread, and differ in length.</summary>
public sealed record MixUp(FastenerGroup Longer, FastenerGroup Shorter);

/// <summary>Like heads of several lengths lying on the mat.</summary>
/// <param name="Lengths">By length in mm, longest first, the fields they lie in.</param>
public sealed record LikeHeads(
    Drive Drive,
    MetricThread Thread,
    IReadOnlyList<(double LengthMm, IReadOnlyList<int> Fields)> Lengths
);

/// <summary>
/// The state of a bench session: which act is next, what is out, open and read. Immutable; every accepted
/// <see cref="Entry"/> gives the next state, and replaying the same entries gives the same state.
/// </summary>
public sealed class Ledger
{
    /// <summary>Longest remark, in characters.</summary>
    public const int MaxNote = 500;

    /// <summary>No group of screws in a portable computer is near this.</summary>
    public const int MaxCount = 99;

    private readonly Ledger? before;

    private Ledger(Brief brief) => Brief = brief;

    private Ledger(Ledger from)
    {
        before = from;
        Brief = from.Brief;
        DoneSteps = from.DoneSteps;
        Count = from.Count;
        Screws = from.Screws;
        JointsOpen = from.JointsOpen;
        TiesFree = from.TiesFree;
        PartsOut = from.PartsOut;
        PartsAside = from.PartsAside;
        Numbers = from.Numbers;
        Counts = from.Counts;
        Notes = from.Notes;
    }

    public Brief Brief { get; }

    /// <summary>How many steps of the plan are done.</summary>
    public int DoneSteps { get; private init; }

    /// <summary>The next act, or null when all are done.</summary>
    public PlanStep? Current => DoneSteps < Brief.Plan.Steps.Count ? Brief.Plan.Steps[DoneSteps] : null;

    /// <summary>Screws of the current group counted so far; null before counting begins.</summary>
    public int? Count { get; private init; }

    /// <summary>Groups that are out, in the order they came out.</summary>
    public ImmutableList<ScrewsOut> Screws { get; private init; } = [];

    public ImmutableList<JointId> JointsOpen { get; private init; } = [];

    public ImmutableList<TieId> TiesFree { get; private init; } = [];

    /// <summary>Parts on the bench, in the order they came out.</summary>
    public ImmutableList<PartId> PartsOut { get; private init; } = [];

    /// <summary>Parts set aside on their leads, in the order they were.</summary>
    public ImmutableList<PartId> PartsAside { get; private init; } = [];

    public ImmutableList<ReadNumber> Numbers { get; private init; } = [];

    public ImmutableList<CountNote> Counts { get; private init; } = [];

    public ImmutableList<(int Step, string Text)> Notes { get; private init; } = [];

    /// <summary>True when there is a line to take back.</summary>
    public bool CanTakeBack => before is not null;

    /// <summary>Screws lying loose, captive ones not counted.</summary>
    public int ScrewsOnMat => Screws.Where(s => !s.Group.Captive).Sum(s => s.Out);

    /// <summary>How many screws the current act should count: what the map says, on the way back what came out.</summary>
    public int? Expected => Current?.Act is { Kind: ActKind.Undo or ActKind.Fasten } act ? ExpectedOf(act) : null;

    /// <summary>Numbers the plan asks for that are not read yet.</summary>
    public IEnumerable<PlanStep> NumbersToRead =>
        Brief.Plan.Steps.Skip(DoneSteps).Where(s => s.Act.Kind is ActKind.ReadRemoved or ActKind.ReadFitted);

    /// <summary>Groups that go into the same part and that a hand could exchange.</summary>
    public IReadOnlyList<MixUp> MixUps =>
        [
            .. from a in Screws
            from b in Screws
            where a.Group.Holds == b.Group.Holds && !a.Group.Captive && !b.Group.Captive
            let x = a.Group.Screw
            let y = b.Group.Screw
            where x.Drive == y.Drive && x.Thread == y.Thread && x.LengthMm > y.LengthMm
            select new MixUp(a.Group, b.Group),
        ];

    /// <summary>Heads that look alike on the mat but are not: reason to keep to the fields.</summary>
    public IReadOnlyList<LikeHeads> LikeHeads =>
        [
            .. Screws
                .Where(s => s.MatField is not null)
                .GroupBy(s => (s.Group.Screw.Drive, s.Group.Screw.Thread))
                .Select(heads => new LikeHeads(
                    heads.Key.Drive,
                    heads.Key.Thread,
                    [
                        .. heads
                            .GroupBy(s => s.Group.Screw.LengthMm)
                            .OrderByDescending(length => length.Key)
                            .Select(length =>
                                (length.Key, (IReadOnlyList<int>)[.. length.Select(s => s.MatField!.Value)])
                            ),
                    ]
                ))
                .Where(heads => heads.Lengths.Count > 1),
        ];

    /// <summary>What still keeps the session from being closed; empty when nothing does.</summary>
    public IReadOnlyList<string> Open
    {
        get
        {
            var map = Brief.Plan.Map;
            return
            [
                .. PartsOut.Select(p => $"{map.Part(p).Name} is out"),
                .. PartsAside.Except(PartsOut).Select(p => $"{map.Part(p).Name} is set aside"),
                .. Screws.Select(s => $"{s.Group.Name}: {Wording.Count(s.Out)} screws out"),
                .. JointsOpen.Select(j => $"{map.Joint(j).Name} is open"),
                .. TiesFree.Select(t => $"{map.Tie(t).Name} is loose"),
                .. Brief
                    .Plan.Steps.Skip(DoneSteps)
                    .Where(s => s.Stage == Stage.CloseOut)
                    .Select(s => $"{s.Title}: not done"),
                .. NumbersToRead.Select(s => s.Title),
            ];
        }
    }

    /// <summary>True when every act is done; the simulator guarantees that nothing is then open.</summary>
    public bool IsFinished => Current is null;

    public static Ledger Begin(Brief brief) => new(brief);

    /// <summary>The state after the stored lines of a session.</summary>
    /// <exception cref="InvalidOperationException">A line does not follow from those before it.</exception>
    public static Ledger Replay(Brief brief, IEnumerable<Entry> entries) =>
        entries.Aggregate(Begin(brief), (ledger, entry) => ledger.Add(entry).Value);

    /// <summary>The state after one more line, or why the line is refused; this state never changes.</summary>
    public Outcome<Ledger> Add(Entry entry)
    {
        if (entry is Entry.TakenBack)
        {
            return before is null
                ? new Refusal(RefusalReason.Conflict, "Nothing has been done yet, so there is nothing to take back.")
                : before;
        }

        if (Current is not { } step)
        {
            return new Refusal(RefusalReason.Conflict, "Every act of this plan is done; close the repair.");
        }

        return StepOf(entry) != step.Number
            ? new Refusal(
                RefusalReason.Stale,
                $"That was for act {StepOf(entry)}; the bench is at act {step.Number}: {step.Title}. Nothing was changed."
            )
            : entry switch
            {
                Entry.Counted counted => Tally(step, counted.Count),
                Entry.Done done => Finish(step, done.CautionRead),
                Entry.CountDiffers differs => FinishDiffering(step, differs),
                Entry.NumberRead read => FinishReading(step, read),
                Entry.Noted noted => Remark(step, noted.Text),
                _ => throw new ArgumentOutOfRangeException(nameof(entry)),
            };
    }

    internal static int StepOf(Entry entry) =>
        entry switch
        {
            Entry.Counted e => e.Step,
            Entry.Done e => e.Step,
            Entry.CountDiffers e => e.Step,
            Entry.NumberRead e => e.Step,
            Entry.Noted e => e.Step,
            _ => 0,
        };

    private Outcome<Ledger> Tally(PlanStep step, int count)
    {
        if (Expected is not { } expected)
        {
            return new Refusal(RefusalReason.Conflict, $"There are no screws to count at this act: {step.Title}.");
        }

        return count < 0 || count > expected
            ? new Refusal(
                RefusalReason.Invalid,
                $"The map knows {Wording.Count(expected)} of these screws. If you count {count}, say why: count differs."
            )
            : new Ledger(this) { Count = count };
    }

    private Outcome<Ledger> Finish(PlanStep step, bool cautionRead)
    {
        if (step.Act.Kind is ActKind.ReadRemoved or ActKind.ReadFitted)
        {
            return new Refusal(RefusalReason.Conflict, $"{step.Title}: this act is done by reading the number.");
        }

        if (step.MustAcknowledge && !cautionRead)
        {
            return new Refusal(
                RefusalReason.NeedsConfirmation,
                "Read the caution of this act first and tick that you have."
            );
        }

        if (Expected is { } expected && Count is { } counted && counted != expected)
        {
            return new Refusal(
                RefusalReason.Conflict,
                $"{counted} of {expected} screws are counted. Count the rest, or say why the count differs."
            );
        }

        return Advance(step, Expected, null);
    }

    private Outcome<Ledger> FinishDiffering(PlanStep step, Entry.CountDiffers differs)
    {
        if (Expected is not { } expected)
        {
            return new Refusal(RefusalReason.Conflict, $"There are no screws to count at this act: {step.Title}.");
        }

        if (differs.Count is < 0 or > MaxCount)
        {
            return new Refusal(
                RefusalReason.Invalid,
                $"A count of {differs.Count} cannot be right; give a number from 0 to {MaxCount}."
            );
        }

        if (differs.Count == expected)
        {
            return new Refusal(
                RefusalReason.Invalid,
                $"{differs.Count} is what is expected here; nothing differs. Use Done."
            );
        }

        if ((differs.Count > expected) != (differs.Why == Difference.Extra) && differs.Why != Difference.MapWrong)
        {
            return new Refusal(
                RefusalReason.Invalid,
                differs.Count > expected
                    ? "More screws than expected: say \"extra found\" or \"the map is wrong\"."
                    : "Fewer screws than expected: say \"lost\", \"missing before\" or \"the map is wrong\"."
            );
        }

        if (differs.Note?.Length > MaxNote)
        {
            return TooLong(differs.Note.Length);
        }

        var note = new CountNote(
            Brief.Plan.Map.Fastener(step.Act.Fastener),
            step.Act.Kind == ActKind.Fasten,
            expected,
            differs.Count,
            differs.Why,
            string.IsNullOrWhiteSpace(differs.Note) ? null : differs.Note.Trim()
        );
        return Advance(step, differs.Count, note);
    }

    private Outcome<Ledger> FinishReading(PlanStep step, Entry.NumberRead read)
    {
        if (step.Act.Kind is not (ActKind.ReadRemoved or ActKind.ReadFitted))
        {
            return new Refusal(RefusalReason.Conflict, $"No number is read at this act: {step.Title}.");
        }

        if (!PartNumber.Read(read.Number).Try(out var number, out var unusable))
        {
            return unusable;
        }

        var fitted = step.Act.Kind == ActKind.ReadFitted;
        var part = Brief.Plan.Map.Part(step.Act.Part);
        PartNumber? expected = (fitted ? Brief.Fitted : Brief.Removed).TryGetValue(part.Slot!, out var known)
            ? known
            : null;
        Likeness? likeness = expected is { } wanted ? number.Compare(wanted) : null;
        if (Objection(part, fitted, number, expected, likeness, read.Confirmed) is { } objection)
        {
            return objection;
        }

        return new Ledger(this)
        {
            DoneSteps = DoneSteps + 1,
            Count = null,
            Numbers = Numbers.Add(new ReadNumber(part.Slot!, fitted, number, likeness)),
        };
    }

    private static Refusal? Objection(
        Part part,
        bool fitted,
        PartNumber number,
        PartNumber? expected,
        Likeness? likeness,
        bool confirmed
    ) =>
        likeness switch
        {
            null or Likeness.Same => null,
            Likeness.SameButForLookAlikes or Likeness.Near when !confirmed => new Refusal(
                RefusalReason.NeedsConfirmation,
                $"You gave {number}; expected is {expected}. They differ by a character that is easily misread. "
                    + "Look again and correct it, or confirm that the label says so."
            ),
            Likeness.Different when fitted => new Refusal(
                RefusalReason.Conflict,
                $"{number} is not the {part.Name} promised to this repair, which is {expected}. "
                    + "Fit that one, or go back to the repair page and choose the one in your hand."
            ),
            Likeness.Different when !confirmed => new Refusal(
                RefusalReason.NeedsConfirmation,
                $"The passport says {expected} was in here; you gave {number}. "
                    + "Look again and correct it, or confirm that the label says so."
            ),
            _ => null,
        };

    private Outcome<Ledger> Remark(PlanStep step, string text) =>
        string.IsNullOrWhiteSpace(text) ? new Refusal(RefusalReason.Invalid, "The note is empty.")
        : text.Length > MaxNote ? TooLong(text.Length)
        : new Ledger(this) { Notes = Notes.Add((step.Number, text.Trim())) };

    private static Refusal TooLong(int length) =>
        new(RefusalReason.Invalid, $"A note has at most {MaxNote} characters; this one has {length}.");

    private Ledger Advance(PlanStep step, int? counted, CountNote? differing)
    {
        var act = step.Act;
        return new Ledger(this)
        {
            DoneSteps = DoneSteps + 1,
            Count = null,
            Counts = differing is null ? Counts : Counts.Add(differing),
            Screws = act.Kind switch
            {
                ActKind.Undo => Screws.Add(
                    new ScrewsOut(
                        Brief.Plan.Map.Fastener(act.Fastener),
                        counted!.Value,
                        Brief.Plan.MatField(act.Fastener),
                        Brief.Plan.KeptAt(Brief.Plan.Map.Fastener(act.Fastener)),
                        differing?.Why
                    )
                ),
                ActKind.Fasten => Screws.RemoveAll(s => s.Group.Id == act.Fastener),
                _ => Screws,
            },
            JointsOpen = act.Kind switch
            {
                ActKind.Open or ActKind.Isolate => JointsOpen.Add(act.Joint),
                ActKind.Close or ActKind.Reconnect => JointsOpen.Remove(act.Joint),
                _ => JointsOpen,
            },
            TiesFree = act.Kind switch
            {
                ActKind.Free => TiesFree.Add(act.Tie),
                ActKind.Lay => TiesFree.Remove(act.Tie),
                _ => TiesFree,
            },
            PartsOut = act.Kind switch
            {
                ActKind.LiftOut => PartsOut.Add(act.Part),
                ActKind.PutIn => PartsOut.Remove(act.Part),
                _ => PartsOut,
            },
            PartsAside = act.Kind switch
            {
                ActKind.SetAside => PartsAside.Add(act.Part),
                ActKind.PutBack => PartsAside.Remove(act.Part),
                _ => PartsAside,
            },
        };
    }

    private int ExpectedOf(Act act) =>
        act.Kind == ActKind.Fasten && Screws.FirstOrDefault(s => s.Group.Id == act.Fastener) is { } laid
            ? laid.Out
            : Brief.Plan.Map.Fastener(act.Fastener).Count;
}
