namespace Zenrik.Core.Teardown;

/// <summary>
/// Chooses among ways: the set of acts that meets the goals, needs nothing outside itself, can be put in order, and
/// takes the least time. Exact: branch and bound over the open requirements.
/// </summary>
/// <remarks>
/// <para>
/// The bound: the acts chosen so far, plus for every open requirement its cheapest alternative, where the time of an act
/// that several requirements could bring in is shared among them. However it is shared, no solution can take less, since it
/// meets each requirement and pays each act once. The shares begin equal and are then shifted, step by step, to the
/// requirements whose cheapest alternative wants the act: a subgradient method on the Lagrangian dual (Held, Karp 1971).
/// An alternative with which the bound already reaches the best found is out of the question from there on.
/// </para>
/// <para>
/// An act that needs no more, meets no less, is handled alike and takes no longer than another stands for both.
/// </para>
/// </remarks>
internal sealed class WaySearch
{
    /// <summary>How often shares are shifted at a node; not before so many nodes were looked at, most searches end sooner.</summary>
    private const int Steps = 20;
    private const int NodesWithout = 24;

    /// <summary>How often for the gap of a search that was ended early.</summary>
    private const int StepsForGap = 200;

    private readonly ChoiceNetwork network;
    private readonly long[] cost;
    private readonly Func<Bits, long> orderBound;
    private readonly Func<Bits, long, long?> orderCost;
    private readonly int size;
    private readonly SearchLimit limit;
    private readonly Action onFound;
    private readonly Func<int, int, bool> alike;
    private readonly Func<int, IReadOnlyList<int>> easedBy;
    private int[][][] clauses = [];
    private Bits given;
    private long best;
    private Bits? found;
    private int nodes;
    private Func<long> root = () => 0;
    private bool endedEarly;

    /// <param name="network">The graph.</param>
    /// <param name="cost">By act, its time.</param>
    /// <param name="orderBound">A time no order of a set of acts, or of more acts, can go below.</param>
    /// <param name="orderCost">
    /// The time of the best order of a set of acts, or of one found in the time there was; the time given where none takes
    /// less; null when there is none at all.
    /// </param>
    /// <param name="limit">How long to search.</param>
    /// <param name="onFound">Told when the set whose order was asked for last is the cheapest so far.</param>
    /// <param name="alike">Whether two acts are the same to every order.</param>
    /// <param name="easedBy">By act, others that meet no requirement of it but could give it a better order.</param>
    public WaySearch(
        ChoiceNetwork network,
        long[] cost,
        Func<Bits, long>? orderBound = null,
        Func<Bits, long, long?>? orderCost = null,
        SearchLimit limit = default,
        Action? onFound = null,
        Func<int, int, bool>? alike = null,
        Func<int, IReadOnlyList<int>>? easedBy = null
    )
    {
        this.network = network;
        this.cost = cost;
        this.orderBound = orderBound ?? (_ => 0);
        this.orderCost = orderCost ?? ((_, _) => 0);
        this.limit = limit;
        this.onFound = onFound ?? (() => { });
        this.alike = alike ?? ((_, _) => true);
        this.easedBy = easedBy ?? (_ => []);
        size = network.Acts.Count;
    }

    /// <summary>A requirement not met yet, and what may still meet it.</summary>
    private readonly record struct Need(int[] Clause, int[] Alternatives);

    /// <summary>By what share the set found last may cost more than the cheapest; 0: it is the cheapest.</summary>
    public double Gap { get; private set; }

    /// <summary>The cheapest set of acts, or null when the goals cannot be met.</summary>
    /// <param name="wanted">The goals.</param>
    /// <param name="standing">What is done already: it is in the set, and waits for nothing.</param>
    public IReadOnlyList<int>? Cheapest(IEnumerable<Requirement> wanted, Bits? standing = null)
    {
        given = standing ?? new Bits(size);
        best = long.MaxValue;
        found = null;
        endedEarly = false;
        nodes = 0;
        int[][] goals = [.. wanted.Select(network.Indices)];
        clauses = (int[][][])network.Clauses.Clone();
        while (DropWhatOthersStandFor(goals)) { }

        Explore(given.Copy(), new Bits(size), [.. goals.Select(g => new Need(g, g))], []);
        var least = endedEarly && found is not null ? root() : best;
        Gap = best <= least ? 0 : (best - least) / (double)Math.Max(1, least);
        return found is { } set ? [.. set.Members] : null;
    }

    /// <summary>Takes acts out of every requirement that another act can always replace; false when there was none.</summary>
    private bool DropWhatOthersStandFor(int[][] goals)
    {
        // Only what is nowhere without an alternative can go.
        var fewest = new int[]?[size];
        foreach (var clause in clauses.SelectMany(c => c).Concat(goals))
        {
            foreach (var act in clause)
            {
                fewest[act] = fewest[act] is { } known && known.Length <= clause.Length ? known : clause;
            }
        }

        // By act that could: the requirements it is an alternative in.
        var meets = new List<int[]>?[size];
        for (var act = 0; act < size; act++)
        {
            meets[act] = fewest[act] is { Length: > 1 } && !given[act] ? [] : null;
        }

        foreach (var clause in clauses.SelectMany(c => c).Concat(goals))
        {
            foreach (var act in clause)
            {
                meets[act]?.Add(clause);
            }
        }

        var gone = new Bits(size);
        var any = false;
        for (var act = size - 1; act >= 0; act--)
        {
            if (
                meets[act] is { } where
                && Array.Exists(fewest[act]!, other => !gone[other] && StandsFor(other, act, where))
            )
            {
                gone.Add(act);
                any = true;
            }
        }

        if (any)
        {
            for (var a = 0; a < size; a++)
            {
                clauses[a] = [.. clauses[a].Select(Left)];
            }

            for (var g = 0; g < goals.Length; g++)
            {
                goals[g] = Left(goals[g]);
            }
        }

        return any;

        int[] Left(int[] clause) => Array.Exists(clause, a => gone[a]) ? Array.FindAll(clause, a => !gone[a]) : clause;
    }

    private bool StandsFor(int act, int other, List<int[]> whereOther) =>
        act != other
        && cost[act] <= cost[other]
        && alike(act, other)
        && whereOther.TrueForAll(clause => Array.IndexOf(clause, act) >= 0)
        && Array.TrueForAll(
            clauses[act],
            wants => Array.Exists(clauses[other], met => Array.TrueForAll(met, a => Array.IndexOf(wants, a) >= 0))
        );

    private void Explore(Bits chosen, Bits forbidden, List<Need> open, IEnumerable<int> fresh)
    {
        // Until one is found there is nothing to take: the first comes soon, as the cheapest alternatives are tried first.
        if (limit.IsOver && found is not null)
        {
            endedEarly = true;
            return;
        }

        long handling;
        do
        {
            if (!Propagate(chosen, forbidden, ref open, fresh))
            {
                return;
            }

            fresh = [];
            handling = TimeOf(chosen);
            if (nodes++ == 0)
            {
                var (time, first, asked) = (handling, chosen.Copy(), open);
                root = () =>
                    time + orderBound(first) + new Shares(this, first, asked).Bound(StepsForGap, long.MaxValue);
            }

            if (best == long.MaxValue)
            {
                break;
            }

            var least = handling + orderBound(chosen);
            if (least >= best || least + EqualShares(chosen, open) >= best)
            {
                return;
            }

            if (nodes <= NodesWithout)
            {
                break;
            }

            var shares = new Shares(this, chosen, open);
            least += shares.Bound(Steps, best - least);
            if (least >= best)
            {
                return;
            }

            if (!shares.Forbid(forbidden, best - least))
            {
                break;
            }
        } while (true);

        if (open.Count > 0)
        {
            // The requirement whose cheapest alternative still takes most, first among those with the fewest.
            var next = open.MinBy(need =>
                (
                    need.Alternatives.Length,
                    -need.Alternatives.Min(a => network.Necessary[a].Members.Sum(n => chosen[n] ? 0 : cost[n]))
                )
            );
            Branch(chosen, forbidden, open, next.Alternatives);
            return;
        }

        if (Late(chosen) is { } late)
        {
            Branch(chosen, forbidden, open, late);
            return;
        }

        if (orderCost(chosen, best - handling) is not { } order)
        {
            return;
        }

        endedEarly |= limit.IsOver;
        if (handling + order < best)
        {
            (best, found) = (handling + order, chosen);
            onFound();
        }

        // One act more than needed can pay for itself by a better order, but only if it meets some requirement sooner or
        // takes something off its place, and takes less than an order could gain.
        (int Act, long Time)[] more =
        [
            .. chosen
                .Members.SelectMany(a => clauses[a].SelectMany(clause => clause).Concat(easedBy(a)))
                .Distinct()
                .Where(a => !chosen[a])
                .Select(a => (a, network.Necessary[a].Members.Sum(n => chosen[n] ? 0 : cost[n])))
                .Where(a => a.Item2 < order),
        ];
        if (more.Length > 0 && order - orderBound(chosen) is var gain)
        {
            Branch(chosen, forbidden, open, [.. more.Where(a => a.Time < gain).Select(a => a.Act)]);
        }
    }

    /// <summary>One branch an alternative, cheapest first; later branches need not try what earlier ones covered.</summary>
    private void Branch(Bits chosen, Bits forbidden, List<Need> open, int[] alternatives)
    {
        var without = forbidden.Copy();
        foreach (
            var alternative in alternatives
                .Where(a => !forbidden[a])
                .OrderBy(a => network.Necessary[a].Members.Sum(n => chosen[n] ? 0 : cost[n]))
        )
        {
            var with = chosen.Copy();
            with.AddAll(network.Necessary[alternative]);
            Explore(with, without.Copy(), open, network.Necessary[alternative].Members.Where(a => !chosen[a]));
            without.Add(alternative);
        }
    }

    /// <summary>Adds what has no alternative until only real choices are open; false when one cannot be met.</summary>
    /// <param name="chosen">The acts chosen so far; grows.</param>
    /// <param name="forbidden">Acts that are out of the question.</param>
    /// <param name="open">What was open before, and is now.</param>
    /// <param name="fresh">Acts chosen whose requirements are not among those yet.</param>
    private bool Propagate(Bits chosen, Bits forbidden, ref List<Need> open, IEnumerable<int> fresh)
    {
        var asked = new List<Need>(open);
        foreach (var act in fresh)
        {
            Ask(act);
        }

        open = [];
        for (var i = 0; i < asked.Count; i++)
        {
            var need = asked[i];
            if (Array.Exists(need.Clause, a => chosen[a]))
            {
                continue;
            }

            var left = Array.Exists(need.Alternatives, a => network.Necessary[a].Meets(forbidden))
                ? Array.FindAll(need.Alternatives, a => !network.Necessary[a].Meets(forbidden))
                : need.Alternatives;
            if (left.Length == 0)
            {
                return false;
            }

            if (left.Length > 1)
            {
                open.Add(need with { Alternatives = left });
                continue;
            }

            foreach (var act in network.Necessary[left[0]].Members)
            {
                if (!chosen[act])
                {
                    chosen.Add(act);
                    Ask(act);
                }
            }
        }

        // What was chosen last may meet what stood open before it.
        open.RemoveAll(need => Array.Exists(need.Clause, a => chosen[a]));
        return !chosen.Meets(forbidden);

        void Ask(int act)
        {
            if (!given[act])
            {
                foreach (var clause in clauses[act])
                {
                    asked.Add(new Need(clause, clause));
                }
            }
        }
    }

    private long TimeOf(Bits acts)
    {
        var total = 0L;
        foreach (var act in acts.Members)
        {
            total += cost[act];
        }

        return total;
    }

    /// <summary>What meeting all that is open takes at least, the time of acts shared equally.</summary>
    private long EqualShares(Bits chosen, List<Need> open)
    {
        if (open.Count == 0)
        {
            return 0;
        }

        var claims = new int[size];
        var claimed = new Bits(size);
        foreach (var need in open)
        {
            claimed.Clear();
            foreach (var alternative in need.Alternatives)
            {
                claimed.AddAll(network.Necessary[alternative]);
            }

            foreach (var act in claimed.Members)
            {
                claims[act]++;
            }
        }

        var total = 0.0;
        foreach (var need in open)
        {
            var least = double.MaxValue;
            foreach (var alternative in need.Alternatives)
            {
                var sum = 0.0;
                foreach (var act in network.Necessary[alternative].Members)
                {
                    sum += chosen[act] ? 0 : (double)cost[act] / claims[act];
                }

                least = Math.Min(least, sum);
            }

            total += least;
        }

        // Rounded down with room for the sum's last digits: the bound stays a bound.
        return Math.Max(0, (long)Math.Floor(total - 1e-3));
    }

    /// <summary>How the time of acts is shared among the open requirements that could bring them in.</summary>
    private sealed class Shares
    {
        private readonly List<Need> open;
        private readonly int[][][] wanted; // By need and alternative: the shares of the acts it would bring in.
        private readonly int[] shareOf; // By share: its act.
        private readonly List<int>?[] sharesOf; // By act.
        private readonly double[] cheapest; // By need.
        private readonly int[] taken; // By need: the cheapest alternative.
        private double[] share;

        public Shares(WaySearch search, Bits chosen, List<Need> open)
        {
            this.open = open;
            var acts = new List<int>();
            sharesOf = new List<int>?[search.size];
            wanted = new int[open.Count][][];
            (cheapest, taken) = (new double[open.Count], new int[open.Count]);
            var mine = new int[search.size];
            Array.Fill(mine, -1);
            for (var i = 0; i < open.Count; i++)
            {
                var since = acts.Count;
                wanted[i] = new int[open[i].Alternatives.Length][];
                var ids = new List<int>();
                for (var k = 0; k < open[i].Alternatives.Length; k++)
                {
                    ids.Clear();
                    foreach (var act in search.network.Necessary[open[i].Alternatives[k]].Members)
                    {
                        if (chosen[act])
                        {
                            continue;
                        }

                        if (mine[act] < since)
                        {
                            mine[act] = acts.Count;
                            acts.Add(act);
                            (sharesOf[act] ??= []).Add(mine[act]);
                        }

                        ids.Add(mine[act]);
                    }

                    wanted[i][k] = [.. ids];
                }
            }

            shareOf = [.. acts];
            share = [.. shareOf.Select(a => (double)search.cost[a] / sharesOf[a]!.Count)];
        }

        /// <summary>What meeting all of it takes at least; shifted so many times, or until it reaches what is enough.</summary>
        public long Bound(int steps, long enough)
        {
            if (open.Count == 0)
            {
                return 0;
            }

            var (highest, kept, step) = (Total(), share, 0.6);
            for (var i = 0; i < steps && highest < enough; i++, step *= 0.9)
            {
                share = Shifted(step);
                if (Total() is var total && total > highest)
                {
                    (highest, kept) = (total, share);
                }
            }

            share = kept;
            _ = Total();
            // Rounded down with room for the sums' last digits: the bound stays a bound.
            return Math.Max(0, (long)Math.Floor(highest - 1e-3));
        }

        /// <summary>Forbids alternatives with which meeting all of it would take so much longer; true when there are some.</summary>
        public bool Forbid(Bits forbidden, long longer)
        {
            var any = false;
            for (var i = 0; i < open.Count; i++)
            {
                for (var k = 0; k < wanted[i].Length; k++)
                {
                    if (Sum(wanted[i][k]) - cheapest[i] - 1e-3 >= longer && !forbidden[open[i].Alternatives[k]])
                    {
                        forbidden.Add(open[i].Alternatives[k]);
                        any = true;
                    }
                }
            }

            return any;
        }

        private double Sum(int[] shares)
        {
            var sum = 0.0;
            foreach (var id in shares)
            {
                sum += share[id];
            }

            return sum;
        }

        private double Total()
        {
            var total = 0.0;
            for (var i = 0; i < wanted.Length; i++)
            {
                (cheapest[i], taken[i]) = (double.MaxValue, 0);
                for (var k = 0; k < wanted[i].Length; k++)
                {
                    if (Sum(wanted[i][k]) is var sum && sum < cheapest[i])
                    {
                        (cheapest[i], taken[i]) = (sum, k);
                    }
                }

                total += cheapest[i];
            }

            return total;
        }

        /// <summary>Of every act some requirements want and others do not, a part of the latter's shares goes to the former.</summary>
        private double[] Shifted(double part)
        {
            var used = new bool[share.Length];
            for (var i = 0; i < wanted.Length; i++)
            {
                foreach (var id in wanted[i][taken[i]])
                {
                    used[id] = true;
                }
            }

            var shifted = (double[])share.Clone();
            foreach (var ids in sharesOf)
            {
                if (
                    ids is null
                    || ids.Count < 2
                    || ids.Count(id => used[id]) is var wanting && (wanting == 0 || wanting == ids.Count)
                )
                {
                    continue;
                }

                var moved = 0.0;
                foreach (var id in ids)
                {
                    if (!used[id])
                    {
                        moved += share[id] * part;
                        shifted[id] -= share[id] * part;
                    }
                }

                foreach (var id in ids)
                {
                    shifted[id] += used[id] ? moved / wanting : 0;
                }
            }

            return shifted;
        }
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
                if (Array.TrueForAll(clauses[waiting[i]], clause => Array.Exists(clause, a => done[a])))
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
            a => Array.FindAll(clauses[a], clause => !Array.Exists(clause, b => done[b]))
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
