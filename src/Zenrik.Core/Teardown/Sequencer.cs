using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Teardown;

/// <summary>
/// Puts the acts of a plan in order: what must come first comes first, isolation before everything it may precede, as
/// few turn-overs and tool changes as a greedy choice finds, what is begun finished, the nearest act next.
/// </summary>
/// <remarks>
/// Doing everything available with the tool in hand before changing it is never worse: acts only ever make other acts
/// possible, so whatever was possible before stays possible after. The one choice is which tool comes next; it falls
/// on the tool with the most acts waiting.
/// </remarks>
internal static class Sequencer
{
    public static IReadOnlyList<Act> Order(TeardownGraph graph, HashSet<Act> needed)
    {
        var map = graph.Map;
        var requires = needed.ToDictionary(
            act => act,
            act => graph.WaysTo(act).SelectMany(w => w.Requires).Where(needed.Contains).ToHashSet()
        );
        TakeRidersOffFirst(map, requires);

        var waiting = graph.Acts.Where(needed.Contains).ToList();
        var done = new HashSet<Act>();
        var order = new List<Act>();
        var hand = Tool.Fingers;
        var up = Side.Deck;
        var at = new Point(map.Drawing.WidthMm / 2, map.Drawing.HeightMm);
        while (waiting.Count > 0)
        {
            var ready = waiting.Where(a => requires[a].IsSubsetOf(done)).ToList();
            if (ready.Count == 0)
            {
                throw new InvalidOperationException(
                    "The acts wait for each other in a circle; the map should not have passed its checks."
                );
            }

            var rank = ready.Min(a => Rank(graph, a));
            ready = [.. ready.Where(a => Rank(graph, a) == rank)];
            if (!ready.Exists(a => Fits(a, up)))
            {
                up = up == Side.Base ? Side.Deck : Side.Base;
                order.Add(Act.TurnOver);
            }

            var candidates = ready.Where(a => Fits(a, up)).ToList();
            var inHand = candidates
                .Where(a => TeardownPlanner.ToolFor(map, a) is var t && (t == hand || t == Tool.Fingers))
                .ToList();
            if (inHand.Count == 0)
            {
                hand = candidates
                    .GroupBy(a => TeardownPlanner.ToolFor(map, a))
                    .OrderByDescending(g => g.Count())
                    .ThenBy(g => g.Key)
                    .First()
                    .Key;
                inHand = [.. candidates.Where(a => TeardownPlanner.ToolFor(map, a) == hand)];
            }

            var (here, last) = (at, order.LastOrDefault());
            var next = inHand
                .OrderBy(a => Kinship(requires, last, a))
                .ThenBy(a => Places(map, a).Select(here.DistanceTo).DefaultIfEmpty(0).Min())
                .First();
            at = Places(map, next).OrderBy(here.DistanceTo).Append(here).First();
            order.Add(next);
            done.Add(next);
            waiting.Remove(next);
        }

        return order;

        bool Fits(Act act, Side side) => SideOf(map, act) is not { } wanted || wanted == side;
    }

    /// <summary>The side that must face up for an act; null when it can be done either way.</summary>
    internal static Side? SideOf(ServiceMap map, Act act)
    {
        switch (act.Kind)
        {
            case ActKind.LiftOut or ActKind.PutIn:
                var part = map.Part(act.Part);
                return part.Outside ? null : part.Side;
            case ActKind.Undo or ActKind.Fasten:
                var f = map.Fastener(act.Fastener);
                return map.Part(f.Holds).Outside ? null : f.Side;
            case ActKind.Open or ActKind.Close or ActKind.Isolate or ActKind.Reconnect:
                return map.Joint(act.Joint).Side;
            case ActKind.Free or ActKind.Lay:
                return map.Tie(act.Tie).Side;
            default:
                return null;
        }
    }

    /// <summary>
    /// A part that moves to a new carrier comes off the old one while that is still held in the machine, unless it can
    /// only be freed once the carrier is out.
    /// </summary>
    private static void TakeRidersOffFirst(ServiceMap map, Dictionary<Act, HashSet<Act>> requires)
    {
        foreach (var p in map.Parts)
        {
            if (p.MountedOn is { } carrier && requires.ContainsKey(Act.LiftOut(p.Id)))
            {
                var (off, lift) = (Act.LiftOut(p.Id), Act.LiftOut(carrier));
                if (requires.TryGetValue(lift, out var before) && !Needs(off, lift))
                {
                    before.Add(off);
                }
            }
        }

        bool Needs(Act act, Act other) =>
            requires[act].Contains(other) || requires[act].Any(a => requires.ContainsKey(a) && Needs(a, other));
    }

    /// <summary>
    /// How closely an act belongs with the one before it: the size of the smallest job that needs both. A frame's two
    /// screw groups belong together; two things a whole board waits for hardly do.
    /// </summary>
    private static int Kinship(Dictionary<Act, HashSet<Act>> requires, Act last, Act act) =>
        requires[act].Contains(last)
            ? 0
            : requires
                .Values.Where(needs => needs.Contains(last) && needs.Contains(act))
                .Select(needs => needs.Count)
                .DefaultIfEmpty(int.MaxValue)
                .Min();

    /// <summary>From outside first, then straight to isolation, then the rest.</summary>
    private static int Rank(TeardownGraph graph, Act act) =>
        SideOf(graph.Map, act) is null ? 0
        : graph.TowardsIsolation.Contains(act) ? 1
        : 2;

    private static IEnumerable<Point> Places(ServiceMap map, Act act) =>
        act.Kind switch
        {
            ActKind.Undo => map.Fastener(act.Fastener).Positions,
            ActKind.Open or ActKind.Isolate => [map.Joint(act.Joint).At],
            ActKind.Free => [map.Tie(act.Tie).At],
            ActKind.LiftOut when map.Part(act.Part).Shape is { } shape => [shape.Bounds.Centre],
            _ => [],
        };
}
