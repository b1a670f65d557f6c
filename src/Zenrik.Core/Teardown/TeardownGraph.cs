using System.Runtime.CompilerServices;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Teardown;

/// <summary>What an act waits for: any one of some acts. Several in a row of requirements must all be met.</summary>
public sealed record Requirement(IReadOnlyList<Act> AnyOf);

/// <summary>
/// What must be done before what, computed from a map: an AND/OR graph whose nodes are acts. An act waits for all of its
/// <see cref="Requirement"/>s, each of which is met by any one of its acts.
/// </summary>
/// <remarks>
/// The physics: removing a part moves everything still mounted on it, so every screw, joint and tie between what moves
/// and what stays must be undone first, unless it was kept when one end was set aside. A cover is out of the way when
/// it, or something it rides on, has left. The safety rule: nothing inside is touched before isolation, save what has to
/// be to get there.
/// </remarks>
public sealed class TeardownGraph
{
    private static readonly ConditionalWeakTable<ServiceMap, TeardownGraph> Kept = [];

    private readonly Dictionary<Act, IReadOnlyList<Requirement>> requirements;
    private readonly Lazy<ChoiceNetwork> network;

    private TeardownGraph(
        ServiceMap map,
        Dictionary<Act, IReadOnlyList<Requirement>> requirements,
        IReadOnlySet<Act> towardsIsolation
    )
    {
        Map = map;
        this.requirements = requirements;
        TowardsIsolation = towardsIsolation;
        network = new Lazy<ChoiceNetwork>(() => new ChoiceNetwork(requirements));
    }

    public ServiceMap Map { get; }

    /// <summary>Every act that takes something apart, in the order of the map.</summary>
    public IReadOnlyCollection<Act> Acts => requirements.Keys;

    /// <summary>Acts done to reach the isolation joint, and isolation itself: all that is touched under power.</summary>
    public IReadOnlySet<Act> TowardsIsolation { get; }

    /// <summary>The graph by index, for the search.</summary>
    internal ChoiceNetwork Network => network.Value;

    /// <summary>What an act waits for; empty for an act this map does not have.</summary>
    public IReadOnlyList<Requirement> RequirementsOf(Act act) => requirements.GetValueOrDefault(act) ?? [];

    /// <summary>The acts that lift a part out, one a way.</summary>
    public static IReadOnlyList<Act> Lifting(Part part) =>
        part.Ways.All(w => w.SetsAside)
            ? [Act.LiftOut(part.Id)]
            : [.. part.Ways.Where(w => !w.SetsAside).Select(w => Act.Remove(part.Id, w))];

    /// <summary>The acts that take a part out of the way: lifted out, or set aside on its leads.</summary>
    public static IReadOnlyList<Act> Removing(Part part) =>
        [.. Lifting(part), .. part.Ways.Where(w => w.SetsAside).Select(w => Act.Remove(part.Id, w))];

    /// <summary>The act that opens a joint: isolation for the isolation joint.</summary>
    public static Act Opening(ServiceMap map, JointId joint) =>
        joint == map.Isolation ? Act.Isolate(joint) : Act.Open(joint);

    /// <summary>True for an act on something outside: done before the machine is opened.</summary>
    public static bool IsOutside(ServiceMap map, Act act) =>
        act.Kind switch
        {
            ActKind.LiftOut or ActKind.SetAside or ActKind.PutIn or ActKind.PutBack => map.Part(act.Part).Outside,
            ActKind.Undo or ActKind.Fasten => map.Part(map.Fastener(act.Fastener).Holds).Outside,
            ActKind.Open or ActKind.Isolate or ActKind.Close or ActKind.Reconnect => map.Joint(act.Joint)
                .Between.Any(p => map.Part(p).Outside),
            ActKind.Free or ActKind.Lay => map.Part(map.Tie(act.Tie).Of).Outside,
            _ => false,
        };

    /// <summary>Derives the graph of a map whose ids resolve. Kept as long as the map is: both never change.</summary>
    public static TeardownGraph Of(ServiceMap map) => Kept.GetValue(map, static m => Derive(m));

    private static TeardownGraph Derive(ServiceMap map)
    {
        var physics = Physics(map, Covers.OrWhatCarriesThem);
        var isolate = Act.Isolate(map.Isolation);
        var towards = QuickestWayTo(map, isolate);
        var plugged = map.Part(map.Joint(map.Isolation).Plug);
        // An external battery is taken off altogether, not just slid off its contacts.
        Requirement[] isolated =
        [
            new([isolate]),
            .. plugged.Outside ? [new Requirement(Lifting(plugged))] : Array.Empty<Requirement>(),
        ];
        return new TeardownGraph(
            map,
            physics.ToDictionary(
                p => p.Key,
                IReadOnlyList<Requirement> (p) =>
                    towards.Contains(p.Key) || IsOutside(map, p.Key) ? p.Value : [.. isolated, .. p.Value]
            ),
            towards
        );
    }

    /// <summary>
    /// Acts on things outside that cannot be done with the machine closed, each with the requirement that stops it: what is
    /// outside is done before anything inside.
    /// </summary>
    public IReadOnlyList<(Act Act, Requirement Inside)> OutsideThatWaitsForInside()
    {
        var outside = Acts.Where(a => IsOutside(Map, a)).ToList();
        var possible = Possible(outside);
        return
        [
            .. outside
                .Where(a => !possible.Contains(a))
                .Select(a => (a, RequirementsOf(a).Where(r => !r.AnyOf.Any(possible.Contains)).Select(Inside)))
                .SelectMany(x => x.Item2.Where(r => r.AnyOf.Count > 0).Take(1).Select(r => (x.a, r))),
        ];
    }

    private Requirement Inside(Requirement requirement) =>
        new([.. requirement.AnyOf.Where(a => requirements.ContainsKey(a) && !IsOutside(Map, a))]);

    /// <summary>What of some acts can be done, sooner or later, without any other.</summary>
    private HashSet<Act> Possible(IEnumerable<Act> among)
    {
        var possible = new HashSet<Act>();
        for (var grown = true; grown; )
        {
            grown = false;
            foreach (var act in among.Where(a => !possible.Contains(a)))
            {
                if (RequirementsOf(act).All(r => r.AnyOf.Any(possible.Contains)))
                {
                    grown |= possible.Add(act);
                }
            }
        }

        return possible;
    }

    /// <summary>Acts nothing can make possible, each with the requirement that stops it; empty for a workable map.</summary>
    public IReadOnlyList<(Act Act, Requirement Never)> Impossible()
    {
        var possible = Possible(Acts);
        return
        [
            .. Acts.Where(a => !possible.Contains(a))
                .Select(a => (a, RequirementsOf(a).First(r => !r.AnyOf.Any(possible.Contains)))),
        ];
    }

    /// <summary>
    /// Acts that wait for each other: of every knot the shortest circle, begun at its first part in the order of the
    /// map; empty for a workable map.
    /// </summary>
    public IReadOnlyList<IReadOnlyList<Act>> Circles()
    {
        var stuck = Impossible().Select(i => i.Act).ToHashSet();
        // What the map does not have, lifting out a fixed part, is no way out of a circle.
        var waitsFor = stuck.ToDictionary(
            a => a,
            a =>
                RequirementsOf(a)
                    .Select(r => r.AnyOf.Where(requirements.ContainsKey))
                    .Where(anyOf => anyOf.All(stuck.Contains))
                    .SelectMany(anyOf => anyOf)
                    .ToList()
        );
        var circles = new List<IReadOnlyList<Act>>();
        var knotted = new HashSet<Act>();
        foreach (var act in Acts.Where(a => stuck.Contains(a) && !knotted.Contains(a)))
        {
            if (ShortestCircle(act, waitsFor) is { } circle)
            {
                circles.Add(circle);
                knotted.UnionWith(circle);
                knotted.UnionWith(Waiting(act, waitsFor).Where(a => Waiting(a, waitsFor).Contains(act)));
            }
        }

        return circles;
    }

    private List<Act>? ShortestCircle(Act start, Dictionary<Act, List<Act>> waitsFor)
    {
        var cameFrom = new Dictionary<Act, Act>();
        var waiting = new Queue<Act>([start]);
        while (waiting.TryDequeue(out var act))
        {
            foreach (var needed in waitsFor[act])
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

    private static HashSet<Act> Waiting(Act from, Dictionary<Act, List<Act>> waitsFor)
    {
        var found = new HashSet<Act>();
        var waiting = new Stack<Act>([from]);
        while (waiting.TryPop(out var act))
        {
            foreach (var needed in waitsFor[act].Where(found.Add))
            {
                waiting.Push(needed);
            }
        }

        return found;
    }

    /// <summary>How covers are taken out of the way.</summary>
    private enum Covers
    {
        /// <summary>Each by itself, set aside where it can be.</summary>
        AsideBeforeOff,

        /// <summary>Each by itself, in any of its ways.</summary>
        EachByItself,

        /// <summary>In any of their ways, or with what carries them or what they cover.</summary>
        OrWhatCarriesThem,
    }

    private static Dictionary<Act, IReadOnlyList<Requirement>> Physics(ServiceMap map, Covers covers)
    {
        var parts = map.Parts.ToDictionary(p => p.Id);
        var graph = new Dictionary<Act, IReadOnlyList<Requirement>>();
        foreach (var f in map.Fasteners)
        {
            graph[Act.Undo(f.Id)] = Uncovered(f.Under, f.Holds);
        }

        foreach (var j in map.Joints)
        {
            graph[Opening(map, j.Id)] =
            [
                .. Uncovered(j.Under, j.Socket, canLeaveWithIt: true),
                .. BeforeTheSlot(map, j),
            ];
        }

        foreach (var t in map.Ties)
        {
            graph[Act.Free(t.Id)] = Uncovered(t.Under, t.On, canLeaveWithIt: true);
        }

        foreach (var p in map.Parts.Where(p => !p.Fixed))
        {
            var moving = map.MovingWith(p.Id);
            bool Leaves(PartId a, PartId b) => moving.Contains(a) != moving.Contains(b);
            List<Requirement> always =
            [
                .. map.Fasteners.Where(f => Leaves(f.Holds, f.Into)).Select(f => Only(Act.Undo(f.Id))),
                .. map.Ties.Where(t => Leaves(t.Of, t.On)).Select(t => Only(Act.Free(t.Id))),
                .. Uncovered(
                    [
                        .. map
                            .Parts.Where(m => moving.Contains(m.Id))
                            .SelectMany(m => m.BlockedBy)
                            .Where(b => !moving.Contains(b))
                            .Distinct(),
                    ],
                    p.Id,
                    moving: moving
                ),
            ];
            var joints = map.Joints.Where(j => Leaves(j.Plug, j.Socket)).ToList();
            // Once it lies aside, only the joints that keep it are still in the way of lifting it out.
            Act[] aside = [.. p.Ways.Where(w => w.SetsAside).Select(w => Act.Remove(p.Id, w))];
            foreach (var act in Removing(p))
            {
                var way = p.Ways.FirstOrDefault(w => w.Id == act.Way);
                IEnumerable<Requirement> inPlace = [.. always, .. Uncovered(way?.Clears ?? [], p.Id, moving: moving)];
                graph[act] =
                [
                    .. joints.Where(j => way?.Keeps.Contains(j.Id) != true).SelectMany(j => Parted(j, p.Id)),
                    .. act.Kind == ActKind.LiftOut
                        ? inPlace.Select(r => new Requirement([.. r.AnyOf, .. aside]))
                        : inPlace,
                ];
            }
        }

        // A wait for a part is among the covers already.
        foreach (var wait in map.Waits.Where(w => !w.IsCover))
        {
            foreach (var act in graph.Keys.Where(a => IsOrAside(a, wait.Waiting)).ToList())
            {
                graph[act] = [.. graph[act], new Requirement([.. wait.AnyOf])];
            }
        }

        foreach (var act in graph.Keys.Where(a => IsOutside(map, a)).ToList())
        {
            graph[act] = [.. graph[act].Select(BeforeAnythingInside)];
        }

        return graph;

        // What is outside comes first, so nothing inside can have met what it waits for.
        Requirement BeforeAnythingInside(Requirement requirement)
        {
            Act[] outside = [.. requirement.AnyOf.Where(a => graph.ContainsKey(a) && IsOutside(map, a))];
            return outside.Length == 0 ? requirement : new Requirement(outside);
        }

        static Requirement Only(Act act) => new([act]);

        // Whichever way a part leaves its place.
        static bool IsOrAside(Act act, Act waiting) =>
            act == waiting
            || (
                act.Target == waiting.Target
                && waiting.Kind == ActKind.LiftOut
                && act.Kind is ActKind.LiftOut or ActKind.SetAside
            );

        // Aside it may lie on the very thing that is to be reached.
        IReadOnlyList<Act> OutOfTheWay(Part part, IReadOnlySet<PartId> reached)
        {
            var aside = part
                .Ways.Where(w => w.SetsAside && !w.Over.Any(reached.Contains))
                .Select(w => Act.Remove(part.Id, w));
            return covers == Covers.AsideBeforeOff && aside.Any() ? [.. aside] : [.. Lifting(part), .. aside];
        }

        // Each cover is gone, or what it rides on is, or what it covers has left on a carrier of its own. A joint or tie
        // within a group may also leave with the very part it is on; a screw cannot, since it holds that part.
        List<Requirement> Uncovered(
            IReadOnlyList<PartId> under,
            PartId at,
            bool canLeaveWithIt = false,
            IReadOnlySet<PartId>? moving = null
        )
        {
            var reached = moving ?? new HashSet<PartId> { at };
            var below = map.WithCarriers(at).ToList();
            return
            [
                .. under.Select(cover =>
                {
                    var above = map.WithCarriers(cover).ToList();
                    var apart = above.Except(below).Concat(below.Skip(canLeaveWithIt ? 0 : 1).Except(above));
                    return new Requirement([
                        .. (covers == Covers.OrWhatCarriesThem ? apart.Prepend(cover).Distinct() : [cover])
                            .Where(c => c == cover || !parts[c].Fixed)
                            .SelectMany(c => OutOfTheWay(parts[c], reached)),
                    ]);
                }),
            ];
        }

        // Open at this end or the other, or kept by something that was set aside on it before its carrier leaves and that
        // stays behind then: what it keeps to what leaves must be open. An OR of ANDs, multiplied out.
        IEnumerable<Requirement> Parted(Joint joint, PartId leaving)
        {
            var moving = map.MovingWith(leaving);
            IEnumerable<Act[]> ways =
            [
                .. Parting(map, joint).Select(a => new[] { a }),
                .. joint
                    .Between.Where(moving.Contains)
                    .SelectMany(map.WithCarriers)
                    .Where(c => c != leaving && moving.Contains(c))
                    .SelectMany(c =>
                        parts[c].Ways.Where(w => w.Keeps.Contains(joint.Id)).Select(w => StaysBehind(c, w))
                    ),
            ];
            IEnumerable<IEnumerable<Act>> none =
            [
                [],
            ];
            return ways.Aggregate(none, (rows, way) => rows.SelectMany(row => way.Select(act => row.Append(act))))
                .Select(row => new Requirement([.. row.Distinct()]));

            Act[] StaysBehind(PartId rider, PartWay way)
            {
                var group = map.MovingWith(rider);
                return
                [
                    Act.Remove(rider, way),
                    .. way
                        .Keeps.Select(map.Joint)
                        .Where(j =>
                            j.Between.Any(group.Contains)
                            && j.Between.Any(e => moving.Contains(e) && !group.Contains(e))
                        )
                        .Select(j => Opening(map, j.Id)),
                ];
            }
        }
    }

    /// <summary>
    /// A card leaves its slot last: its screws hold it down (physics), and its leads are easier to open while it lies
    /// flat (common practice, no published source), unless it may be set aside on them.
    /// </summary>
    private static IEnumerable<Requirement> BeforeTheSlot(ServiceMap map, Joint slot)
    {
        if (slot.Kind == JointKind.SlideContacts)
        {
            return HeldOn(map, slot).Select(a => new Requirement([a]));
        }

        if (!slot.Kind.IsSlot())
        {
            return [];
        }

        var card = slot.Card(map);
        var screws = map.Fasteners.Where(f => f.Holds == card).Select(f => new Requirement([Act.Undo(f.Id)]));
        var leads = map.Part(card).Ways.Any(w => w.SetsAside)
            ? []
            : map.Joints.Where(j => j.Between.Contains(card) && !j.Kind.IsSlot());
        return screws.Concat(leads.Select(j => new Requirement([.. Parting(map, j)])));
    }

    /// <summary>The acts that part what a joint connects: it is opened, or the other end of its lead.</summary>
    private static IEnumerable<Act> Parting(ServiceMap map, Joint joint)
    {
        yield return Opening(map, joint.Id);
        if (map.OtherEnd(joint.Id) is { } other)
        {
            yield return Opening(map, other.Id);
        }
    }

    /// <summary>Contacts slide apart only with the whole part, so what holds that goes first.</summary>
    private static IEnumerable<Act> HeldOn(ServiceMap map, Joint contacts)
    {
        var sliding = contacts.Plug;
        while (map.Part(sliding).MountedOn is { } carrier && !map.MovingWith(carrier).Contains(contacts.Socket))
        {
            sliding = carrier;
        }

        var moving = map.MovingWith(sliding);
        return map
            .Fasteners.Where(f => moving.Contains(f.Holds) != moving.Contains(f.Into))
            .Select(f => Act.Undo(f.Id))
            .Concat(map.Ties.Where(t => moving.Contains(t.Of) && !moving.Contains(t.On)).Select(t => Act.Free(t.Id)));
    }

    /// <summary>
    /// The acts of the quickest way to isolation, every cover taken off by itself, set aside where it can be so that its
    /// leads stay closed under power; only where that leads nowhere, in any of its ways. Fixed for a model, whatever the
    /// goal: what is touched under power is always the same and as little as can be. Isolation alone where only lifting
    /// what carries the covers would lead there: then nothing can begin, and the map is refused for that. Every act where
    /// nothing leads there at all, so that what is found is the knot itself.
    /// </summary>
    private static HashSet<Act> QuickestWayTo(ServiceMap map, Act isolate)
    {
        foreach (var covers in Enum.GetValues<Covers>())
        {
            var network = new ChoiceNetwork(Physics(map, covers));
            long[] cost = [.. network.Acts.Select(a => HandlingTime.Of(map, a, ActTimes.Standard))];
            if (new WaySearch(network, cost).Cheapest([new Requirement([isolate])]) is { } way)
            {
                return covers == Covers.OrWhatCarriesThem ? [isolate] : [.. way.Select(i => network.Acts[i])];
            }
        }

        return [.. Physics(map, Covers.OrWhatCarriesThem).Keys];
    }
}
