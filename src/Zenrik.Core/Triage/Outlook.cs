namespace Zenrik.Core.Triage;

/// <summary>Expected costs from one belief on. Buffers are its own; one instance serves one question.</summary>
internal sealed class Outlook
{
    private const double Negligible = 1e-6;

    private readonly TriageNetwork network;
    private readonly double[] now;
    private readonly bool[] answered;
    private readonly bool opened;
    private readonly double opening;
    private readonly double givingUp;
    private readonly int[] untried;

    /// <summary>What each fault costs at least, if it were known and cured at its cheapest.</summary>
    private readonly double[] atLeast;

    // By cluster of faults that share a remedy: the cheapest of its remedies, and a buffer for its chance.
    private readonly double[] clusterAtLeast;
    private readonly double[] clusterMass;
    private readonly double[] bounds;
    private readonly bool neverGivesUpEarly;

    // What each remedy costs while the machine is open, and while it is closed; and while something is forbidden, where
    // those that need it pay for what allows it again.
    private readonly double[] openCosts;
    private readonly double[] closedCosts;
    private readonly double[] openCostsUnderBan;
    private readonly double[] closedCostsUnderBan;
    private readonly double[] failure;
    private readonly bool banned;
    private readonly bool[] testForbidden;
    private readonly bool[] remedyForbidden;

    // What is rolled on: the chance of each fault, of each remedy to cure now, and which remedies are left.
    private readonly double[] rolling;
    private readonly double[] hits;
    private readonly int[] left;

    public Outlook(TriageNetwork network, TriageBelief belief)
    {
        this.network = network;
        now = [.. belief.Chances];
        opened = belief.Opened;
        opening = network.Case.Costs.OpeningMinutes;
        givingUp = network.Case.Costs.GivingUpMinutes;
        answered = [.. network.Tests.Select(t => belief.TestsDone.Contains(t.Id))];
        untried =
        [
            .. Enumerable
                .Range(0, network.Remedies.Count)
                .Where(r => !belief.RemediesTried.Contains(network.Remedies[r].Id)),
        ];
        openCosts = network.RemedyMinutes;
        failure = network.FailureMinutes;
        closedCosts = new double[openCosts.Length];
        for (var r = 0; r < closedCosts.Length; r++)
        {
            closedCosts[r] = openCosts[r] + (network.Opens[r] ? opening : 0);
        }

        testForbidden = [.. network.Tests.Select(t => t.Needs.Any(belief.Forbidden.Contains))];
        remedyForbidden = [.. network.Remedies.Select(r => r.Needs.Any(belief.Forbidden.Contains))];
        banned = belief.Forbidden.Count > 0;
        (openCostsUnderBan, closedCostsUnderBan) = banned ? UnderBan() : (openCosts, closedCosts);

        rolling = new double[now.Length];
        hits = new double[network.Remedies.Count];
        left = new int[untried.Length];
        atLeast = AtLeast();
        clusterMass = new double[network.Clusters];
        clusterAtLeast = new double[network.Clusters];
        Array.Fill(clusterAtLeast, double.PositiveInfinity);
        for (var f = 0; f < now.Length; f++)
        {
            var c = network.Cluster[f];
            clusterAtLeast[c] = Math.Min(clusterAtLeast[c], atLeast[f]);
        }

        bounds = new double[network.Chances.Length == 0 ? 0 : network.Chances.Max(t => t.Length)];
        neverGivesUpEarly = atLeast.Max() + clusterAtLeast.Sum() <= givingUp;
    }

    /// <summary>The best act and the runner-up, best first; fewer when fewer are left.</summary>
    /// <param name="remedies">How many remedies are weighed, by their ratio of chance to cost.</param>
    public IReadOnlyList<TriageAct> BestTwo(int remedies)
    {
        var acts = Remedies(remedies);
        foreach (var (t, atLeastTotal) in MostPromisingFirst())
        {
            acts.Sort(ByTotal);
            if (
                atLeastTotal
                >= (acts.Count < 2 ? double.PositiveInfinity : Math.Max(acts[1].Total, Alike(acts[0].Total)))
            )
            {
                break;
            }

            var minutes = TestMinutes(t);
            var second =
                acts.Count < 2 ? double.PositiveInfinity : Math.Max(acts[1].Total, WorthIts(acts[0].Total, minutes));
            if (atLeastTotal >= second)
            {
                continue;
            }

            var total = minutes + TotalAsking(t, second - minutes);
            if (total < second)
            {
                acts.Add(Test(t, minutes, total));
            }
        }

        Order(acts);
        return acts.Count > 2 ? acts[..2] : acts;
    }

    /// <summary>Everything that can be done, the best first.</summary>
    /// <param name="remedies">As in <see cref="BestTwo"/>.</param>
    public IReadOnlyList<TriageAct> All(int remedies)
    {
        var acts = Remedies(int.MaxValue);
        var weighed = Remedies(remedies).Select(a => a.Id).Concat(network.Tests.Select(t => t.Id)).ToHashSet();
        for (var t = 0; t < answered.Length; t++)
        {
            if (!answered[t] && !testForbidden[t])
            {
                var minutes = TestMinutes(t);
                acts.Add(Test(t, minutes, minutes + TotalAsking(t, double.PositiveInfinity)));
            }
        }

        Order(acts, weighed);
        return acts;
    }

    private static readonly Comparer<TriageAct> ByTotal = Comparer<TriageAct>.Create(
        (a, b) => a.Total.CompareTo(b.Total)
    );

    /// <summary>Totals up to this are as good as the best: the figures behind them are not finer.</summary>
    private static double Alike(double best) => (best * 1.02) + 0.5;

    /// <summary>
    /// The total of an act of so many minutes up to this is as good as the best: what it tells or cures must be worth half
    /// its minutes at least. At 96 minutes any look would be as good otherwise, and they would be asked for one after the
    /// other.
    /// </summary>
    private static double WorthIts(double best, double minutes) => Math.Min(Alike(best), best + (minutes / 2));

    /// <summary>
    /// By total; but of those as good as the best first what needs no opening, and then nothing exchanged.
    /// </summary>
    /// <param name="weighed">What may be preferred; null: anything.</param>
    private void Order(List<TriageAct> acts, HashSet<string>? weighed = null)
    {
        acts.Sort(ByTotal);
        if (acts.Count < 2)
        {
            return;
        }

        var (first, alike) = (0, Alike(acts[0].Total));
        for (var i = 1; i < acts.Count && acts[i].Total <= alike; i++)
        {
            if (
                Burden(acts[i]) < Burden(acts[first])
                && acts[i].Total <= WorthIts(acts[0].Total, acts[i].Minutes)
                && weighed?.Contains(acts[i].Id) != false
            )
            {
                first = i;
            }
        }

        var preferred = acts[first];
        acts.RemoveAt(first);
        acts.Insert(0, preferred);
    }

    private int Burden(TriageAct act)
    {
        if (act.IsTest)
        {
            return !opened && network.Tests[Index(network.Tests, t => t.Id == act.Id)].Opens ? 2 : 0;
        }

        var remedy = network.Remedies[Index(network.Remedies, r => r.Id == act.Id)];
        return !opened && remedy.Opens ? 2
            : remedy.Exchanges is not null || remedy.Ends is not null ? 1
            : 0;

        static int Index<T>(IReadOnlyList<T> list, Func<T, bool> which)
        {
            for (var i = 0; i < list.Count; i++)
            {
                if (which(list[i]))
                {
                    return i;
                }
            }

            return -1;
        }
    }

    /// <summary>What can be asked now with the least each can come to, the most promising first.</summary>
    private (int Test, double AtLeast)[] MostPromisingFirst()
    {
        var tests = new (int Test, double AtLeast)[answered.Length];
        var count = 0;
        for (var t = 0; t < answered.Length; t++)
        {
            if (answered[t] || testForbidden[t])
            {
                continue;
            }

            var least = TestMinutes(t);
            foreach (var chances in network.Chances[t])
            {
                See(chances);
                least += Bound(rolling);
            }

            tests[count++] = (t, least);
        }

        Array.Sort(tests, 0, count, ByBound);
        return tests[..count];
    }

    private static readonly Comparer<(int Test, double AtLeast)> ByBound = Comparer<(int Test, double AtLeast)>.Create(
        (a, b) => a.AtLeast.CompareTo(b.AtLeast)
    );

    private TriageAct Test(int test, double minutes, double total) =>
        new(network.Tests[test].Id, true, network.Tests[test].Title, minutes, total, 0);

    private List<TriageAct> Remedies(int most)
    {
        var acts = new List<TriageAct>();
        var byRatio = Array.FindAll(untried, r => !remedyForbidden[r] && !IsRash(r));
        var keys = new double[byRatio.Length];
        for (var i = 0; i < byRatio.Length; i++)
        {
            keys[i] = -Ratio(byRatio[i]);
        }

        Array.Sort(keys, byRatio);
        foreach (var r in byRatio.AsSpan(0, Math.Min(most, byRatio.Length)))
        {
            var hit = Hit(now, r);
            if (hit > Negligible)
            {
                var remedy = network.Remedies[r];
                acts.Add(
                    new TriageAct(
                        remedy.Id,
                        false,
                        remedy.Title,
                        Cost(r, opened),
                        TotalTrying(r),
                        hit,
                        remedy.Price > 0 && !network.Case.Costs.Known.ContainsKey(remedy.Id)
                    )
                );
            }
        }

        return acts;
    }

    /// <summary>Nothing is given back as found while something is more likely wrong than not, however cheap that would be.</summary>
    private bool IsRash(int remedy) =>
        network.Remedies[remedy].Ends == RemedyEnd.NoFaultFound
        && network.NothingWrong >= 0
        && now[network.NothingWrong] < 0.5;

    private double Ratio(int remedy) => Hit(now, remedy) / (Cost(remedy, opened) + failure[remedy]);

    private double TotalTrying(int remedy)
    {
        now.CopyTo(rolling, 0);
        var hit = Hit(now, remedy);
        var (faults, chances) = (network.Cured[remedy], network.CureChance[remedy]);
        for (var i = 0; i < faults.Length; i++)
        {
            rolling[faults[i]] *= 1 - chances[i];
        }

        return Cost(remedy, opened)
            + ((1 - hit) * network.FailureMinutes[remedy])
            + Roll(remedy, opened || network.Opens[remedy], banned && !network.Lifts[remedy], double.PositiveInfinity);
    }

    /// <param name="limit">Above this the exact figure is not needed any more.</param>
    private double TotalAsking(int test, double limit)
    {
        var outcomes = network.Chances[test];
        var toCome = 0.0;
        for (var o = 0; o < outcomes.Length && !double.IsPositiveInfinity(limit); o++)
        {
            See(outcomes[o]);
            toCome += bounds[o] = Bound(rolling);
        }

        var total = 0.0;
        var open = opened || network.Tests[test].Opens;
        for (var o = 0; o < outcomes.Length; o++)
        {
            if (total + toCome >= limit)
            {
                return total + toCome;
            }

            toCome -= double.IsPositiveInfinity(limit) ? 0 : bounds[o];
            See(outcomes[o]);
            total += Roll(
                -1,
                open,
                banned && network.Tests[test].Outcomes[o].Allows.Count == 0,
                limit - total - toCome
            );
        }

        return total;
    }

    private void See(double[] chances)
    {
        for (var f = 0; f < now.Length; f++)
        {
            rolling[f] = now[f] * chances[f];
        }
    }

    /// <summary>
    /// Less than any order of remedies costs. Each fault pays its own cheapest cure. Of two clusters that share no remedy
    /// one is tried first, and the other's whole chance pays the cheapest of it: as in Smith's rule, the lesser of the two
    /// ways. Where giving up may come before everything is tried, only the first holds.
    /// </summary>
    private double Bound(double[] belief)
    {
        var bound = 0.0;
        Array.Clear(clusterMass);
        for (var f = 0; f < belief.Length; f++)
        {
            bound += belief[f] * atLeast[f];
            clusterMass[network.Cluster[f]] += belief[f];
        }

        if (neverGivesUpEarly)
        {
            for (var a = 1; a < clusterMass.Length; a++)
            {
                for (var b = 0; b < a; b++)
                {
                    bound += Math.Min(clusterMass[a] * clusterAtLeast[b], clusterMass[b] * clusterAtLeast[a]);
                }
            }
        }

        return bound;
    }

    /// <summary>
    /// Expected cost of working through what is left of <see cref="rolling"/>, which need not add up to 1: what has been
    /// cured on the way costs nothing more. Remedies go in the order of their chance to what trying and failing cost:
    /// exchanging two neighbours that cure different faults shows that no other is cheaper (W. E. Smith, "Various
    /// optimizers for single-stage production", Naval Research Logistics Quarterly 3, 1956). It ends where giving up is
    /// cheapest. That a beginning of this order is best: what is worth trying at some point is worth trying all the
    /// more when its ratio is higher.
    /// </summary>
    private double Roll(int except, bool open, bool underBan, double limit)
    {
        var mass = 0.0;
        for (var f = 0; f < rolling.Length; f++)
        {
            mass += rolling[f];
        }

        var count = 0;
        foreach (var r in untried)
        {
            if (r != except && Hit(rolling, r) is var hit && hit > Negligible * mass)
            {
                hits[r] = hit;
                left[count++] = r;
            }
        }

        // What is left costs at least what knowing its faults would leave to pay; beyond the cheapest end so far, or the
        // limit, there is no need to go on.
        var rest = Knowing(rolling);
        var (total, cheapest) = (0.0, mass * givingUp);
        while (mass > Negligible && count > 0 && total + rest < Math.Min(cheapest, limit))
        {
            // Ratios are compared crosswise: a division for each would be most of the work.
            var (best, bestHit, bestCost) = (-1, 0.0, 1.0);
            var costs = Costs(open, underBan);
            for (var i = 0; i < count; i++)
            {
                var r = left[i];
                var hit = hits[r];
                var cost = costs[r] + failure[r];
                if (hit * bestCost > bestHit * cost)
                {
                    (best, bestHit, bestCost) = (i, hit, cost);
                }
            }

            if (best < 0)
            {
                break;
            }

            var remedy = left[best];
            left[best] = left[--count];
            total += mass * costs[remedy];
            open |= network.Opens[remedy];
            underBan &= !network.Lifts[remedy];
            mass -= hits[remedy];
            total += mass * failure[remedy];
            cheapest = Math.Min(cheapest, total + (mass * givingUp));
            rest -= Fail(remedy);
        }

        return cheapest;
    }

    private double Hit(double[] belief, int remedy)
    {
        var hit = 0.0;
        foreach (
            ref readonly var cure in network.Cures.AsSpan(network.CuresFrom[remedy]..network.CuresFrom[remedy + 1])
        )
        {
            hit += belief[cure.Fault] * cure.Chance;
        }

        return hit;
    }

    /// <summary>Takes what a remedy has cured off the chances, and off those of every other remedy that might have.</summary>
    /// <returns>What the cured faults would have cost at least.</returns>
    private double Fail(int remedy)
    {
        var spared = 0.0;
        foreach (
            ref readonly var cure in network.Cures.AsSpan(network.CuresFrom[remedy]..network.CuresFrom[remedy + 1])
        )
        {
            var gone = rolling[cure.Fault] * cure.Chance;
            if (gone == 0)
            {
                continue;
            }

            rolling[cure.Fault] -= gone;
            spared += gone * atLeast[cure.Fault];
            foreach (ref readonly var other in network.CuredBy[cure.Fault].AsSpan())
            {
                hits[other.Remedy] -= gone * other.Chance;
            }
        }

        return spared;
    }

    private double Cost(int remedy, bool open) => (open ? openCosts : closedCosts)[remedy];

    private double[] Costs(bool open, bool underBan) =>
        underBan ? (open ? openCostsUnderBan : closedCostsUnderBan)
        : open ? openCosts
        : closedCosts;

    private (double[] Open, double[] Closed) UnderBan()
    {
        var lifts = untried.Where(r => network.Lifts[r] && !remedyForbidden[r]).Select(r => openCosts[r]);
        var price = lifts.DefaultIfEmpty(givingUp).Min();
        return (
            [.. openCosts.Select((c, r) => remedyForbidden[r] ? c + price : c)],
            [.. closedCosts.Select((c, r) => remedyForbidden[r] ? c + price + (network.Opens[r] ? 0 : opening) : c)]
        );
    }

    private double TestMinutes(int test) =>
        network.TestMinutes[test] + (network.Tests[test].Opens && !opened ? opening : 0);

    /// <summary>Expected cost if the fault were known and cured at its cheapest; nothing can cost less.</summary>
    private double Knowing(double[] belief)
    {
        var knowing = 0.0;
        for (var f = 0; f < belief.Length; f++)
        {
            knowing += belief[f] * atLeast[f];
        }

        return knowing;
    }

    private double[] AtLeast()
    {
        var cheapest = new double[now.Length];
        Array.Fill(cheapest, givingUp);
        foreach (var r in untried)
        {
            foreach (var f in network.Cured[r])
            {
                cheapest[f] = Math.Min(cheapest[f], network.RemedyMinutes[r]);
            }
        }

        return cheapest;
    }
}
