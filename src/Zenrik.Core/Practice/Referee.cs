using System.Globalization;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.Practice;

/// <summary>A move and what came of it.</summary>
/// <param name="Slip">What went wrong; null: it was carried out as meant.</param>
/// <param name="Carried">True when the machine has changed: a slip may come with an act that is carried out all the same.</param>
public sealed record JudgedMove(Move Move, bool Carried, Slip? Slip);

/// <summary>
/// Carries out what a learner does, or says what would have happened. What the machine allows the <see cref="Simulation"/>
/// decides alone; tools, counts and where screws lie are judged here. The same moves give the same judgement.
/// </summary>
public sealed class Referee
{
    // What a try in vain, a screw drilled out, a count done again costs. Common practice, no published source.
    private const double VainMinutes = 0.25;
    private const double RoundedHeadMinutes = 10;
    private const double SortingMinutes = 3;
    private const double CountingMinutes = 1;
    private const double ScratchMinutes = 1;
    private const double PiercedMinutes = 15;

    private readonly List<JudgedMove> moves;
    private readonly List<Act> done;
    private readonly Dictionary<FastenerId, int> fields;
    private Simulation machine;
    private IReadOnlyList<Slip>? forgotten;

    public Referee(PracticeTask task) =>
        (Task, machine, moves, done, fields) = (task, new Simulation(task.Map), [], [], []);

    private Referee(Referee other) =>
        (Task, machine, moves, done, fields, forgotten) = (
            other.Task,
            other.Machine,
            [.. other.moves],
            [.. other.done],
            new Dictionary<FastenerId, int>(other.fields),
            other.forgotten
        );

    /// <summary>A run of its own at the same point: what is done in one does not change the other.</summary>
    public Referee Copy() => new(this);

    /// <summary>The run after some moves.</summary>
    public static Referee After(PracticeTask task, IEnumerable<Move> moves)
    {
        var referee = new Referee(task);
        foreach (var move in moves)
        {
            referee.Judge(move);
        }

        return referee;
    }

    public PracticeTask Task { get; }

    public IReadOnlyList<JudgedMove> Moves => moves;

    /// <summary>What was carried out.</summary>
    public IReadOnlyList<Act> Done => done;

    /// <summary>True once the learner has said so and the machine was whole.</summary>
    public bool Finished => forgotten is not null;

    /// <summary>By group that is out, the field it was laid in.</summary>
    public IReadOnlyDictionary<FastenerId, int> Fields => fields;

    /// <summary>The first field nothing lies in.</summary>
    public int FreeField => Enumerable.Range(1, Move.Fields).FirstOrDefault(f => !fields.ContainsValue(f), Move.Fields);

    /// <summary>Every slip so far; once finished, with what was forgotten.</summary>
    public IReadOnlyList<Slip> Slips => [.. moves.Select(m => m.Slip).OfType<Slip>(), .. forgotten ?? []];

    /// <summary>The machine as the drawing shows it.</summary>
    public MachineMoment Moment => PlanMoment.After(done, Task.Basis.Practice);

    /// <summary>A machine in the same state, to try things on.</summary>
    public Simulation Machine => machine.Copy();

    /// <summary>The tool an act needs; fingers where it needs none.</summary>
    public Tool ToolFor(Act act) => ActTools.For(Task.Map, act, Task.Basis.Practice);

    /// <summary>Tools laid out: those the machine needs, and some that look like them.</summary>
    public IReadOnlyList<Tool> Tray =>
        [
            .. Task
                .Map.Fasteners.Select(f => Tools.For(f.Screw.Drive))
                .Concat([Tool.Fingers, Tool.PH0, Tool.PH00, Tool.T5, Tool.PryTool, Tool.MetalPryTool, Tool.Tweezers])
                .Concat(Task.Plan.Tools)
                .Concat(Task.Map.Parts.Select(p => p.Tool).OfType<Tool>())
                .Distinct()
                .Order(),
        ];

    /// <summary>
    /// The first act of the plan that is not done yet and can be; turning over where that is what it waits for, or where
    /// something is looked at with the lid up. Null where the learner has gone another way, or all is done.
    /// </summary>
    public PlanStep? Next()
    {
        var left = done.CountBy(a => a).ToDictionary();
        foreach (var step in Task.Plan.Steps.Where(s => s.Act.Kind != ActKind.TurnOver))
        {
            if (left.GetValueOrDefault(step.Act) > 0)
            {
                left[step.Act]--;
                continue;
            }

            var turn = Task.Plan.Steps.FirstOrDefault(s => s.Act.Kind == ActKind.TurnOver);
            return Machine.Attempt(step.Act) switch
            {
                null => step.Act.Kind == ActKind.Check && Moment.Up == Side.Base ? turn : step,
                { Kind: Against.OtherSide } => turn,
                _ => null,
            };
        }

        return null;
    }

    /// <summary>Judges a move; what is right is carried out.</summary>
    public JudgedMove Judge(Move move)
    {
        var judged = Finished ? new JudgedMove(move, false, Vain("It is finished.", Topics.Order)) : Decide(move);
        moves.Add(judged);
        return judged;
    }

    private JudgedMove Decide(Move move)
    {
        if (move.IsFinish)
        {
            return End(move);
        }

        if (move.Decoy is { } decoy)
        {
            return new JudgedMove(move, false, AtDecoy(decoy));
        }

        var act = AsItWent(move.Act!.Value);
        var wrong = machine.Knows(act) ? WrongTool(act, move.Tool) : null;
        // What the machine forbids is said before what the hand does: a tool is put down, a torn ribbon is not.
        var trial = wrong is not null || act.Kind == ActKind.Fasten ? machine.Copy() : machine;
        if (trial.Attempt(act) is { } objection)
        {
            return new JudgedMove(move, false, Consequence(act, objection));
        }

        if (wrong is not null)
        {
            return new JudgedMove(move, false, wrong);
        }

        var slip = act.Kind switch
        {
            ActKind.Undo => Laid(Task.Map.Fastener(act.Fastener), move),
            ActKind.Fasten => Taken(Task.Map.Fastener(act.Fastener), move),
            _ => null,
        };
        if (slip is not null && act.Kind == ActKind.Fasten)
        {
            return new JudgedMove(move, false, slip);
        }

        machine = trial;
        done.Add(act);
        return new JudgedMove(move, true, slip);
    }

    /// <summary>What comes back comes back the way it went.</summary>
    private Act AsItWent(Act act)
    {
        var away = act.Kind switch
        {
            ActKind.PutIn => ActKind.LiftOut,
            ActKind.PutBack => ActKind.SetAside,
            _ => (ActKind?)null,
        };
        return away is { } kind && done.FindLastIndex(a => a.Kind == kind && a.Target == act.Target) is var at and >= 0
            ? act with
            {
                Way = done[at].Way,
            }
            : act;
    }

    /// <summary>The end is taken when the machine is whole and what was asked has been done.</summary>
    private JudgedMove End(Move move)
    {
        if (machine.Unfinished() is { } left)
        {
            return new JudgedMove(move, false, Vain($"Not yet: {Sentence.Uncapital(left)}", Topics.WayBack));
        }

        if (Unmet() is { } unmet)
        {
            return new JudgedMove(move, false, Vain(unmet, Topics.Order));
        }

        forgotten = [.. Forgotten()];
        return new JudgedMove(move, true, null);
    }

    /// <summary>What was asked and not done; null: all was.</summary>
    private string? Unmet()
    {
        foreach (var goal in Task.Wanted)
        {
            if (
                Task.Map.Needs(goal).Any(r => !r.AnyOf.Any(done.Contains))
                || (goal is Goal.Clean clean && !done.Contains(Act.BlowClean(clean.Part)))
            )
            {
                return $"Closed, and not done yet: {Sentence.Uncapital(Asked(goal))}.";
            }
        }

        return null;
    }

    /// <summary>A goal in words: "Exchange the battery".</summary>
    public string Asked(Goal goal) => Replanning.Title(Task.Map, goal);

    /// <summary>What the job still calls for when the machine is closed: numbers, the power test, checks.</summary>
    private IEnumerable<Slip> Forgotten()
    {
        foreach (var part in Task.Map.Replaced(Task.Goals).Select(a => a.Part))
        {
            if (!done.Contains(Act.ReadRemoved(part)) && !Task.Map.Vacant.Contains(part))
            {
                yield return Left(Act.ReadRemoved(part), 2);
            }

            if (!done.Contains(Act.ReadFitted(part)))
            {
                // What went in is known only by opening it again.
                yield return Left(Act.ReadFitted(part), Back(part));
            }
        }

        var rest = TeardownPlanner.Remaining(
            Task.Plan.Map,
            [.. Task.Goals.Select(g => new StandingGoal(g))],
            done,
            Task.Basis
        );
        if (rest.Try(out var left, out _))
        {
            foreach (var act in left.Acts.Where(a => a.Kind != ActKind.TurnOver))
            {
                yield return Left(act, 2);
            }
        }

        Slip Left(Act act, double times) =>
            new(
                SlipKind.Forgotten,
                null,
                $"Forgotten: {Sentence.Uncapital(Wording.Title(Task.Map, act, practice: Task.Basis.Practice))}.",
                times * Seconds(act) / 60,
                null,
                Topics.WayBack
            );

        double Back(PartId part) =>
            Math.Max(2, 2 * Seconds(done.First(a => a.Kind == ActKind.LiftOut && a.Part == part)) / 20);
    }

    private double Seconds(Act act) => Task.Basis.Times.Seconds(Task.Map, act);

    private Slip AtDecoy(string id)
    {
        var decoy = Task.Model.Decoys.FirstOrDefault(d => d.Id == id);
        return decoy is null ? Vain("There is nothing like that in it.", Topics.Screws)
            : decoy.Kind == DecoyKind.Drain
                ? Vain($"{Sentence.Capital(decoy.Name)}: a hole for water, no screw. {decoy.Why}.", Topics.Screws)
            : new Slip(
                SlipKind.InVain,
                decoy.Id,
                $"{Sentence.Capital(decoy.Name)} stays: {decoy.Why}.",
                CountingMinutes,
                null,
                Topics.Screws
            );
    }

    private Slip? WrongTool(Act act, Tool? inHand)
    {
        if (Task.Level == PracticeLevel.Guided || ToolFor(act) is not (not Tool.Fingers and var needed))
        {
            return null;
        }

        var hand = inHand ?? Tool.Fingers;
        var group = act.Kind is ActKind.Undo or ActKind.Fasten ? Task.Map.Fastener(act.Fastener) : null;
        if (
            hand == needed
            // What the house prises with metal comes off with plastic too, and a tight screw with its own driver.
            || (needed == Tool.MetalPryTool && hand == Tool.PryTool)
            || (group is not null && hand == Tools.For(group.Screw.Drive))
        )
        {
            return null;
        }

        if (group is not null)
        {
            var turns =
                hand.IsDriver() ? $"The {hand.Name()} turns in the recess and rounds it"
                : hand == Tool.Fingers ? "Fingers do not turn it"
                : $"{Sentence.Capital(hand.Name())} {(hand == Tool.Tweezers ? "do" : "does")} not turn it";
            return new Slip(
                SlipKind.WrongTool,
                group.Id.Value,
                Task.Level >= PracticeLevel.Uncounted
                    ? $"{turns}. Look at the head once more."
                    : $"{turns}: {Wording.ScrewsOf(group)} {(group.Count == 1 ? "takes" : "take")} {needed.Name()}.",
                hand.IsDriver() ? RoundedHeadMinutes : VainMinutes,
                null,
                Topics.Tools
            );
        }

        var metal = hand == Tool.MetalPryTool || hand.IsDriver();
        var at = act.Kind is ActKind.Open or ActKind.Isolate ? Task.Map.Joint(act.Joint) : null;
        var near =
            at is not null ? at.Between.Concat(at.Under)
            : act.Kind == ActKind.Free ? [Task.Map.Tie(act.Tie).Of, Task.Map.Tie(act.Tie).On]
            : [act.Part];
        if (metal && near.FirstOrDefault(p => Task.Map.Part(p).Cells) is { Value: not null } cell)
        {
            return new Slip(
                SlipKind.Broken,
                cell.Value,
                $"Metal at {Wording.The(Task.Map.Part(cell).Name)}: it slips once, and a pierced cell burns. {Sentence.Capital(needed.Name())}, and nothing of metal.",
                PiercedMinutes,
                cell,
                Topics.Tools
            );
        }

        return new Slip(
            SlipKind.WrongTool,
            act.Target,
            $"{Sentence.Capital(hand.Name())} {(hand is Tool.Fingers or Tool.Tweezers ? "do not do that" : "does not do that")}: it is done with {(needed == Tool.Tweezers ? needed.Name() : Wording.A(needed.Name()))}.",
            metal ? ScratchMinutes : VainMinutes,
            null,
            Topics.Tools
        );
    }

    /// <summary>Screws come out: how many, and where they are laid.</summary>
    private Slip? Laid(FastenerGroup group, Move move)
    {
        if (group.Captive)
        {
            return Miscounted(group, move);
        }

        var field = Task.Level == PracticeLevel.Guided ? FreeField : move.Field ?? FreeField;
        var other = fields
            .Where(f => f.Value == field)
            .Select(f => Task.Map.Fastener(f.Key))
            .FirstOrDefault(g => g.Screw != group.Screw);
        fields[group.Id] = field;
        return other is not null
            ? new Slip(
                SlipKind.Screws,
                group.Id.Value,
                $"Two kinds in field {field.ToString(CultureInfo.InvariantCulture)}: {other.Screw.Size} and {group.Screw.Size}. On the way back nobody knows which is which.",
                SortingMinutes,
                null,
                Topics.Screws
            )
            : Miscounted(group, move);
    }

    private Slip? Miscounted(FastenerGroup group, Move move) =>
        Task.Level >= PracticeLevel.Uncounted && move.Count is { } counted && counted != group.Count
            ? new Slip(
                SlipKind.Count,
                group.Id.Value,
                $"{Wording.Count(counted)} counted, and there are {Wording.Count(group.Count)}: {(counted < group.Count ? "one that stays behind cracks what it holds" : "one too many is looked for on the floor")}.",
                CountingMinutes,
                null,
                Topics.Screws
            )
            : null;

    /// <summary>Screws go in: out of the field they were laid in, or out of one with the same.</summary>
    private Slip? Taken(FastenerGroup group, Move move)
    {
        if (group.Captive || !fields.TryGetValue(group.Id, out var own))
        {
            return null;
        }

        var from = Task.Level >= PracticeLevel.Nameless ? move.Field ?? own : own;
        if (from == own)
        {
            fields.Remove(group.Id);
            return null;
        }

        var there = fields.Where(f => f.Value == from).Select(f => Task.Map.Fastener(f.Key)).ToList();
        if (there.Count == 0)
        {
            return Vain($"Nothing lies in field {from.ToString(CultureInfo.InvariantCulture)}.", Topics.Screws);
        }

        if (there.Exists(g => g.Screw == group.Screw && g.Count == group.Count))
        {
            // The same screws: the two groups have changed places.
            var same = there.First(g => g.Screw == group.Screw && g.Count == group.Count);
            fields[same.Id] = own;
            fields.Remove(group.Id);
            return null;
        }

        var (put, right) = (there[0].Screw, group.Screw);
        return put.LengthMm > right.LengthMm && put.Thread == right.Thread
            ? new Slip(
                SlipKind.Screws,
                group.Id.Value,
                $"{put.Size} where {right.Size} belongs: it comes through, and what lies beneath is pierced.",
                PiercedMinutes,
                Task.Map.Part(group.Into).Fixed ? null : group.Into,
                Topics.Screws
            )
            : new Slip(
                SlipKind.Screws,
                group.Id.Value,
                $"{put.Size} where {right.Size} belongs: it {(put.Thread == right.Thread ? "hardly reaches the thread" : "does not go into that thread")}.",
                SortingMinutes,
                null,
                Topics.Screws
            );
    }

    private static Slip Vain(string sentence, string topic) =>
        new(SlipKind.InVain, null, sentence, VainMinutes, null, topic);

    /// <summary>What would have happened, had the act been forced.</summary>
    private Slip Consequence(Act act, Objection objection)
    {
        var map = Task.Map;
        var said = objection.Sentence;
        switch (objection.Kind)
        {
            case Against.Joint:
                var joint = map.Joint(JointId.Of(objection.Thing!));
                var torn = joint.Between.FirstOrDefault(p => !map.Part(p).Fixed);
                return new Slip(
                    SlipKind.Broken,
                    objection.Thing,
                    Task.Level >= PracticeLevel.Nameless
                        ? $"Something still ties it to the machine, and {Tears(joint.Kind)}."
                        : $"{Sentence.Capital(Wording.The(joint.Name))} is still closed: {Tears(joint.Kind)}.",
                    0,
                    torn.Value is null ? null : torn,
                    Topics.Of(joint.Kind)
                );
            case Against.Tie:
                var tie = map.Tie(TieId.Of(objection.Thing!));
                return new Slip(
                    SlipKind.Broken,
                    objection.Thing,
                    Task.Level >= PracticeLevel.Nameless
                        ? $"Something still holds it, and {Strains(tie)}."
                        : $"{Sentence.Capital(Wording.The(tie.Name))} still holds it: {Strains(tie)}.",
                    0,
                    map.Part(tie.Of).Fixed ? null : tie.Of,
                    Topics.Of(tie.Kind)
                );
            case Against.Screws:
                var screws = map.Fastener(FastenerId.Of(objection.Thing!));
                return new Slip(
                    SlipKind.Broken,
                    objection.Thing,
                    Task.Level >= PracticeLevel.Nameless
                        ? $"Something still holds it: levered up, it cracks at the screw. Where would you look?{Where(screws)}"
                        : $"{said} Levered up, it cracks at the screw.",
                    0,
                    map.Part(screws.Holds).Fixed ? null : screws.Holds,
                    Topics.Screws
                );
            case Against.UnderPower or Against.OpenUnderPower:
                return new Slip(
                    SlipKind.UnderPower,
                    objection.Thing,
                    $"{said} Under power a slip of the hand is a short.",
                    0,
                    Shorted(),
                    Topics.Power
                );
            case Against.NotPrepared or Against.Running:
                return new Slip(SlipKind.UnderPower, objection.Thing, said, CountingMinutes, null, Topics.Power);
            case Against.InTheWay when act.Kind is ActKind.LiftOut or ActKind.SetAside:
                return new Slip(SlipKind.InVain, objection.Thing, said, ScratchMinutes, null, Topics.Order);
            case Against.NoPaste:
                return new Slip(
                    SlipKind.OutOfOrder,
                    act.Target,
                    $"{said} Without it the machine shuts down hot, and is opened again.",
                    2 * Seconds(act) / 60,
                    null,
                    Topics.WayBack
                );
            case Against.NotBackYet:
                return new Slip(
                    SlipKind.OutOfOrder,
                    objection.Thing,
                    said,
                    2 * Seconds(act) / 60,
                    null,
                    Topics.WayBack
                );
            default:
                return new Slip(SlipKind.InVain, objection.Thing, said, VainMinutes, null, Topics.Order);
        }
    }

    /// <summary>The part that takes the harm of a short: the one with the isolation joint's socket, or what it rides on.</summary>
    private PartId? Shorted()
    {
        var ends = Task.Map.Joint(Task.Map.Isolation).Between;
        return ends.FirstOrDefault(p => !Task.Map.Part(p).Fixed && !Task.Map.Part(p).Cells) is { Value: not null } end
            ? end
            : null;
    }

    private string Where(FastenerGroup screws)
    {
        var moment = Moment;
        return screws.Under.Any(p => !moment.PartsOut.Contains(p) && !moment.PartsAside.Contains(p))
                ? " Not every screw is in sight."
            : screws.Recessed ? " Some heads sit deep."
            : "";
    }

    /// <summary>What a joint of a kind comes to that is forced, as the end of a sentence.</summary>
    internal static string Tears(JointKind kind) =>
        kind switch
        {
            JointKind.FlipLockRibbon or JointKind.SlideLockRibbon => "the ribbon tears at its end",
            JointKind.LeverLockDisplay => "the display's plug is torn off its socket",
            JointKind.PullTabPlug => "its tab stays in your hand and the plug bends",
            JointKind.WirePlug => "the wires come out of their shell",
            JointKind.CoaxSnap => "the lead comes off its snap",
            JointKind.BarrelPowerPort => "the power port hangs by its wires until they break",
            JointKind.SlideContacts => "the contacts bend",
            JointKind.SocketedProcessor => "its contacts bend under the lock",
            _ => "the contacts break",
        };

    private static string Strains(Tie tie) =>
        tie.Kind switch
        {
            TieKind.Latch => "the latch breaks off",
            TieKind.StretchStrip or TieKind.Glue => "it bends before it comes",
            TieKind.TapeFrame => "the glass splinters from the edge",
            _ => "the cable tears",
        };
}
