using Zenrik.Core.Triage;

namespace Zenrik.Core.Tests.Triage.Oracles;

/// <summary>
/// One branch worked through by itself, written from the definition: always the remedy of the best ratio next, every chance
/// summed anew, to the very end; the cheapest place to have given up on the way is its cost.
/// </summary>
internal static class PlainRollout
{
    private const double Negligible = 1e-6;

    public static double Cost(TriageNetwork network, double[] now, int[] untried, RemedyPrices prices, Branch branch)
    {
        var belief = now.Select((chance, f) => chance * branch.Factor[f]).ToArray();
        var negligible = belief.Sum() * Negligible;
        var left = untried.Where(r => r != branch.Tried && Hit(r) > negligible).ToList();
        var (state, total, cheapest) = (branch.State, 0.0, belief.Sum() * prices.GivingUp);
        while (
            belief.Sum() > negligible && left.Where(r => Hit(r) > 0).OrderByDescending(Ratio).ToList() is [var r, ..]
        )
        {
            total += belief.Sum() * prices.Minutes[state][r];
            foreach (var (fault, chance) in network.CuresOf(r))
            {
                belief[fault] *= 1 - chance;
            }

            total += belief.Sum() * network.FailureMinutes[r];
            cheapest = Math.Min(cheapest, total + (belief.Sum() * prices.GivingUp));
            left.Remove(r);
            state = RemedyPrices.After(state, network.Opens[r], network.Lifts[r]);
        }

        return cheapest;

        double Hit(int r)
        {
            var hit = 0.0;
            foreach (var (fault, chance) in network.CuresOf(r))
            {
                hit += belief[fault] * chance;
            }

            return hit;
        }

        double Ratio(int r) => Hit(r) / Math.Max(prices.Minutes[state][r] + network.FailureMinutes[r], 1e-9);
    }
}
