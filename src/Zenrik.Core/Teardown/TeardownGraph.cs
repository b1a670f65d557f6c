using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Teardown;

/// <summary>One set of acts that together make another act possible.</summary>
public sealed record Way(IReadOnlyList<Act> Requires);

/// <summary>
/// What must be done before what, computed from a map: an AND/OR graph whose nodes are acts and whose choices are
/// <see cref="Way"/>s. A map of today's format yields one way an act.
/// </summary>
/// <remarks>
/// The physics: lifting a part moves everything still mounted on it, so every screw, joint and tie between the moving
/// group and the rest must be undone first, whichever member it belongs to. The safety rule: nothing inside is touched
/// before isolation, save what has to be to get there.
/// </remarks>
public sealed class TeardownGraph
{
    private readonly Dictionary<Act, IReadOnlyList<Way>> ways;

    private TeardownGraph(ServiceMap map, Dictionary<Act, IReadOnlyList<Way>> ways, HashSet<Act> towardsIsolation)
    {
        Map = map;
        this.ways = ways;
        TowardsIsolation = towardsIsolation;
    }

    public ServiceMap Map { get; }

    /// <summary>Every act that takes something apart, in the order of the map.</summary>
    public IEnumerable<Act> Acts => ways.Keys;

    /// <summary>Acts that have to be done to reach the isolation joint, and isolation itself.</summary>
    public IReadOnlySet<Act> TowardsIsolation { get; }

    /// <summary>The ways to make an act possible; empty for an act this map does not have.</summary>
    public IReadOnlyList<Way> WaysTo(Act act) => ways.GetValueOrDefault(act) ?? [];

    /// <summary>The act that opens a joint: isolation for the isolation joint.</summary>
    public static Act Opening(ServiceMap map, JointId joint) =>
        joint == map.Isolation ? Act.Isolate(joint) : Act.Open(joint);

    /// <summary>Derives the graph of a map whose ids resolve.</summary>
    public static TeardownGraph Of(ServiceMap map)
    {
        var requires = new Dictionary<Act, List<Act>>();
        foreach (var f in map.Fasteners)
        {
            requires[Act.Undo(f.Id)] = Lifted(f.Under);
        }

        foreach (var j in map.Joints)
        {
            requires[Opening(map, j.Id)] = [.. Lifted(j.Under), .. BeforeTheSlot(map, j)];
        }

        foreach (var t in map.Ties)
        {
            requires[Act.Free(t.Id)] = Lifted(t.Under);
        }

        foreach (var p in map.Parts.Where(p => !p.Fixed))
        {
            var moving = map.MovingWith(p.Id);
            bool Leaves(PartId a, PartId b) => moving.Contains(a) != moving.Contains(b);
            requires[Act.LiftOut(p.Id)] =
            [
                .. map.Fasteners.Where(f => Leaves(f.Holds, f.Into)).Select(f => Act.Undo(f.Id)),
                .. map.Joints.Where(j => Leaves(j.Between[0], j.Between[1])).Select(j => Opening(map, j.Id)),
                .. map.Ties.Where(t => Leaves(t.Of, t.On)).Select(t => Act.Free(t.Id)),
                .. map
                    .Parts.Where(m => moving.Contains(m.Id))
                    .SelectMany(m => m.BlockedBy)
                    .Where(b => !moving.Contains(b))
                    .Distinct()
                    .Select(Act.LiftOut),
            ];
        }

        var isolate = Act.Isolate(map.Isolation);
        var towards = Ancestors(isolate, requires);
        towards.Add(isolate);
        var outside = map.Parts.Where(p => p.Outside).Select(p => p.Id).ToHashSet();
        foreach (var (act, needed) in requires)
        {
            if (!towards.Contains(act) && !IsOutside(act))
            {
                needed.Insert(0, isolate);
            }
        }

        return new TeardownGraph(
            map,
            requires.ToDictionary(r => r.Key, IReadOnlyList<Way> (r) => [new Way([.. r.Value.Distinct()])]),
            towards
        );

        List<Act> Lifted(IReadOnlyList<PartId> covers) => [.. covers.Select(Act.LiftOut)];

        bool IsOutside(Act act) =>
            act.Kind switch
            {
                ActKind.LiftOut => outside.Contains(act.Part),
                ActKind.Undo => outside.Contains(map.Fastener(act.Fastener).Holds),
                _ => false,
            };
    }

    /// <summary>
    /// A card leaves its slot last: its screws hold it down (physics), and its other leads are easier to open while it
    /// lies flat (common practice, no published source).
    /// </summary>
    private static IEnumerable<Act> BeforeTheSlot(ServiceMap map, Joint slot)
    {
        if (!slot.Kind.IsSlot())
        {
            return [];
        }

        var card = slot.Card(map);
        return map
            .Fasteners.Where(f => f.Holds == card)
            .Select(f => Act.Undo(f.Id))
            .Concat(
                map.Joints.Where(j => j.Between.Contains(card) && !j.Kind.IsSlot()).Select(j => Opening(map, j.Id))
            );
    }

    /// <summary>
    /// Acts that wait for each other: of every knot the shortest circle, begun at its first part in the order of the
    /// map; empty for a workable map.
    /// </summary>
    public IReadOnlyList<IReadOnlyList<Act>> Circles()
    {
        var circles = new List<IReadOnlyList<Act>>();
        var knotted = new HashSet<Act>();
        foreach (var act in Acts.Where(a => !knotted.Contains(a)))
        {
            if (ShortestCircle(act) is { } circle)
            {
                circles.Add(circle);
                var reachable = Reachable(act);
                knotted.UnionWith(reachable.Where(a => Reachable(a).Contains(act)));
            }
        }

        return circles;
    }

    private List<Act>? ShortestCircle(Act start)
    {
        var cameFrom = new Dictionary<Act, Act>();
        var waiting = new Queue<Act>([start]);
        while (waiting.TryDequeue(out var act))
        {
            foreach (var needed in WaysTo(act).SelectMany(w => w.Requires))
            {
                if (needed == start)
                {
                    var circle = new List<Act> { act };
                    while (act != start)
                    {
                        act = cameFrom[act];
                        circle.Add(act);
                    }

                    circle.Reverse();
                    return BegunAtFirstPart(circle);
                }

                if (cameFrom.TryAdd(needed, act))
                {
                    waiting.Enqueue(needed);
                }
            }
        }

        return null;
    }

    private List<Act> BegunAtFirstPart(List<Act> circle)
    {
        var first = Acts.FirstOrDefault(a => a.Kind == ActKind.LiftOut && circle.Contains(a), circle[0]);
        var at = circle.IndexOf(first);
        return [.. circle[at..], .. circle[..at], first];
    }

    private HashSet<Act> Reachable(Act from) =>
        Ancestors(from, ways.ToDictionary(w => w.Key, w => w.Value.SelectMany(way => way.Requires).ToList()));

    private static HashSet<Act> Ancestors(Act of, Dictionary<Act, List<Act>> requires)
    {
        var found = new HashSet<Act>();
        var waiting = new Stack<Act>([of]);
        while (waiting.TryPop(out var act))
        {
            foreach (var needed in requires.GetValueOrDefault(act) ?? [])
            {
                if (found.Add(needed))
                {
                    waiting.Push(needed);
                }
            }
        }

        return found;
    }
}
