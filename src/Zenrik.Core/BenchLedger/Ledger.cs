using System.Collections.Immutable;
using Zenrik.Core.Parts;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.BenchLedger;

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

    private Ledger? before;

    // True right after a faulty part was set apart for another: the stores have moved both, so the line stands.
    private bool stands;

    private Ledger(Brief brief)
    {
        Brief = brief;
        Plan = brief.Plan;
        Goals = [.. brief.Plan.Goals.Select(g => new StandingGoal(g))];
    }

    private Ledger(Ledger from)
    {
        before = from;
        Brief = from.Brief;
        Plan = from.Plan;
        Goals = from.Goals;
        Left = from.Left;
        Moved = from.Moved;
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
        Named = from.Named;
        Corrections = from.Corrections;
    }

    public Brief Brief { get; }

    /// <summary>What is done and what remains: the brief's plan, or what it became under way.</summary>
    public Plan Plan { get; private init; }

    /// <summary>What the job is for, with what joined it under way.</summary>
    public ImmutableList<StandingGoal> Goals { get; private init; }

    /// <summary>How many steps of the plan are done.</summary>
    public int DoneSteps { get; private init; }

    /// <summary>The next act, or null when all are done.</summary>
    public PlanStep? Current => DoneSteps < Plan.Steps.Count ? Plan.Steps[DoneSteps] : null;

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

    /// <summary>Acts that were left, in their order.</summary>
    public ImmutableList<LeftAct> Left { get; private init; } = [];

    /// <summary>Things ticked as moved to a new assembly.</summary>
    public ImmutableList<string> Moved { get; private init; } = [];

    /// <summary>What got its name in this session, with the act that took it off.</summary>
    public ImmutableList<(Act Off, NamedThing Thing)> Named { get; private init; } = [];

    /// <summary>
    /// Screws, joints and ties that are off and of which no part was said that they held it, last first, each with whether it
    /// came off since the last part came out: most likely it holds the next one. The battery's plug belongs to the battery,
    /// whenever that comes out.
    /// </summary>
    public IReadOnlyList<(Act Act, string Name, bool Since)> MayHold()
    {
        var (map, off) = (Plan.Map, Off);
        var claimed = Named.SelectMany(n => n.Thing.Held ?? []).ToHashSet();
        var lastPart = off.ToList().FindLastIndex(a => a.Kind == ActKind.LiftOut);
        return
        [
            .. off.Index()
                .Where(o => o.Item.Kind != ActKind.LiftOut && !claimed.Contains(o.Item.ToString()))
                .Select(o => (o.Item, NameOf(o.Item), o.Index > lastPart && o.Item.Kind != ActKind.Isolate))
                .Reverse(),
        ];

        string NameOf(Act act) =>
            act.Kind switch
            {
                ActKind.Undo => map.Fastener(act.Fastener).Name,
                ActKind.Free => map.Tie(act.Tie).Name,
                _ => map.Joint(act.Joint).Name,
            };
    }

    /// <summary>By what the map is otherwise than when the session began, in its order.</summary>
    public ImmutableList<MapCorrection> Corrections { get; private init; } = [];

    /// <summary>What is being tried: from the moment it was decided until it is out, or given up. Null: nothing.</summary>
    public MapCorrection.Tries? Trying =>
        Corrections.LastOrDefault(c => c is MapCorrection.Tries or MapCorrection.Stays) is MapCorrection.Tries tries
        && !DoneActs.Contains(tries.Tried)
            ? tries
            : null;

    /// <summary>The acts done so far.</summary>
    public IEnumerable<Act> DoneActs => Plan.Acts.Take(DoneSteps);

    /// <summary>
    /// What is to be minded at whatever comes off next of a machine without a map: what the unit is handled under, and cells
    /// as long as no part that holds them is out.
    /// </summary>
    public IReadOnlyList<Caution> AtNaming =>
        [
            .. Plan.Basis.Hazards.Select(h => h.Caution()),
            .. PartsOut.Exists(p => Plan.Map.Part(p).Cells) ? [] : (Caution[])[Hazards.CellsSomewhere],
        ];

    /// <summary>The acts that wait to be undone: what is off, open and free, in the order it came.</summary>
    public IReadOnlyList<Act> Off => Standing.After(Plan.Map, [.. DoneActs], Plan.Basis.Practice).Out;

    /// <summary>Consumables used up so far; what was left as a stop-gap used none.</summary>
    public IReadOnlyDictionary<Consumable, int> Used
    {
        get
        {
            var left = Left.Select(l => l.Step).ToHashSet();
            return Plan.UsedBy(DoneActs.Where((_, i) => !left.Contains(i + 1)));
        }
    }

    /// <summary>What each new assembly does not bring: parts an act moves, and what the map says in words.</summary>
    public IReadOnlyList<ToMove> ToMove =>
        [
            .. Plan.Replaced.SelectMany(a =>
                Plan.Map.TransferList(a)
                    .Select(p => new ToMove(a, p.Id.Value, p.Name, IsOnNew(a, p), ByAct: true))
                    .Concat(a.Needs.Select(n => new ToMove(a, n, n, Moved.Contains(n), ByAct: false)))
            ),
        ];

    /// <summary>The current act and those done in one go with it; empty when all are done.</summary>
    public IReadOnlyList<PlanStep> Together
    {
        get
        {
            var steps = From(DoneSteps);
            return
            [
                .. steps.Take(1),
                .. steps.Skip(1).TakeWhile(s => NotMovedFor(s.Act).Count == 0 && IsAsTheMapSays(s.Act)),
            ];
        }
    }

    /// <summary>The part that comes out with what is done now; null: none does.</summary>
    public PartId? Lifting =>
        Together.Select(s => s.Act).Where(a => a.Kind == ActKind.LiftOut).Select(a => (PartId?)a.Part).FirstOrDefault();

    /// <summary>What comes after <see cref="Together"/>, each with what is done in one go with it.</summary>
    /// <param name="most">How many of these to look ahead.</param>
    public IReadOnlyList<IReadOnlyList<PlanStep>> Soon(int most)
    {
        var soon = new List<IReadOnlyList<PlanStep>>();
        for (var at = DoneSteps + Together.Count; soon.Count < most && at < Plan.Steps.Count; at += soon[^1].Count)
        {
            soon.Add(From(at));
        }

        return soon;
    }

    /// <summary>The step at an index and those done in one go with it; without a map each stands alone.</summary>
    private List<PlanStep> From(int at) =>
        at >= Plan.Steps.Count ? [] : [.. Plan.Steps.Skip(at).Take(Plan.Map.IsFree() ? 1 : InOneGo.Count(Plan, at))];

    /// <summary>What went wrong with a count on the way out is looked at by itself on the way back.</summary>
    private bool IsAsTheMapSays(Act act) =>
        act.Kind != ActKind.Fasten || ExpectedOf(act) == Plan.Map.Fastener(act.Fastener).Count;

    /// <summary>
    /// What could be exchanged besides. Nothing that comes with, or brings, what is exchanged already: one number would be
    /// read for two parts.
    /// </summary>
    public IReadOnlyList<Assembly> Exchangeable
    {
        get
        {
            if (Current is null || Plan.Map.IsFree())
            {
                return [];
            }

            var map = Plan.Map;
            var exchanged = Plan.Replaced.SelectMany(With).ToHashSet();
            return
            [
                .. map.Assemblies.Where(a =>
                    map.Parts.FirstOrDefault(p => p.Id == a.Part) is { Fixed: false, Slot: not null }
                    && !map.Vacant.Contains(a.Part)
                    && !With(a).Any(exchanged.Contains)
                ),
            ];

            static IEnumerable<PartId> With(Assembly a) => a.Brings.Append(a.Part);
        }
    }

    /// <summary>
    /// New parts that are in and may prove faulty themselves. Not one in a slot that was empty before: its plan knows nothing
    /// to take out there.
    /// </summary>
    public IReadOnlyList<Assembly> MayBeFaulty =>
        Plan.Map.IsFree()
            ? []
            :
            [
                .. Plan.Replaced.Where(a =>
                    !Plan.Map.Vacant.Contains(a.Part)
                    && !PartsOut.Contains(a.Part)
                    && DoneActs.Contains(Act.ReadFitted(a.Part))
                ),
            ];

    /// <summary>What has to be ticked before the current act, by which a new assembly goes in.</summary>
    public IReadOnlyList<ToMove> ToTick => Current is { } step ? NotMovedFor(step.Act) : [];

    /// <summary>What will have to be put right another day.</summary>
    public IReadOnlyList<StopGap> StopGaps =>
        [
            .. Left.Where(l => l.How == Leaving.StopGap)
                .Select(l => new StopGap(Plan.Steps[l.Step - 1].Title, l.Reason)),
            .. Short,
        ];

    /// <summary>True when an act was done, and not left: what it tries works.</summary>
    public bool Worked(Act act) => DoneActs.Contains(act) && Left.All(l => Plan.Steps[l.Step - 1].Act != act);

    /// <summary>Groups that went back with fewer screws than the machine wants.</summary>
    private IEnumerable<StopGap> Short =>
        Counts
            .GroupBy(c => c.Group.Id)
            .Where(g =>
                g.Last() is { Why: not Difference.MapWrong } last
                && last.Count < last.Group.Count
                && Screws.TrueForAll(s => s.Group.Id != g.Key)
            )
            .Select(g => new StopGap(
                $"{g.Last().Group.Name}: {g.Last().Count} of {g.Last().Group.Count} screws",
                g.Last().Why.Said()
            ));

    /// <summary>True when there is a line to take back.</summary>
    public bool CanTakeBack => before is not null && !stands;

    /// <summary>Screws lying loose, captive ones not counted.</summary>
    public int ScrewsOnMat => Screws.Where(s => !s.Group.Captive).Sum(s => s.Out);

    /// <summary>How many screws the current act should count: what the map says, on the way back what came out.</summary>
    public int? Expected => Current?.Act is { Kind: ActKind.Undo or ActKind.Fasten } act ? ExpectedOf(act) : null;

    /// <summary>Numbers the plan asks for that are not read yet.</summary>
    public IEnumerable<PlanStep> NumbersToRead =>
        Plan.Steps.Skip(DoneSteps).Where(s => s.Act.Kind is ActKind.ReadRemoved or ActKind.ReadFitted);

    /// <summary>Groups that go into the same part and that a hand could exchange.</summary>
    public IReadOnlyList<MixUp> MixUps =>
        [
            .. from a in Screws
            from b in Screws
            where a.Group.Holds == b.Group.Holds && !a.Group.Captive && !b.Group.Captive
            let x = a.Group.Screw
            let y = b.Group.Screw
            where x.Drive == y.Drive && x.Thread == y.Thread && y.IsMeasured && x.LengthMm > y.LengthMm
            select new MixUp(a.Group, b.Group),
        ];

    /// <summary>Heads that look alike on the mat but are not: reason to keep to the fields.</summary>
    public IReadOnlyList<LikeHeads> LikeHeads =>
        [
            .. Screws
                .Where(s => s.MatField is not null && s.Group.Screw.IsMeasured)
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
            var map = Plan.Map;
            return
            [
                .. PartsOut.Select(p => $"{map.Part(p).Name} is out"),
                .. PartsAside.Except(PartsOut).Select(p => $"{map.Part(p).Name} is set aside"),
                .. Screws.Select(s => $"{s.Group.Name}: {Wording.Count(s.Out)} screws out"),
                .. JointsOpen.Select(j => $"{map.Joint(j).Name} is open"),
                .. TiesFree.Select(t => $"{map.Tie(t).Name} is loose"),
                .. Plan.Steps.Skip(DoneSteps).Where(s => s.Stage == Stage.CloseOut).Select(s => $"{s.Title}: not done"),
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

    /// <summary>
    /// As <see cref="Add"/> for a line that is new: no more acts in one go than belong together now. Stored lines are read
    /// again as they were taken, whatever belongs together by then.
    /// </summary>
    public Outcome<Ledger> AddNew(Entry entry, IReadOnlySet<string>? real = null) =>
        entry is Entry.Done { Acts: > 1 } done && done.Step == Current?.Number && done.Acts > Together.Count
            ? new Refusal(
                RefusalReason.Conflict,
                $"Of what comes next, {Wording.Count(Together.Count)} can be done in one go: {Wording.Together(Together)}."
            )
            : Add(entry, real);

    /// <summary>The state after one more line, or why the line is refused; this state never changes.</summary>
    /// <param name="entry">The line.</param>
    /// <param name="real">
    /// Canonical forms of numbers known to exist, for a line that is new: what is itself a real number is another part and
    /// no misreading of the one expected. Left out when stored lines are read again.
    /// </param>
    public Outcome<Ledger> Add(Entry entry, IReadOnlySet<string>? real = null)
    {
        if (entry is Entry.TakenBack)
        {
            return stands
                    ? new Refusal(
                        RefusalReason.Conflict,
                        "The faulty one is set apart and another is promised: that is not taken back. Go on with the other."
                    )
                : before is null
                    ? new Refusal(
                        RefusalReason.Conflict,
                        "Nothing has been done yet, so there is nothing to take back."
                    )
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
                Entry.Done done => Finish(step, done),
                Entry.CountDiffers differs => FinishDiffering(step, differs),
                Entry.NumberRead read => FinishReading(step, read, real),
                Entry.Noted noted => Remark(step, noted.Text),
                Entry.Left left => Leave(step, left),
                Entry.Moved moved => Tick(moved.Item),
                Entry.Replanned replanned => Replan(replanned),
                Entry.Named named => Name(named.Thing),
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
            Entry.Left e => e.Step,
            Entry.Moved e => e.Step,
            Entry.Replanned e => e.Step,
            Entry.Named e => e.Step,
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

    private Outcome<Ledger> Finish(PlanStep step, Entry.Done done)
    {
        if (done.Acts == 1)
        {
            return Finish(step, done.CautionRead);
        }

        if (done.Acts is < 1 or > InOneGo.Most)
        {
            return new Refusal(RefusalReason.Invalid, $"In one go are done from one to {InOneGo.Most} acts.");
        }

        var after = this;
        for (var i = 0; i < done.Acts; i++)
        {
            // A severe caution is read before its own act, not before a row it stands in.
            if (after.Current is not { } next || !InOneGo.CanJoin(next.Act) || (i > 0 && next.MustAcknowledge))
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"These acts are not done in one go: {step.Title} and what follows."
                );
            }

            if (!after.Finish(next, done.CautionRead).Try(out var further, out var refusal))
            {
                return refusal;
            }

            after = further;
        }

        // One line: taken back at once, too.
        after.before = this;
        return after;
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

        if (NotMovedFor(step.Act) is [var missing, ..])
        {
            return new Refusal(
                RefusalReason.Conflict,
                $"The new {missing.Assembly.Name} does not bring everything. Tick when it is at hand: {missing.Name}."
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
            Plan.Map.Fastener(step.Act.Fastener),
            step.Act.Kind == ActKind.Fasten,
            expected,
            differs.Count,
            differs.Why,
            string.IsNullOrWhiteSpace(differs.Note) ? null : differs.Note.Trim()
        );
        return Advance(step, differs.Count, note);
    }

    private Outcome<Ledger> FinishReading(PlanStep step, Entry.NumberRead read, IReadOnlySet<string>? real)
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
        var part = Plan.Map.Part(step.Act.Part);
        PartNumber? expected = (fitted ? Brief.Fitted : Brief.Removed).TryGetValue(part.Slot!, out var known)
            ? known
            : null;
        Likeness? likeness = expected is { } wanted ? number.Compare(wanted, real) : null;
        if (Objection(part, fitted, number, expected, likeness, read) is { } objection)
        {
            return objection;
        }

        return new Ledger(this)
        {
            DoneSteps = DoneSteps + 1,
            Count = null,
            Numbers = Numbers.Add(
                new ReadNumber(
                    part.Slot!,
                    fitted,
                    number,
                    likeness,
                    likeness is Likeness.Same ? null : read.Why,
                    read.Item
                )
            ),
        };
    }

    private static Refusal? Objection(
        Part part,
        bool fitted,
        PartNumber number,
        PartNumber? expected,
        Likeness? likeness,
        Entry.NumberRead read
    ) =>
        likeness switch
        {
            null or Likeness.Same => null,
            Likeness.SameButForLookAlikes or Likeness.Near when !read.Confirmed => new Refusal(
                RefusalReason.NeedsConfirmation,
                $"You gave {number}; expected is {expected}. They differ by a character that is easily misread. "
                    + "Look again and correct it, or confirm that the label says so."
            ),
            Likeness.Different when fitted => new Refusal(
                RefusalReason.Conflict,
                $"{number} is not the {part.Name} promised to this repair, which is {expected}. "
                    + "Fit that one, or go back to the repair page and choose the one in your hand."
            ),
            Likeness.Different when !read.Confirmed => new Refusal(
                RefusalReason.NeedsConfirmation,
                $"The passport says {expected} was in here; you gave {number}. "
                    + "Look again and correct it, or confirm that the label says so."
            ),
            _ when read.Why is null => new Refusal(
                RefusalReason.NeedsConfirmation,
                $"{number} it is. Say why it is not {expected}: another revision, a substitute, misread before, a surprise."
            ),
            _ => null,
        };

    private Outcome<Ledger> Leave(PlanStep step, Entry.Left left)
    {
        var reason = left.Reason.Trim();
        if (reason.Length is 0 or > MaxNote)
        {
            return reason.Length == 0
                ? new Refusal(RefusalReason.Invalid, "Say why, in a few words.")
                : TooLong(reason.Length);
        }

        if (!Leavings.Of(step.Act.Kind).Contains(left.How))
        {
            return new Refusal(RefusalReason.Conflict, Leavings.WhyNot(step.Act.Kind, left.How));
        }

        return Advance(step, Expected, null, new LeftAct(step.Number, step.Act, left.How, reason));
    }

    private Outcome<Ledger> Tick(string item) =>
        !ToMove.Any(m => m.Item == item && !m.ByAct)
            ? new Refusal(RefusalReason.NotFound, "There is nothing of that name to move over.")
        : Moved.Contains(item) ? new Refusal(RefusalReason.Conflict, "That is ticked already.")
        : new Ledger(this) { Moved = Moved.Add(item) };

    private Outcome<Ledger> Replan(Entry.Replanned replanned)
    {
        if (Plan.Map.IsFree())
        {
            return new Refusal(RefusalReason.Conflict, "Without a map there is nothing to plan by.");
        }

        var map = replanned.Correction?.In(Plan.Map) ?? Plan.Map;
        List<Act> acts = [.. DoneActs, .. replanned.Rest];
        // The test that failed was made. Lines of earlier versions do not begin with it.
        var tested = this.FailsWith(replanned.Goal) && replanned.Rest is [{ Kind: ActKind.PowerTest }, ..] ? 1 : 0;
        var goals = replanned.Goal is { } goal ? Goals.Add(new StandingGoal(goal, DoneSteps + tested)) : Goals;
        if (Simulation.Check(map, acts) is { } violation)
        {
            return new Refusal(RefusalReason.Conflict, violation.Reason);
        }

        return goals.TrueForAll(AreNumbersRead)
            ? new Ledger(this)
            {
                Plan = TeardownPlanner.Restore(map, [.. goals.Select(g => g.Goal).Distinct()], acts, Plan.Basis),
                Goals = goals,
                DoneSteps = DoneSteps + tested,
                stands = replanned.Goal is Goal.Replace && Goals.Exists(g => g.Goal == replanned.Goal),
                Count = null,
                Corrections = replanned.Correction is { } correction ? Corrections.Add(correction) : Corrections,
            }
            : new Refusal(RefusalReason.Invalid, "What is exchanged must have its numbers read.");

        // Of one that is exchanged once more, the number of the one that goes in then.
        bool AreNumbersRead(StandingGoal standing) =>
            standing.Goal is not Goal.Replace { Assembly: var id }
            || map.Assembly(id).Part is var p
                && (map.Vacant.Contains(p) || acts.Contains(Act.ReadRemoved(p)))
                && acts.Skip(standing.Since).Contains(Act.ReadFitted(p));
    }

    private Outcome<Ledger> Name(NamedThing thing)
    {
        if (!Plan.Map.IsFree())
        {
            return new Refusal(RefusalReason.Conflict, "This model has a map; what comes off is in the plan.");
        }

        if (thing.Refuse() is { } refusal)
        {
            return refusal;
        }

        if (Current?.Act.Kind is ActKind.Prepare or ActKind.ReadRemoved)
        {
            return new Refusal(RefusalReason.Conflict, $"First: {Current.Title}.");
        }

        if (thing.Kind == NamedKind.Isolation && JointsOpen.Contains(Plan.Map.Isolation))
        {
            return new Refusal(RefusalReason.Conflict, "The battery is isolated already.");
        }

        if (thing.Held?.FirstOrDefault(h => !Off.Any(o => o.ToString() == h)) is { } closed)
        {
            return new Refusal(RefusalReason.Conflict, $"“{closed}” is not off, so it cannot have held this.");
        }

        if (thing.MovesFrom is { } from && !Plan.Replaced.Any(a => a.Part.Value == from && PartsOut.Contains(a.Part)))
        {
            return new Refusal(RefusalReason.Conflict, "What it moves over from is not out, or not exchanged.");
        }

        if (Named.Any(n => n.Thing.Kind == thing.Kind && Off.Contains(n.Off) && SameName(n.Thing, thing)))
        {
            return new Refusal(
                RefusalReason.Conflict,
                $"“{thing.Name.Trim()}” is off already. Give this one a name that tells it from the other."
            );
        }

        var (map, off, back) = Plan.Map.With(thing);
        var rest = Plan.Acts.Skip(DoneSteps).ToList();
        rest.InsertRange(0, [off, .. back]);
        if (thing.Check is { } check && !rest.Contains(Act.Check(CheckId.Of(check))))
        {
            rest.Add(Act.Check(CheckId.Of(check)));
        }

        var exchanged = thing is { Kind: NamedKind.Part, Exchanged: true } ? map.Assemblies[^1] : null;
        foreach (var after in map.Checks.Where(c => exchanged?.After.Contains(c.Id) == true))
        {
            // What is set in firmware comes before anything is tried.
            var at = after.BeforeStart ? rest.FindIndex(IsTried) : rest.Count;
            if (!rest.Contains(Act.Check(after.Id)))
            {
                rest.Insert(at < 0 ? rest.Count : at, Act.Check(after.Id));
            }
        }

        var goals = exchanged is not null
            ? Goals.Add(new StandingGoal(new Goal.Replace(exchanged.Id), DoneSteps))
            : Goals;
        var grown = new Ledger(this)
        {
            Plan = TeardownPlanner.Restore(map, [.. goals.Select(g => g.Goal)], [.. DoneActs, .. rest], Plan.Basis),
            Goals = goals,
            Named = Named.Add((off, thing)),
        };
        // One line, so one step to take back: the map grows and the thing is off.
        var named = grown.Advance(grown.Current!, grown.Expected, null);
        named.before = this;
        return named;

        bool IsTried(Act act) => act.Kind == ActKind.Check && !map.Check(CheckId.Of(act.Target)).BeforeStart;
    }

    private static bool SameName(NamedThing one, NamedThing other) =>
        string.Equals(one.Name.Trim(), other.Name.Trim(), StringComparison.OrdinalIgnoreCase);

    /// <summary>What is not at hand yet when a new assembly goes in.</summary>
    private List<ToMove> NotMovedFor(Act act) =>
        act.Kind == ActKind.PutIn ? [.. ToMove.Where(m => m.Assembly.Part == act.Part && !m.ByAct && !m.Moved)] : [];

    /// <summary>A part is on the new assembly when it went in since the old one is out, before the new one goes in or after.</summary>
    private bool IsOnNew(Assembly assembly, Part part)
    {
        var done = DoneActs.ToList();
        var off = done.FindLastIndex(a => a.Kind == ActKind.LiftOut && a.Part == assembly.Part);
        return off >= 0
            && done.FindLastIndex(a => a.Kind is ActKind.PutIn or ActKind.PutBack && a.Target == part.Id.Value) > off;
    }

    private Outcome<Ledger> Remark(PlanStep step, string text) =>
        string.IsNullOrWhiteSpace(text) ? new Refusal(RefusalReason.Invalid, "The note is empty.")
        : text.Length > MaxNote ? TooLong(text.Length)
        : new Ledger(this) { Notes = Notes.Add((step.Number, text.Trim())) };

    private static Refusal TooLong(int length) =>
        new(RefusalReason.Invalid, $"A note has at most {MaxNote} characters; this one has {length}.");

    private Ledger Advance(PlanStep step, int? counted, CountNote? differing, LeftAct? left = null)
    {
        var act = step.Act;
        return new Ledger(this)
        {
            DoneSteps = DoneSteps + 1,
            Count = null,
            Counts = differing is null ? Counts : Counts.Add(differing),
            Left = left is null ? Left : Left.Add(left),
            Screws = act.Kind switch
            {
                ActKind.Undo => Screws.Add(
                    new ScrewsOut(
                        Plan.Map.Fastener(act.Fastener),
                        counted!.Value,
                        Plan.MatField(act.Fastener),
                        Plan.KeptAt(Plan.Map.Fastener(act.Fastener)),
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
            : Plan.Map.Fastener(act.Fastener).Count;
}
