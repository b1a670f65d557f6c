using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;

namespace Zenrik.Core.Triage;

/// <summary>Where an act may lead.</summary>
/// <param name="Factor">By fault: the chance of getting there with it.</param>
/// <param name="Tried">The remedy that led there, by index; −1: a test did.</param>
/// <param name="State">Of the machine then, as in <see cref="RemedyPrices.Minutes"/>.</param>
internal readonly record struct Branch(double[] Factor, int Tried, int State);

/// <summary>
/// Expected cost of working through the remedies that are left. They go in the order of their chance to what trying and
/// failing cost: exchanging two neighbours that cure different faults shows that no other is cheaper (W. E. Smith,
/// "Various optimizers for single-stage production", Naval Research Logistics Quarterly 3, 1956). It ends where giving up
/// is cheapest. That a beginning of this order is best: what is worth trying at some point is worth trying all the more
/// when its ratio is higher.
/// </summary>
/// <remarks>
/// Finding the best ratio is most of the work. So as many branches as a vector holds are worked through side by side, a
/// lane each, and the best of every lane is found at once; a lane that has come to its end takes the next branch.
/// </remarks>
internal sealed class Rollout
{
    private const double Negligible = 1e-6;
    private static readonly int Lanes = Vector512<double>.Count;

    private readonly TriageNetwork network;
    private readonly double[] now;
    private readonly int[] untried;
    private readonly int[] place;
    private readonly RemedyPrices prices;

    // By remedy left, then lane: its chance to cure, and one over what trying and failing cost; 0 when it is no choice.
    private readonly double[] hits;
    private readonly double[] worths;

    // By lane: how far it has come.
    private readonly Lane[] lanes = new Lane[Lanes];

    public Rollout(TriageNetwork network, double[] now, int[] untried, RemedyPrices prices)
    {
        (this.network, this.now, this.untried, this.prices) = (network, now, untried, prices);
        (hits, worths) = (new double[untried.Length * Lanes], new double[untried.Length * Lanes]);
        place = new int[network.Remedies.Count];
        Array.Fill(place, -1);
        for (var n = 0; n < untried.Length; n++)
        {
            place[untried[n]] = n;
        }

        for (var lane = 0; lane < lanes.Length; lane++)
        {
            lanes[lane] = new Lane(new double[now.Length]);
        }
    }

    /// <summary>Expected minutes of each branch, times the chance of getting there.</summary>
    public double[] Costs(IReadOnlyList<Branch> branches)
    {
        var costs = new double[branches.Count];
        var next = 0;
        for (var lane = 0; lane < Lanes; lane++)
        {
            lanes[lane].Branch = -1;
            if (next < costs.Length)
            {
                Start(lane, next, branches[next++]);
            }
        }

        Span<double> chosen = stackalloc double[Lanes];
        for (var busy = next; busy > 0; )
        {
            Likeliest(chosen);
            for (var i = 0; i < Lanes; i++)
            {
                ref var lane = ref lanes[i];
                if (lane.Branch < 0)
                {
                    continue;
                }

                if (chosen[i] >= 0 && lane.IsWorthWhile)
                {
                    Try(i, (int)chosen[i]);
                    continue;
                }

                costs[lane.Branch] = lane.Cheapest;
                lane.Branch = -1;
                if (next < costs.Length)
                {
                    Start(i, next, branches[next++]);
                }
                else
                {
                    busy--;
                }
            }
        }

        return costs;
    }

    private void Start(int at, int number, in Branch branch)
    {
        ref var lane = ref lanes[at];
        var belief = lane.Belief.AsSpan();
        var before = now.AsSpan(0, belief.Length);
        var factor = branch.Factor.AsSpan(0, belief.Length);
        var atLeast = prices.AtLeast.AsSpan(0, belief.Length);
        var (mass, rest) = (0.0, 0.0);
        for (var f = 0; f < belief.Length; f++)
        {
            var chance = before[f] * factor[f];
            belief[f] = chance;
            mass += chance;
            rest += chance * atLeast[f];
        }

        var worth = prices.Worth[branch.State];
        var negligible = Negligible * mass;
        for (var (n, i) = (0, at); n < untried.Length; n++, i += Lanes)
        {
            var r = untried[n];
            var hit = 0.0;
            foreach (ref readonly var cure in network.CuresOf(r))
            {
                hit += belief[cure.Fault] * cure.Chance;
            }

            hits[i] = hit;
            worths[i] = r != branch.Tried && hit > negligible ? worth[r] : 0;
        }

        lane.Branch = number;
        lane.State = branch.State;
        (lane.Mass, lane.Negligible, lane.Rest) = (mass, negligible, rest);
        (lane.Total, lane.Cheapest) = (0, mass * prices.GivingUp);
    }

    /// <summary>In each lane the remedy of the best ratio, by its place among those left; −1: none.</summary>
    private void Likeliest(Span<double> chosen)
    {
        ref var hit = ref MemoryMarshal.GetArrayDataReference(hits);
        ref var worth = ref MemoryMarshal.GetArrayDataReference(worths);
        var (best, which) = (Vector512<double>.Zero, Vector512.Create(-1.0));
        for (var n = 0; n < untried.Length; n++)
        {
            var row = (nuint)(n * Lanes);
            var ratio = Vector512.LoadUnsafe(ref hit, row) * Vector512.LoadUnsafe(ref worth, row);
            which = Vector512.ConditionalSelect(Vector512.GreaterThan(ratio, best), Vector512.Create((double)n), which);
            best = Vector512.Max(best, ratio);
        }

        which.CopyTo(chosen);
    }

    /// <summary>Tries a remedy in vain: what it cures is off the lane's belief, and off what others might have cured.</summary>
    private void Try(int at, int n)
    {
        ref var lane = ref lanes[at];
        var r = untried[n];
        lane.Total += lane.Mass * prices.Minutes[lane.State][r];
        lane.Mass -= hits[(n * Lanes) + at];
        lane.Total += lane.Mass * network.FailureMinutes[r];
        lane.Cheapest = Math.Min(lane.Cheapest, lane.Total + (lane.Mass * prices.GivingUp));
        worths[(n * Lanes) + at] = 0;
        foreach (ref readonly var cure in network.CuresOf(r))
        {
            var gone = lane.Belief[cure.Fault] * cure.Chance;
            lane.Belief[cure.Fault] -= gone;
            lane.Rest -= gone * prices.AtLeast[cure.Fault];
            foreach (ref readonly var other in network.CuredBy[cure.Fault].AsSpan())
            {
                if (place[other.Remedy] is var p and >= 0)
                {
                    hits[(p * Lanes) + at] -= gone * other.Chance;
                }
            }
        }

        var state = RemedyPrices.After(lane.State, network.Opens[r], network.Lifts[r]);
        if (state == lane.State)
        {
            return;
        }

        lane.State = state;
        var worth = prices.Worth[state];
        for (var i = 0; i < untried.Length; i++)
        {
            ref var w = ref worths[(i * Lanes) + at];
            w = w == 0 ? 0 : worth[untried[i]];
        }
    }

    /// <param name="belief">By fault its chance.</param>
    private struct Lane(double[] belief)
    {
        public readonly double[] Belief = belief;

        /// <summary>Number of the branch that is worked through; −1: none.</summary>
        public int Branch = -1;

        /// <summary>As in <see cref="RemedyPrices.Minutes"/>.</summary>
        public int State;

        /// <summary>Chance that it is not cured yet.</summary>
        public double Mass;

        public double Negligible;

        /// <summary>What is left costs at least what knowing its faults would leave to pay.</summary>
        public double Rest;

        /// <summary>Cost so far.</summary>
        public double Total;

        /// <summary>Cost of the cheapest end so far.</summary>
        public double Cheapest;

        public readonly bool IsWorthWhile => Mass > Negligible && Total + Rest < Cheapest;
    }
}
