using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Teardown;

/// <summary>
/// Computes the way to the goals and back. Deterministic: the same map and goals give the same plan.
/// </summary>
public static class TeardownPlanner
{
    /// <summary>Plans the merged goals.</summary>
    /// <param name="map">The map of the unit, optional parts resolved (<see cref="ServiceMap.For"/>).</param>
    /// <param name="goals">At least one. Goals the map does not know are refused by name.</param>
    public static Outcome<Plan> Plan(ServiceMap map, IReadOnlyList<Goal> goals)
    {
        if (goals.Count == 0)
        {
            return new Refusal(RefusalReason.Invalid, "A plan needs at least one goal: a part or an assembly.");
        }

        foreach (var goal in goals)
        {
            if (Unknown(map, goal) is { } refusal)
            {
                return refusal;
            }
        }

        var graph = TeardownGraph.Of(map);
        var needed = Closure(graph, [.. goals.SelectMany(map.PartsOut).Distinct().Select(Act.LiftOut)]);
        var replaced = map.Replaced(goals).Select(a => a.Part).ToHashSet();
        var taken = Sequencer.Order(graph, needed);

        List<Act> acts = [.. map.Preparations.Select(Act.Prepare)];
        foreach (var act in taken)
        {
            acts.Add(act);
            if (act.Kind == ActKind.LiftOut && replaced.Contains(act.Part))
            {
                acts.Add(Act.ReadRemoved(act.Part));
            }
        }

        acts.AddRange(WayBack(map, taken, replaced));
        acts.AddRange(CloseOut(map, taken, goals));
        return Restore(map, goals, acts);
    }

    /// <summary>A plan from its stored acts.</summary>
    /// <exception cref="InvalidOperationException">An act names something the map does not have.</exception>
    public static Plan Restore(ServiceMap map, IReadOnlyList<Goal> goals, IReadOnlyList<Act> acts)
    {
        var graph = TeardownGraph.Of(map);
        var replaced = map.Replaced(goals).Select(a => a.Part).ToHashSet();
        var wanted = goals.SelectMany(map.PartsOut).Select(Act.LiftOut).ToHashSet();
        var reasons = Reasons(graph, wanted, [.. acts]);
        var steps = new List<PlanStep>(acts.Count);
        var inHand = Tool.Fingers;
        var (stage, up) = (Stage.Out, Side.Deck);
        foreach (var act in acts)
        {
            stage = StageOf(act, stage);
            if (act.Kind == ActKind.TurnOver)
            {
                up = up == Side.Base ? Side.Deck : Side.Base;
            }

            var tool = ToolFor(map, act);
            var change = tool != Tool.Fingers && tool != inHand;
            inHand = tool == Tool.Fingers ? inHand : tool;
            steps.Add(
                new PlanStep(
                    steps.Count + 1,
                    stage,
                    act,
                    tool,
                    Sequencer.SideOf(map, act) is null ? null : up,
                    StandardTimes.Of(map, act) + (change ? StandardTimes.ToolChange : 0),
                    act.Kind == ActKind.TurnOver
                        ? Wording.Turning(up)
                        : Wording.Title(map, act, act.Kind == ActKind.PutIn && replaced.Contains(act.Part)),
                    Wording.How(map, act),
                    CautionsOf(map, act),
                    WhyOf(act, reasons)
                )
            );
        }

        return new Plan(map, goals, steps);
    }

    /// <summary>Everything that must be done for the targets, by following what each act requires.</summary>
    private static HashSet<Act> Closure(TeardownGraph graph, IReadOnlyList<Act> targets)
    {
        var needed = new HashSet<Act>();
        var waiting = new Stack<Act>(targets);
        while (waiting.TryPop(out var act))
        {
            if (needed.Add(act))
            {
                foreach (var before in graph.WaysTo(act).SelectMany(w => w.Requires))
                {
                    waiting.Push(before);
                }
            }
        }

        return needed;
    }

    /// <summary>The reverse of the way out, with the acts that only putting together needs.</summary>
    private static IEnumerable<Act> WayBack(ServiceMap map, IReadOnlyList<Act> taken, HashSet<PartId> replaced)
    {
        foreach (var act in taken.Reverse())
        {
            if (act.Kind == ActKind.LiftOut)
            {
                if (replaced.Contains(act.Part))
                {
                    yield return Act.ReadFitted(act.Part);
                }

                if (map.Part(act.Part).Thermal is not null)
                {
                    yield return Act.CleanAndPaste(act.Part);
                }
            }

            yield return act.Reverse!.Value;
            if (act.Kind == ActKind.Isolate)
            {
                // Before the cover goes on: a joint that is not seated is then two minutes' work, not twenty.
                yield return Act.PowerTest;
            }
        }
    }

    private static IEnumerable<Act> CloseOut(ServiceMap map, IReadOnlyList<Act> taken, IReadOnlyList<Goal> goals)
    {
        var called = taken
            .Where(a => a.Kind is ActKind.Open or ActKind.Isolate)
            .Select(a => map.Joint(a.Joint).Check)
            .OfType<CheckId>()
            .Concat(map.Replaced(goals).SelectMany(a => a.After))
            .ToHashSet();
        return map.Checks.Where(c => called.Contains(c.Id)).Select(c => Act.Check(c.Id));
    }

    private static Stage StageOf(Act act, Stage before) =>
        act.Kind switch
        {
            ActKind.Check => Stage.CloseOut,
            ActKind.TurnOver => before,
            >= ActKind.PutIn and not ActKind.ReadRemoved => Stage.Back,
            _ => before,
        };

    internal static Tool ToolFor(ServiceMap map, Act act) =>
        act.Kind switch
        {
            ActKind.Undo or ActKind.Fasten => Tools.For(map.Fastener(act.Fastener).Screw.Drive),
            ActKind.Open or ActKind.Isolate => map.Joint(act.Joint).Kind.Handling().Tool,
            ActKind.LiftOut => map.Part(act.Part).Tool ?? Tool.Fingers,
            _ => Tool.Fingers,
        };

    private static IReadOnlyList<Caution> CautionsOf(ServiceMap map, Act act) =>
        act.Kind switch
        {
            ActKind.Undo => map.Fastener(act.Fastener).Cautions,
            ActKind.Open or ActKind.Isolate => map.Joint(act.Joint).Cautions,
            ActKind.LiftOut => map.Part(act.Part).Cautions,
            ActKind.CleanAndPaste =>
            [
                new Caution
                {
                    Severity = Severity.Warning,
                    Text = "Isopropyl alcohol burns: ventilate, no flame, no hot tools. Site rules come first.",
                },
            ],
            _ => [],
        };

    /// <summary>For every needed act the one it makes possible on the shortest chain to a goal.</summary>
    private static Dictionary<Act, Act> Reasons(TeardownGraph graph, HashSet<Act> wanted, HashSet<Act> planned)
    {
        var reasons = new Dictionary<Act, Act>();
        var waiting = new Queue<Act>(graph.Acts.Where(wanted.Contains));
        var seen = wanted.ToHashSet();
        while (waiting.TryDequeue(out var act))
        {
            foreach (var before in graph.WaysTo(act).SelectMany(w => w.Requires))
            {
                if (planned.Contains(before) && seen.Add(before))
                {
                    reasons[before] = act;
                    waiting.Enqueue(before);
                }
            }
        }

        return reasons;
    }

    private static List<Act> WhyOf(Act act, Dictionary<Act, Act> reasons)
    {
        var chain = new List<Act>();
        for (var at = act; reasons.TryGetValue(at, out var next); at = next)
        {
            chain.Add(next);
        }

        return chain;
    }

    private static Refusal? Unknown(ServiceMap map, Goal goal)
    {
        switch (goal)
        {
            case Goal.LiftOut { Part: var id } when map.Parts.All(p => p.Id != id || p.Fixed):
                return new Refusal(
                    RefusalReason.NotFound,
                    $"The {map.Model.Name} has no part \"{id}\" that comes out."
                );
            case Goal.Replace { Assembly: var id } when map.Assemblies.All(a => a.Id != id):
                return new Refusal(
                    RefusalReason.NotFound,
                    $"Nothing called \"{id}\" can be ordered for the {map.Model.Name}; "
                        + $"it has {string.Join(", ", map.Assemblies.Select(a => a.Name))}."
                );
            case Goal.Replace { Assembly: var id } when map.Parts.All(p => p.Id != map.Assembly(id).Part):
                return new Refusal(RefusalReason.NotFound, $"This unit has no {map.Assembly(id).Name} fitted.");
            default:
                return null;
        }
    }
}
