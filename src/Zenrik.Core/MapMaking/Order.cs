using Zenrik.Core.Teardown;

namespace Zenrik.Core.MapMaking;

/// <summary>
/// What sessions show of the order in which things come off: an act may have to wait for whatever was off in every session
/// that did it, and for nothing else, since it was possible with just that.
/// </summary>
/// <remarks>
/// Such waits never run in a circle: a session that did an act did all it waits for before, and what that waits for before
/// that. What lay over a thing may in some sessions have left on something else, if a person says that it rides on that;
/// then either of both is enough (<see cref="EitherFor"/>).
/// </remarks>
internal sealed class Order
{
    private readonly Dictionary<Act, HashSet<Act>> waits = [];
    private readonly Dictionary<Act, HashSet<Act>> goneInAll = [];
    private readonly Dictionary<Act, HashSet<Act>> goneInSome = [];
    private readonly Dictionary<Act, List<HashSet<Act>>> before = [];
    private readonly HashSet<(Act What, Act After)> denied = [];
    private readonly Dictionary<Act, List<Guid>> seenBy = [];
    private readonly Func<Act, IEnumerable<Act>> leaveOn;

    /// <param name="sightings">What sessions showed.</param>
    /// <param name="statements">What was said besides.</param>
    /// <param name="leaveOn">The acts by which a part leaves on what it rides on.</param>
    /// <param name="mayWait">False where an act cannot have to wait for another by the nature of both.</param>
    /// <param name="own">What holds and joins a part that is lifted: what is not in the way of it is not in their way either.</param>
    public Order(
        IReadOnlyList<Sighting> sightings,
        IReadOnlyList<Statement> statements,
        Func<Act, IEnumerable<Act>> leaveOn,
        Func<Act, Act, bool> mayWait,
        Func<Act, IEnumerable<Act>> own
    )
    {
        this.leaveOn = leaveOn;
        var lifts = sightings
            .SelectMany(s => s.Moments())
            .Select(m => m.Act)
            .Where(a => a.Kind == ActKind.LiftOut)
            .ToHashSet();
        foreach (var sighting in sightings)
        {
            foreach (var (act, off) in sighting.Moments())
            {
                var earlier = off.Where(a => a != act && mayWait(act, a)).ToHashSet();
                var gone = earlier
                    .Concat(lifts.Where(l => l != act && mayWait(act, l) && leaveOn(l).Any(off.Contains)))
                    .ToHashSet();
                if (!waits.TryGetValue(act, out var all))
                {
                    (waits[act], goneInAll[act], goneInSome[act]) = ([.. earlier], gone, [.. earlier]);
                    (before[act], seenBy[act]) = ([earlier], []);
                    continue;
                }

                before[act].Add(earlier);
                all.IntersectWith(earlier);
                goneInAll[act].IntersectWith(gone);
                goneInSome[act].UnionWith(earlier);
            }

            foreach (var act in sighting.Moments().Select(m => m.Act).Distinct())
            {
                if (sighting.By != CopiedMap.Nobody)
                {
                    seenBy[act].Add(sighting.By);
                }
            }
        }

        Hear(statements, own);
    }

    /// <summary>Every act that was seen.</summary>
    public IReadOnlyCollection<Act> Acts => waits.Keys;

    /// <summary>All that was off whenever an act was done.</summary>
    public IReadOnlySet<Act> WaitsOf(Act act) => waits.TryGetValue(act, out var found) ? found : new HashSet<Act>();

    /// <summary>Sessions that did an act, and people who worked them.</summary>
    public (int Sessions, int People) Seen(Act act) =>
        seenBy.TryGetValue(act, out var by) ? (by.Count, by.Distinct().Count()) : (0, 0);

    /// <summary>The parts an act waits for, without those that follow from the others.</summary>
    public IReadOnlyList<Act> PartsFor(Act act) =>
        [.. Lifts(act).Where(a => !Lifts(act).Any(other => other != a && LeadsTo(other, a)))];

    /// <summary>The screws, joints and ties an act waits for besides what is known of it, where that does not follow from the parts it waits for.</summary>
    /// <param name="act">The act.</param>
    /// <param name="own">What holds and joins the part it lifts.</param>
    public IReadOnlyList<Act> OthersFor(Act act, IReadOnlySet<Act> own) =>
        [
            .. WaitsOf(act)
                .Where(a => a.Kind is not (ActKind.LiftOut or ActKind.Isolate) && !own.Contains(a))
                .Where(a => !Lifts(act).Any(other => WaitsOf(other).Contains(a))),
        ];

    /// <summary>Parts that were out of an act's way in every session, taken out in some and gone on something else in others.</summary>
    public IEnumerable<(Act Part, IReadOnlyList<Act> Or)> EitherFor(Act act) =>
        goneInAll.TryGetValue(act, out var gone)
            ? gone.Where(a => !waits[act].Contains(a) && goneInSome[act].Contains(a))
                .OrderBy(a => a.Target, StringComparer.Ordinal)
                .Select(a => (a, (IReadOnlyList<Act>)[.. leaveOn(a).Where(waits.ContainsKey)]))
            : [];

    /// <summary>
    /// Pairs of some acts of which one or the other came first whenever an act was done, none of them always: a loose lead
    /// that was opened at this end by one and at that by another.
    /// </summary>
    public IEnumerable<(Act One, Act Other)> OneOrOther(Act act, IReadOnlyList<Act> among)
    {
        if (!before.TryGetValue(act, out var times))
        {
            return [];
        }

        List<Act> some = [.. among.Where(a => !waits[act].Contains(a) && !denied.Contains((act, a)))];
        return some.SelectMany((a, i) => some.Skip(i + 1).Select(b => (a, b)))
            .Where(pair => times.TrueForAll(t => t.Contains(pair.a) || t.Contains(pair.b)));
    }

    private IEnumerable<Act> Lifts(Act act) => WaitsOf(act).Where(a => a.Kind == ActKind.LiftOut && a != act);

    /// <summary>What was said holds against what was merely seen, later words against earlier ones.</summary>
    private void Hear(IReadOnlyList<Statement> statements, Func<Act, IEnumerable<Act>> own)
    {
        var seen = waits.ToDictionary(w => w.Key, w => w.Value.ToHashSet());
        foreach (var statement in statements)
        {
            switch (statement)
            {
                case Statement.NeedNot s:
                    var (what, after) = (Act.Parse(s.What), Act.Parse(s.After));
                    denied.Add((what, after));
                    foreach (var act in own(what).Append(what).Where(waits.ContainsKey))
                    {
                        // What may stay in keeps its screws and joints.
                        waits[act].ExceptWith(own(after).Where(a => !own(what).Contains(a)).Append(after));
                        goneInAll[act].Remove(after);
                    }

                    break;
                case Statement.Needs s when waits.ContainsKey(Act.Parse(s.What)):
                    var (must, first) = (Act.Parse(s.What), Act.Parse(s.After));
                    waits[must].Add(first);
                    // And what was seen of both before somebody denied it.
                    foreach (var act in own(must).Append(must).Where(waits.ContainsKey))
                    {
                        waits[act].UnionWith(own(first).Append(first).Where(seen[act].Contains));
                    }

                    break;
                default:
                    break;
            }
        }
    }

    /// <summary>True when one part waits for another, straight or by way of others.</summary>
    private bool LeadsTo(Act from, Act to)
    {
        var seen = new HashSet<Act> { from };
        var waiting = new Stack<Act>([from]);
        while (waiting.TryPop(out var at))
        {
            foreach (var next in Lifts(at))
            {
                if (next == to)
                {
                    return true;
                }

                if (seen.Add(next))
                {
                    waiting.Push(next);
                }
            }
        }

        return false;
    }
}
