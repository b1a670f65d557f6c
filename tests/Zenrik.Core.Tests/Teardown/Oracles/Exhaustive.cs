using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.Tests.Teardown.Oracles;

/// <summary>
/// The least cost of a small problem by looking at every state: Dijkstra (1959) over (acts done, tool in hand, tool the
/// way back needs, side up), one act at a time, knowing nothing of ways, modes or bounds.
/// </summary>
internal static class Exhaustive
{
    private readonly record struct State(long Done, Tool Hand, Tool Back, Side Up, bool Inside);

    public static long Cost(TeardownProblem problem)
    {
        var acts = problem.Acts.ToList();
        var index = acts.Index().ToDictionary(a => a.Item, a => a.Index);
        long Mask(Requirement r) => r.AnyOf.Where(index.ContainsKey).Aggregate(0L, (m, a) => m | (1L << index[a]));
        var needs = acts.Select(a => problem.RequirementsOf(a).Select(Mask).ToArray()).ToArray();
        var goals = problem.Goals.Select(Mask).ToArray();
        var inHandAfter = acts.Select(a => Mask(new Requirement(problem.InHandAfter(a)))).ToArray();
        var open = new PriorityQueue<(State State, bool Ended), long>();
        var settled = new HashSet<State>();
        open.Enqueue((new State(0, Tool.Fingers, Tool.Fingers, Side.Deck, false), false), 0);
        while (open.TryDequeue(out var entry, out var cost))
        {
            var (state, ended) = entry;
            if (ended)
            {
                return cost;
            }

            if (!settled.Add(state))
            {
                continue;
            }

            if (goals.All(g => (g & state.Done) != 0))
            {
                var change = state.Back != Tool.Fingers && state.Back != state.Hand;
                open.Enqueue((state, true), cost + (change ? TeardownProblem.ToolChangeMs : 0));
            }

            for (var a = 0; a < acts.Count; a++)
            {
                if ((state.Done >> a & 1) == 0 && needs[a].All(n => (n & state.Done) != 0))
                {
                    var (next, step) = Do(problem, state, acts[a], a, inHandAfter[a]);
                    if (step is { } ms)
                    {
                        open.Enqueue((next, false), cost + ms);
                    }
                }
            }
        }

        throw new InvalidOperationException("no solution");
    }

    private static (State, long?) Do(TeardownProblem problem, State at, Act act, int bit, long inHandAfter)
    {
        if (problem.IsOutside(act) && at.Inside)
        {
            return (at, null);
        }

        var cost = problem.Milliseconds(act);
        var (hand, back, up) = (problem.ToolOut(act), problem.ToolBack(act), problem.SideUp(act) ?? at.Up);
        up = (inHandAfter & at.Done) != 0 ? at.Up : up;
        cost += hand != Tool.Fingers && hand != at.Hand ? TeardownProblem.ToolChangeMs : 0;
        cost += back != Tool.Fingers && at.Back != Tool.Fingers && back != at.Back ? TeardownProblem.ToolChangeMs : 0;
        cost += up != at.Up ? TeardownProblem.TurnOverMs : 0;
        return (
            new State(
                at.Done | (1L << bit),
                hand == Tool.Fingers ? at.Hand : hand,
                back == Tool.Fingers ? at.Back : back,
                up,
                at.Inside || !problem.IsOutside(act)
            ),
            cost
        );
    }
}
