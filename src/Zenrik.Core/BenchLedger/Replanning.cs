using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.BenchLedger;

/// <summary>A goal that could join the job, and what it would cost.</summary>
/// <param name="Now">Minutes more when it joins now.</param>
/// <param name="Later">Minutes of a job of its own another day.</param>
public sealed record JoinableGoal(Goal Goal, string Title, double Now, double Later);

/// <summary>Changes of what remains of a session, as lines for its ledger.</summary>
public static class Replanning
{
    /// <summary>Other acts of this stretch that could come next just as well, in the plan's order.</summary>
    public static IReadOnlyList<PlanStep> CouldBeNext(this Ledger ledger)
    {
        if (ledger.Current is not { } current || ledger.Plan.Map.IsFree())
        {
            return [];
        }

        var machine = Machine(ledger);
        return
        [
            .. ledger
                .Plan.Steps.Skip(ledger.DoneSteps + 1)
                .TakeWhile(s => s.Stage == current.Stage)
                .Where(s => s.Act.Kind != ActKind.TurnOver && machine.Copy().Do(s.Act) is null),
        ];
    }

    /// <summary>Another act comes next; the rest is put in order anew from there, within a limit.</summary>
    public static Outcome<Entry.Replanned> Instead(this Ledger ledger, Act act, SearchLimit limit = default)
    {
        if (ledger.Plan.Steps.Skip(ledger.DoneSteps).FirstOrDefault(s => s.Act == act) is not { } step)
        {
            return new Refusal(RefusalReason.NotFound, "That act is not among those that remain.");
        }

        if (Machine(ledger).Do(act) is { } reason)
        {
            return new Refusal(RefusalReason.Conflict, $"Not yet: {reason}");
        }

        return TeardownPlanner
            .Resume(ledger.Plan.Map, ledger.Goals, [.. ledger.DoneActs, act], ledger.Plan.Basis, limit)
            .Try(out var rest, out var refusal)
            ? new Entry.Replanned(ledger.DoneSteps + 1, null, $"{step.Title} first", [act, .. rest])
            : refusal;
    }

    /// <summary>Another goal joins.</summary>
    /// <param name="ledger">The session.</param>
    /// <param name="goal">The goal. Exchanging an assembly needs an item and is no goal to join at the bench.</param>
    /// <param name="reason">Why: "fan full of dust".</param>
    /// <param name="limit">How long to search.</param>
    public static Outcome<Entry.Replanned> Join(
        this Ledger ledger,
        Goal goal,
        string reason,
        SearchLimit limit = default
    )
    {
        if (goal is Goal.Replace)
        {
            return new Refusal(
                RefusalReason.Conflict,
                "What is exchanged needs an item promised to it: say that it is broken too, and which item goes in."
            );
        }

        if (ledger.Current is not { } step)
        {
            return new Refusal(RefusalReason.Conflict, "Every act of this plan is done; close the repair.");
        }

        return ledger.With(goal, step, reason, limit);
    }

    private static Outcome<Entry.Replanned> With(
        this Ledger ledger,
        Goal goal,
        PlanStep step,
        string reason,
        SearchLimit limit,
        bool failed = true
    )
    {
        // It was switched on and failed: it is shut down and unplugged before anything is taken off.
        Act[] made = failed && ledger.FailsWith(goal) ? [step.Act] : [];
        return TeardownPlanner
            .Resume(
                ledger.Plan.Map,
                [.. ledger.Goals, new StandingGoal(goal, ledger.DoneSteps + made.Length)],
                [.. ledger.DoneActs, .. made],
                ledger.Plan.Basis,
                limit
            )
            .Try(out var rest, out var refusal)
            ? new Entry.Replanned(step.Number, goal, reason, [.. made, .. rest])
            : refusal;
    }

    /// <summary>
    /// Something else is broken and is exchanged too, while the machine is open. The stores promise its item with the same
    /// line.
    /// </summary>
    /// <param name="ledger">The session.</param>
    /// <param name="assembly">One of <see cref="Ledger.Exchangeable"/>.</param>
    /// <param name="reason">What is wrong with it: "hinge cracked".</param>
    /// <param name="limit">How long to search.</param>
    public static Outcome<Entry.Replanned> Exchange(
        this Ledger ledger,
        AssemblyId assembly,
        string reason,
        SearchLimit limit = default
    ) =>
        ledger.Current is not { } step
            ? new Refusal(RefusalReason.Conflict, "Every act of this plan is done; close the repair.")
        : ledger.Exchangeable.All(a => a.Id != assembly)
            ? new Refusal(RefusalReason.NotFound, "Nothing of that name is exchanged here besides.")
        : ledger.With(new Goal.Replace(assembly), step, reason, limit, failed: false);

    /// <summary>True when a goal joins because the machine has just been switched on and does not start.</summary>
    internal static bool FailsWith(this Ledger ledger, Goal? goal) =>
        goal is Goal.Reseat or Goal.Replace && ledger.Current?.Act.Kind == ActKind.PowerTest;

    /// <summary>
    /// What went in proves faulty itself: it comes out again and another of its number goes in. The stores set the faulty one
    /// apart and promise the other with the same line, so it is not taken back.
    /// </summary>
    /// <param name="ledger">The session.</param>
    /// <param name="slot">Of what went in.</param>
    /// <param name="reason">What is seen: "does not charge".</param>
    /// <param name="limit">How long to search.</param>
    public static Outcome<Entry.Replanned> Another(
        this Ledger ledger,
        string slot,
        string reason,
        SearchLimit limit = default
    )
    {
        if (ledger.Current is not { } step)
        {
            return new Refusal(RefusalReason.Conflict, "Every act of this plan is done; close the repair.");
        }

        var map = ledger.Plan.Map;
        var fitted = ledger.MayBeFaulty.FirstOrDefault(a => map.Part(a.Part).Slot == slot);
        if (fitted is null)
        {
            return new Refusal(
                RefusalReason.Conflict,
                "No new part was put in there in this session that another could take the place of."
            );
        }

        return ledger.With(new Goal.Replace(fitted.Id), step, reason, limit);
    }

    /// <summary>The map is otherwise from here on, and what remains is planned by that.</summary>
    public static Outcome<Entry.Replanned> Correct(
        this Ledger ledger,
        MapCorrection correction,
        SearchLimit limit = default
    )
    {
        if (ledger.Current is not { } step || ledger.Plan.Map.IsFree())
        {
            return new Refusal(RefusalReason.Conflict, "There is nothing here to plan anew.");
        }

        var map = ledger.Plan.Map;
        if (Wrong(correction, ledger) is { } wrong)
        {
            return new Refusal(RefusalReason.Conflict, wrong);
        }

        return TeardownPlanner
            .Resume(correction.In(map), ledger.Goals, [.. ledger.DoneActs], ledger.Plan.Basis, limit)
            .Try(out var rest, out var refusal)
            ? new Entry.Replanned(step.Number, null, Words(map, correction), rest, correction)
            : refusal;
    }

    private static string? Wrong(MapCorrection correction, Ledger ledger)
    {
        var map = ledger.Plan.Map;
        var left = ledger.Plan.Acts.Skip(ledger.DoneSteps).ToHashSet();
        return correction switch
        {
            MapCorrection.Brings b => ledger.Plan.Replaced.FirstOrDefault(a => a.Part == b.On) is { } assembly
            && map.TransferList(assembly).Any(p => p.Id == b.Part)
                ? null
                : "Nothing of that name moves over here.",
            MapCorrection.Tries t => left.Contains(t.Tried)
            && t.Tried.Kind == ActKind.LiftOut
            && left.Contains(Act.LiftOut(t.Cover))
            && t.Waits.All(w => left.Contains(w.Act))
                ? null
                : "There is nothing doubtful about that any more.",
            MapCorrection.Stays w => ledger.Trying is { } trying
            && trying.Tried.Part == w.Part
            && trying.Cover == w.Cover
                ? null
                : "That is not being tried now.",
            _ => throw new ArgumentOutOfRangeException(nameof(correction)),
        };
    }

    private static string Words(ServiceMap map, MapCorrection correction)
    {
        return correction switch
        {
            MapCorrection.Brings b => $"the new {map.Part(b.On).Name} comes with {The(b.Part)}",
            MapCorrection.Tries t => $"trying {The(t.Tried.Part)} before {The(t.Cover)}",
            MapCorrection.Stays w => $"{The(w.Part)} does not come before {The(w.Cover)}",
            _ => throw new ArgumentOutOfRangeException(nameof(correction)),
        };

        string The(PartId part) => Wording.The(map.Part(part).Name);
    }

    /// <summary>
    /// What could be done while the machine is open: every part that gathers dust and is not cleaned yet, and every part
    /// with a number of its own, cheapest first.
    /// </summary>
    /// <param name="ledger">The session.</param>
    /// <param name="limit">How long to search, for all of them together.</param>
    public static IReadOnlyList<JoinableGoal> Joinable(this Ledger ledger, SearchLimit limit = default)
    {
        if (ledger.Current is null || ledger.Plan.Map.IsFree())
        {
            return [];
        }

        var map = ledger.Plan.Map;
        var acts = ledger.Plan.Acts.ToHashSet();
        var goals = map
            .Parts.Where(p => p.Dusty && !acts.Contains(Act.BlowClean(p.Id)))
            .Select(Goal (p) => new Goal.Clean(p.Id))
            .Concat(
                map.Parts.Where(p =>
                        p is { Fixed: false, Slot: not null }
                        && !acts.Any(a => a.Kind == ActKind.LiftOut && a.Part == p.Id)
                    )
                    .Select(Goal (p) => new Goal.LiftOut(p.Id))
            );
        var left = Remaining(ledger.Plan.Steps.Skip(ledger.DoneSteps));
        var found = new List<JoinableGoal>();
        foreach (var goal in goals)
        {
            if (
                ledger.Join(goal, "", limit).Try(out var joined, out _)
                && ledger.Add(joined).Try(out var then, out _)
                && TeardownPlanner.Plan(map, [goal], ledger.Plan.Basis, limit).Try(out var alone, out _)
            )
            {
                var now = Remaining(then.Plan.Steps.Skip(then.DoneSteps)) - left;
                found.Add(new JoinableGoal(goal, Title(map, goal), Math.Max(0, now), alone.Minutes.Expected));
            }
        }

        return [.. found.OrderBy(g => g.Now)];
    }

    /// <summary>
    /// Joints whose bad seat would make a check fail, those opened in this session first; where the machine does not start,
    /// every joint that was opened, memory before all. Dead or disturbed after a repair is first a question of its plug
    /// (common practice, no published source).
    /// </summary>
    /// <param name="ledger">The session.</param>
    /// <param name="check">A check or the power test.</param>
    public static IReadOnlyList<Joint> Suspects(this Ledger ledger, Act check)
    {
        var opened = ledger
            .DoneActs.Where(a => a.Kind is ActKind.Open or ActKind.Isolate)
            .Select(a => a.Joint)
            .ToHashSet();
        var joints = ledger.Plan.Map.Joints;
        return check.Kind switch
        {
            _ when ledger.Plan.Map.IsFree() => [],
            ActKind.PowerTest =>
            [
                .. joints.Where(j => opened.Contains(j.Id)).OrderBy(j => j.Kind == JointKind.EdgeSlotMemory ? 0 : 1),
            ],
            ActKind.Check =>
            [
                .. joints.Where(j => j.Check?.Value == check.Target).OrderBy(j => opened.Contains(j.Id) ? 0 : 1),
            ],
            _ => [],
        };
    }

    /// <summary>A goal in words: "clean the fan".</summary>
    public static string Title(ServiceMap map, Goal goal) =>
        goal switch
        {
            Goal.Clean clean => $"Blow {Wording.The(map.Part(clean.Part).Name)} clean",
            Goal.LiftOut lift => $"Take {Wording.The(map.Part(lift.Part).Name)} out and look at it",
            Goal.Reseat reseat => $"Seat {Wording.The(map.Joint(reseat.Joint).Name)} again",
            Goal.Replace replace => $"Exchange {Wording.The(map.Assembly(replace.Assembly).Name)}",
            _ => throw new ArgumentOutOfRangeException(nameof(goal)),
        };

    private static double Remaining(IEnumerable<PlanStep> steps) => steps.Sum(s => s.Seconds) / 60;

    private static Simulation Machine(Ledger ledger)
    {
        var machine = new Simulation(ledger.Plan.Map);
        foreach (var act in ledger.DoneActs)
        {
            // Every line was checked when it was added.
            _ = machine.Do(act);
        }

        return machine;
    }
}
