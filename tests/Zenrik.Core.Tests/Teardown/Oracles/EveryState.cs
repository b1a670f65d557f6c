using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.Tests.Teardown.Oracles;

/// <summary>
/// The least cost of a small job by working through every state the machine can be in: Dijkstra (1959), with the
/// simulator alone saying what can be done next. It knows no requirement, so it also finds those the graph has too many
/// or too few.
/// </summary>
/// <remarks>
/// Three rules are no physics and are asked of the problem: what is outside comes first, nothing but the way to isolation
/// is touched under power, and a card's leads come off while it is in its slot.
/// </remarks>
internal sealed class EveryState
{
    private readonly record struct State(ulong Out, Tool Hand, Tool Back, Side Up);

    private readonly TeardownProblem problem;
    private readonly ServiceMap map;
    private readonly List<Act> acts;
    private readonly Dictionary<ulong, (Simulation Machine, bool[] DeckUp, bool[] BaseUp)> states = [];
    private readonly ulong outside;
    private readonly ulong towards;
    private readonly ulong isolated;
    private readonly ulong unplugged;

    /// <summary>By act, the leads that come off first, each at either of its ends.</summary>
    private readonly ulong[][] leadsFirst;

    public EveryState(TeardownProblem problem)
    {
        this.problem = problem;
        map = problem.Graph.Map;
        acts = [.. problem.Acts];
        outside = Mask(acts.Where(problem.IsOutside));
        towards = Mask(problem.Graph.TowardsIsolation);
        var plugged = map.Part(map.Joint(map.Isolation).Plug);
        isolated = Mask([Act.Isolate(map.Isolation)]);
        unplugged = plugged.Outside ? Mask(TeardownGraph.Lifting(plugged)) : isolated;
        leadsFirst =
        [
            .. acts.Select(a =>
                a.Kind == ActKind.Open
                && map.Joint(a.Joint) is var slot
                && slot.Kind.IsSlot()
                && !map.Part(slot.Card(map)).Ways.Any(w => w.SetsAside)
                    ?
                    [
                        .. map
                            .Joints.Where(j => j.Between.Contains(slot.Card(map)) && !j.Kind.IsSlot())
                            .Select(j => Mask(Ends(j).Select(end => TeardownGraph.Opening(map, end)))),
                    ]
                    : Array.Empty<ulong>()
            ),
        ];
    }

    private IEnumerable<JointId> Ends(Joint joint) =>
        map.OtherEnd(joint.Id) is { } other ? [joint.Id, other.Id] : [joint.Id];

    /// <summary>The acts of the cheapest way, once asked for its cost; for reading a failure.</summary>
    public List<Act> Way { get; } = [];

    /// <summary>Milliseconds out and back; null when the goals cannot be met, or after so many states.</summary>
    public long? Cost(int mostStates = 60_000)
    {
        var machine = new Simulation(map);
        foreach (var preparation in map.Preparations)
        {
            machine.Do(Act.Prepare(preparation)).ShouldBeNull();
        }

        states[0] = Seen(machine);
        var goals = problem.Goals.Select(g => Mask(g.AnyOf)).ToArray();
        var open = new PriorityQueue<(State State, bool Ended), long>();
        var settled = new HashSet<State>();
        var costs = new Dictionary<State, long>();
        var cameFrom = new Dictionary<State, (State Before, Act Act)>();
        open.Enqueue((new State(0, Tool.Fingers, Tool.Fingers, Side.Deck), false), 0);
        while (open.TryDequeue(out var entry, out var cost) && settled.Count < mostStates)
        {
            var (state, ended) = entry;
            if (ended)
            {
                for (var at = state; cameFrom.TryGetValue(at, out var step); at = step.Before)
                {
                    Way.Insert(0, step.Act);
                }

                return cost;
            }

            if (!settled.Add(state))
            {
                continue;
            }

            if (Array.TrueForAll(goals, g => (g & state.Out) != 0))
            {
                var change = state.Back != Tool.Fingers && state.Back != state.Hand;
                open.Enqueue((state, true), cost + (change ? TeardownProblem.ToolChangeMs : 0));
            }

            foreach (var (next, step) in From(state))
            {
                open.Enqueue((next, false), cost + step);
                if (!settled.Contains(next) && (!costs.TryGetValue(next, out var before) || before > cost + step))
                {
                    costs[next] = cost + step;
                    cameFrom[next] = (
                        state,
                        acts[System.Numerics.BitOperations.TrailingZeroCount(next.Out & ~state.Out)]
                    );
                }
            }
        }

        return null;
    }

    private IEnumerable<(State, long)> From(State at)
    {
        var (_, deckUp, baseUp) = states[at.Out];
        for (var a = 0; a < acts.Count; a++)
        {
            if (!IsWanted(at.Out, a))
            {
                continue;
            }

            foreach (var (can, up) in new[] { (deckUp[a], Side.Deck), (baseUp[a], Side.Base) })
            {
                if (can)
                {
                    yield return After(at, a, up);
                }
            }
        }
    }

    private bool IsWanted(ulong done, int a)
    {
        var bit = 1UL << a;
        var isInside = (outside & bit) == 0;
        return (done & bit) == 0
            && (isInside || (done & ~outside) == 0)
            && (!isInside || (towards & bit) != 0 || ((done & isolated) != 0 && (done & unplugged) != 0))
            && Array.TrueForAll(leadsFirst[a], ends => (ends & done) != 0);
    }

    private (State, long) After(State at, int a, Side up)
    {
        var cost = problem.Milliseconds(acts[a]);
        var (hand, back) = (problem.ToolOut(acts[a]), problem.ToolBack(acts[a]));
        cost += hand != Tool.Fingers && hand != at.Hand ? TeardownProblem.ToolChangeMs : 0;
        cost += back != Tool.Fingers && at.Back != Tool.Fingers && back != at.Back ? TeardownProblem.ToolChangeMs : 0;
        cost += up != at.Up ? TeardownProblem.TurnOverMs : 0;
        var done = at.Out | (1UL << a);
        if (!states.ContainsKey(done))
        {
            var then = states[at.Out].Machine.Copy();
            if (!states[at.Out].DeckUp[a])
            {
                then.Do(Act.TurnOver).ShouldBeNull();
            }

            then.Do(acts[a]).ShouldBeNull();
            if (!states[at.Out].DeckUp[a])
            {
                then.Do(Act.TurnOver).ShouldBeNull();
            }

            states[done] = Seen(then);
        }

        return (
            new State(done, hand == Tool.Fingers ? at.Hand : hand, back == Tool.Fingers ? at.Back : back, up),
            cost
        );
    }

    /// <summary>What the machine allows now, deck up and base up.</summary>
    private (Simulation, bool[], bool[]) Seen(Simulation deckUp)
    {
        var baseUp = deckUp.Copy();
        baseUp.Do(Act.TurnOver).ShouldBeNull();
        return (
            deckUp,
            [.. acts.Select(a => deckUp.Copy().Do(a) is null)],
            [.. acts.Select(a => baseUp.Copy().Do(a) is null)]
        );
    }

    private ulong Mask(IEnumerable<Act> some) =>
        some.Select(a => acts.IndexOf(a)).Where(i => i >= 0).Aggregate(0UL, (m, i) => m | (1UL << i));
}
