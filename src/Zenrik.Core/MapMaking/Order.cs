using Zenrik.Core.Teardown;

namespace Zenrik.Core.MapMaking;

/// <summary>
/// What sessions show of the order in which things come off: an act may have to wait for whatever was off in every session
/// that did it, and for nothing else, since it was possible with just that.
/// </summary>
/// <remarks>
/// That holds where each act has one set of conditions. Where there are two ways to the same thing (a cover taken off, or
/// what it rides on), what a person says rides on what makes both the same way.
/// </remarks>
internal sealed class Order
{
    private readonly Dictionary<Act, HashSet<Act>> waits = [];
    private readonly Dictionary<Act, List<Guid>> seenBy = [];

    /// <param name="sightings">What sessions showed.</param>
    /// <param name="statements">What was said besides.</param>
    /// <param name="leaveWith">What is out of the way of an act because it left with a part.</param>
    /// <param name="mayWait">False where an act cannot have to wait for another by the nature of both.</param>
    /// <param name="own">What holds and joins a part that is lifted: what is not in the way of it is not in their way either.</param>
    public Order(
        IEnumerable<Sighting> sightings,
        IReadOnlyList<Statement> statements,
        Func<Act, Act, IEnumerable<Act>> leaveWith,
        Func<Act, Act, bool> mayWait,
        Func<Act, IEnumerable<Act>> own
    )
    {
        foreach (var sighting in sightings)
        {
            foreach (var (act, off) in sighting.Moments())
            {
                var gone = off.Concat(off.SelectMany(o => leaveWith(act, o)))
                    .Where(a => a != act && mayWait(act, a))
                    .ToHashSet();
                if (waits.TryGetValue(act, out var before))
                {
                    before.IntersectWith(gone);
                }
                else
                {
                    waits[act] = gone;
                    seenBy[act] = [];
                }
            }

            foreach (var act in sighting.Moments().Select(m => m.Act).Distinct())
            {
                seenBy[act].Add(sighting.By);
            }
        }

        var seen = waits.ToDictionary(w => w.Key, w => w.Value.ToHashSet());
        // What was said holds against what was merely seen, later words against earlier ones.
        foreach (var statement in statements)
        {
            switch (statement)
            {
                case Statement.NeedNot s:
                    var what = Act.Parse(s.What);
                    var after = Act.Parse(s.After);
                    foreach (var act in own(what).Append(what).Where(waits.ContainsKey))
                    {
                        // What may stay in keeps its screws and joints.
                        waits[act].ExceptWith(own(after).Where(a => !own(what).Contains(a)).Append(after));
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

    /// <summary>The screws, joints and ties a part waits for besides its own, where that does not follow from the parts it waits for.</summary>
    /// <param name="lift">Lifting the part.</param>
    /// <param name="own">What holds and joins it.</param>
    public IReadOnlyList<Act> OthersFor(Act lift, IReadOnlySet<Act> own) =>
        [
            .. WaitsOf(lift)
                .Where(a => a.Kind is not (ActKind.LiftOut or ActKind.Isolate) && !own.Contains(a))
                .Where(a => !Lifts(lift).Any(other => WaitsOf(other).Contains(a))),
        ];

    private IEnumerable<Act> Lifts(Act act) => WaitsOf(act).Where(a => a.Kind == ActKind.LiftOut && a != act);

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
