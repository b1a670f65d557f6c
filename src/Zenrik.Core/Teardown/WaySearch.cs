namespace Zenrik.Core.Teardown;

/// <summary>
/// Chooses among ways: the set of acts that meets the goals, needs nothing outside itself, can be put in order, and
/// takes the least time. Exact: branch and bound over the open requirements.
/// </summary>
/// <remarks>
/// The bound: the acts chosen so far, plus for every open requirement its cheapest alternative, where the time of an act
/// that several requirements could bring in is shared equally among them. No solution can take less, since it meets each
/// requirement and pays each act once.
/// </remarks>
internal sealed class WaySearch
{
    private readonly ChoiceNetwork network;
    private readonly long[] cost;
    private readonly Func<Bits, long> orderBound;
    private readonly Func<Bits, long?> orderCost;
    private readonly int size;
    private int[][] goals = [];
    private Bits given;
    private readonly SearchLimit limit;
    private readonly Action onFound;
    private long best;
    private Bits? found;
    private long root;
    private bool endedEarly;

    /// <param name="network">The graph.</param>
    /// <param name="cost">By act, its time.</param>
    /// <param name="orderBound">A time no order of a set of acts, or of more acts, can go below.</param>
    /// <param name="orderCost">
    /// The time of the best order of a set of acts, or of one found in the time there was; null when it has none.
    /// </param>
    /// <param name="limit">How long to search.</param>
    /// <param name="onFound">Told when the set whose order was asked for last is the cheapest so far.</param>
    public WaySearch(
        ChoiceNetwork network,
        long[] cost,
        Func<Bits, long>? orderBound = null,
        Func<Bits, long?>? orderCost = null,
        SearchLimit limit = default,
        Action? onFound = null
    )
    {
        this.network = network;
        this.cost = cost;
        this.orderBound = orderBound ?? (_ => 0);
        this.orderCost = orderCost ?? (_ => 0);
        this.limit = limit;
        this.onFound = onFound ?? (() => { });
        size = network.Acts.Count;
    }

    /// <summary>By what share the set found last may cost more than the cheapest; 0: it is the cheapest.</summary>
    public double Gap => !endedEarly || found is null || best <= root ? 0 : (best - root) / (double)Math.Max(1, root);

    /// <summary>The cheapest set of acts, or null when the goals cannot be met.</summary>
    /// <param name="wanted">The goals.</param>
    /// <param name="standing">What is done already: it is in the set, and waits for nothing.</param>
    public IReadOnlyList<int>? Cheapest(IEnumerable<Requirement> wanted, Bits? standing = null)
    {
        goals = [.. wanted.Select(network.Indices)];
        given = standing ?? new Bits(size);
        best = long.MaxValue;
        found = null;
        endedEarly = false;
        root = -1;
        Explore(given.Copy(), new Bits(size));
        return found is { } set ? [.. set.Members] : null;
    }

    private void Explore(Bits chosen, Bits forbidden)
    {
        // Until one is found there is nothing to take: the first comes soon, as the cheapest alternatives are tried first.
        if (limit.IsOver && found is not null)
        {
            endedEarly = true;
            return;
        }

        if (!Propagate(chosen, forbidden, out var open))
        {
            return;
        }

        var least = Bound(chosen, open);
        root = root < 0 ? least : root;
        if (least >= best)
        {
            return;
        }

        if (open.Count > 0)
        {
            Branch(chosen, forbidden, open.MinBy(clause => clause.Length)!);
            return;
        }

        if (Late(chosen) is { } late)
        {
            Branch(chosen, forbidden, late);
            return;
        }

        if (orderCost(chosen) is not { } order)
        {
            return;
        }

        endedEarly |= limit.IsOver;
        var total = chosen.Members.Sum(a => cost[a]) + order;
        if (total < best)
        {
            (best, found) = (total, chosen);
            onFound();
        }

        // One act more than needed can pay for itself by a better order, but only if it meets some requirement sooner and
        // takes less than an order could gain.
        var gain = order - orderBound(chosen);
        if (gain > 0)
        {
            Branch(
                chosen,
                forbidden,
                [
                    .. chosen
                        .Members.SelectMany(a => network.Clauses[a])
                        .SelectMany(clause => clause)
                        .Distinct()
                        .Where(a =>
                            !chosen[a] && network.Necessary[a].Members.Sum(n => chosen[n] ? 0 : cost[n]) < gain
                        ),
                ]
            );
        }
    }

    /// <summary>One branch an alternative, cheapest first; later branches need not try what earlier ones covered.</summary>
    private void Branch(Bits chosen, Bits forbidden, int[] alternatives)
    {
        var without = forbidden.Copy();
        foreach (
            var alternative in alternatives
                .Where(a => !forbidden[a])
                .OrderBy(a => network.Necessary[a].Members.Sum(Extra))
        )
        {
            var with = chosen.Copy();
            with.AddAll(network.Necessary[alternative]);
            Explore(with, without);
            without = without.Copy();
            without.Add(alternative);
        }

        long Extra(int act) => chosen[act] ? 0 : cost[act];
    }

    /// <summary>Adds what has no alternative until only real choices are open; false when one cannot be met.</summary>
    private bool Propagate(Bits chosen, Bits forbidden, out List<int[]> open)
    {
        open = [];
        for (var grown = true; grown; )
        {
            grown = false;
            open.Clear();
            foreach (var clause in goals.Concat(ToMeet(chosen)))
            {
                if (Array.Exists(clause, a => chosen[a]))
                {
                    continue;
                }

                var alternatives = Array.FindAll(clause, a => !network.Necessary[a].Meets(forbidden));
                if (alternatives.Length == 0)
                {
                    return false;
                }

                if (alternatives.Length == 1)
                {
                    grown |= chosen.AddAll(network.Necessary[alternatives[0]]);
                }
                else
                {
                    open.Add(alternatives);
                }
            }
        }

        return !chosen.Meets(forbidden);
    }

    private List<int[]> ToMeet(Bits chosen) =>
        [.. chosen.Members.Where(a => !given[a]).SelectMany(a => network.Clauses[a])];

    private long Bound(Bits chosen, List<int[]> open)
    {
        var total = chosen.Members.Sum(a => cost[a]) + orderBound(chosen);
        if (open.Count == 0 || total >= best)
        {
            return total;
        }

        var claims = new int[size];
        foreach (var clause in open)
        {
            var claimed = new Bits(size);
            foreach (var alternative in clause)
            {
                claimed.AddAll(network.Necessary[alternative]);
            }

            foreach (var act in claimed.Members)
            {
                claims[act]++;
            }
        }

        var shared = 0.0;
        foreach (var clause in open)
        {
            shared += clause.Min(alternative =>
                network.Necessary[alternative].Members.Sum(a => chosen[a] ? 0.0 : (double)cost[a] / claims[a])
            );
        }

        // Rounded down with room for the sums' last digits: the bound stays a bound.
        return total + (long)Math.Floor(shared - 1e-3);
    }

    /// <summary>
    /// Acts of which one at least must be added because something chosen for another reason only seems to meet a
    /// requirement: it comes too late. Null when all that is chosen can be put in order.
    /// </summary>
    /// <remarks>
    /// Acts that wait only for each other never begin. Of such knots the smallest is taken; one of the requirements in
    /// it must be met from outside what is chosen.
    /// </remarks>
    private int[]? Late(Bits chosen)
    {
        var done = given.Copy();
        var waiting = chosen.Members.Where(a => !given[a]).ToList();
        for (var grown = true; grown; )
        {
            grown = false;
            for (var i = waiting.Count - 1; i >= 0; i--)
            {
                if (Array.TrueForAll(network.Clauses[waiting[i]], clause => Array.Exists(clause, a => done[a])))
                {
                    done.Add(waiting[i]);
                    waiting.RemoveAt(i);
                    grown = true;
                }
            }
        }

        if (waiting.Count == 0)
        {
            return null;
        }

        var unmet = waiting.ToDictionary(
            a => a,
            a => Array.FindAll(network.Clauses[a], clause => !Array.Exists(clause, b => done[b]))
        );
        var knot = waiting.Select(Knot).MinBy(k => k.Count)!;
        return [.. knot.SelectMany(a => unmet[a]).SelectMany(clause => clause).Where(a => !chosen[a]).Distinct()];

        HashSet<int> Knot(int act)
        {
            var found = new HashSet<int> { act };
            var open = new Stack<int>(found);
            while (open.TryPop(out var at))
            {
                foreach (var next in unmet[at].SelectMany(clause => clause).Where(b => chosen[b] && found.Add(b)))
                {
                    open.Push(next);
                }
            }

            return found;
        }
    }
}
