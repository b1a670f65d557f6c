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

    // What each remedy costs while the machine is open, and while it is closed.
    private readonly double[] openCosts;
    private readonly double[] closedCosts;

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
        closedCosts = new double[openCosts.Length];
        for (var r = 0; r < closedCosts.Length; r++)
        {
            closedCosts[r] = openCosts[r] + (network.Opens[r] ? opening : 0);
        }

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
        acts.Sort((a, b) => a.Total.CompareTo(b.Total));
        Keep(acts);

        foreach (var t in MostTellingFirst())
        {
            var minutes = TestMinutes(t);
            var second = acts.Count < 2 ? double.PositiveInfinity : acts[1].Total;
            var total = minutes + TotalAsking(t, second - minutes);
            if (total < second)
            {
                acts.Insert(acts.Count > 0 && total >= acts[0].Total ? 1 : 0, Test(t, minutes, total));
                Keep(acts);
            }
        }

        return acts;

        static void Keep(List<TriageAct> acts)
        {
            if (acts.Count > 2)
            {
                acts.RemoveRange(2, acts.Count - 2);
            }
        }
    }

    /// <summary>Everything that can be done, the best first.</summary>
    public IReadOnlyList<TriageAct> All()
    {
        var acts = Remedies(int.MaxValue);
        for (var t = 0; t < answered.Length; t++)
        {
            if (!answered[t])
            {
                var minutes = TestMinutes(t);
                acts.Add(Test(t, minutes, minutes + TotalAsking(t, double.PositiveInfinity)));
            }
        }

        acts.Sort((a, b) => a.Total.CompareTo(b.Total));
        return acts;
    }

    /// <summary>Unanswered tests by how far their answers tell faults apart: a good one early spares working out the rest.</summary>
    private int[] MostTellingFirst()
    {
        var tests = new int[answered.Length];
        var keys = new double[answered.Length];
        var count = 0;
        for (var t = 0; t < answered.Length; t++)
        {
            if (answered[t])
            {
                continue;
            }

            // Expected chance of guessing the fault right by its chances (Gini 1912), after the answer.
            var telling = 0.0;
            foreach (var chances in network.Chances[t])
            {
                var (sum, squares) = (0.0, 0.0);
                for (var f = 0; f < now.Length; f++)
                {
                    var p = now[f] * chances[f];
                    sum += p;
                    squares += p * p;
                }

                telling += sum > 0 ? squares / sum : 0;
            }

            (tests[count], keys[count]) = (t, -telling);
            count++;
        }

        Array.Sort(keys, tests, 0, count);
        return tests[..count];
    }

    private TriageAct Test(int test, double minutes, double total) =>
        new(network.Tests[test].Id, true, network.Tests[test].Title, minutes, total, 0);

    private List<TriageAct> Remedies(int most)
    {
        var acts = new List<TriageAct>();
        var byRatio = (int[])untried.Clone();
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
                acts.Add(new TriageAct(remedy.Id, false, remedy.Title, Cost(r, opened), TotalTrying(r), hit));
            }
        }

        return acts;
    }

    private double Ratio(int remedy)
    {
        var hit = Hit(now, remedy);
        return hit / (Cost(remedy, opened) + ((1 - hit) * network.FailureMinutes[remedy]));
    }

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
            + Roll(remedy, opened || network.Opens[remedy], double.PositiveInfinity);
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
            total += Roll(-1, open, limit - total - toCome);
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
    /// cured on the way costs nothing more. Remedies go in the order of their ratio of chance to cost, ending where giving
    /// up is cheapest. That a beginning of this order is best: what is worth trying at some point is worth trying all the
    /// more when its ratio is higher.
    /// </summary>
    private double Roll(int except, bool open, double limit)
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
            var (best, bestRatio) = (-1, 0.0);
            var costs = open ? openCosts : closedCosts;
            for (var i = 0; i < count; i++)
            {
                var r = left[i];
                var hit = hits[r];
                var cost = costs[r];
                if (network.FailureMinutes[r] > 0)
                {
                    cost += (1 - (hit / mass)) * network.FailureMinutes[r];
                }

                if (hit > bestRatio * cost)
                {
                    (best, bestRatio) = (i, hit / cost);
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
            mass -= hits[remedy];
            total += mass * network.FailureMinutes[remedy];
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
