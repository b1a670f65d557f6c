using System.Numerics;
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
/// Finding the best ratio and taking off what was tried are most of the work. So as many branches as a vector holds are
/// worked through side by side, a lane each; those that try the same next do it at once.
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

    // By fault its chance.
    private readonly Vector512<double>[] beliefs;

    // By remedy left: its chance to cure, not above 0 when it is no choice; minutes of trying it; one over what trying and
    // failing cost.
    private readonly Vector512<double>[] hits;
    private readonly Vector512<double>[] minutes;
    private readonly Vector512<double>[] worths;

    // All bits set where the machine is open; where something is forbidden.
    private Vector512<double> open;
    private Vector512<double> banned;

    // The chance that it is not cured yet and when that is negligible; what knowing its faults would leave to pay at the
    // least; the cost so far, and that of the cheapest end so far.
    private Vector512<double> mass;
    private Vector512<double> negligible;
    private Vector512<double> rest;
    private Vector512<double> total;
    private Vector512<double> cheapest;

    public Rollout(TriageNetwork network, double[] now, int[] untried, RemedyPrices prices)
    {
        (this.network, this.now, this.untried, this.prices) = (network, now, untried, prices);
        beliefs = new Vector512<double>[now.Length];
        hits = new Vector512<double>[untried.Length];
        minutes = new Vector512<double>[untried.Length];
        worths = new Vector512<double>[untried.Length];
        place = new int[network.Remedies.Count];
        Array.Fill(place, -1);
        for (var n = 0; n < untried.Length; n++)
        {
            place[untried[n]] = n;
        }
    }

    /// <summary>Expected minutes of each branch, times the chance of getting there.</summary>
    public double[] Costs(ReadOnlySpan<Branch> branches)
    {
        var costs = new double[branches.Length];
        for (var first = 0; first < costs.Length; first += Lanes)
        {
            var some = branches[first..Math.Min(first + Lanes, costs.Length)];
            Begin(some);
            WorkThrough();
            for (var lane = 0; lane < some.Length; lane++)
            {
                costs[first + lane] = cheapest[lane];
            }
        }

        return costs;
    }

    private void Begin(ReadOnlySpan<Branch> branches)
    {
        var chances = MemoryMarshal.Cast<Vector512<double>, double>(beliefs.AsSpan());
        chances.Clear();
        Span<double> isOpen = stackalloc double[Lanes];
        Span<double> isBanned = stackalloc double[Lanes];
        for (var lane = 0; lane < branches.Length; lane++)
        {
            var factor = branches[lane].Factor.AsSpan(0, now.Length);
            for (int f = 0, i = lane; f < factor.Length; f++, i += Lanes)
            {
                chances[i] = now[f] * factor[f];
            }

            isOpen[lane] = Mask(RemedyPrices.IsOpen(branches[lane].State));
            isBanned[lane] = Mask(RemedyPrices.IsBanned(branches[lane].State));
        }

        (open, banned) = (Vector512.Create<double>(isOpen), Vector512.Create<double>(isBanned));
        (mass, rest, total) = (default, default, default);
        for (var f = 0; f < beliefs.Length; f++)
        {
            mass += beliefs[f];
            rest += beliefs[f] * prices.AtLeast[f];
        }

        (negligible, cheapest) = (mass * Negligible, mass * prices.GivingUp);
        for (var n = 0; n < untried.Length; n++)
        {
            var hit = Vector512<double>.Zero;
            foreach (ref readonly var cure in network.CuresOf(untried[n]))
            {
                hit += beliefs[cure.Fault] * cure.Chance;
            }

            hits[n] = hit & Vector512.GreaterThan(hit, negligible);
        }

        for (var lane = 0; lane < branches.Length; lane++)
        {
            if (branches[lane].Tried is var r and >= 0)
            {
                hits[place[r]] = hits[place[r]].WithElement(lane, 0);
            }
        }

        Price();

        static double Mask(bool yes) => BitConverter.Int64BitsToDouble(yes ? -1 : 0);
    }

    /// <summary>Minutes and worth of every remedy as the machine stands in each lane.</summary>
    private void Price()
    {
        for (var n = 0; n < untried.Length; n++)
        {
            minutes[n] = AsItStands(prices.Minutes, untried[n]);
            worths[n] = AsItStands(prices.Worth, untried[n]);
        }
    }

    private Vector512<double> AsItStands(double[][] byState, int remedy)
    {
        var free = Vector512.ConditionalSelect(
            open,
            Vector512.Create(byState[RemedyPrices.State(true, false)][remedy]),
            Vector512.Create(byState[RemedyPrices.State(false, false)][remedy])
        );
        return banned.ExtractMostSignificantBits() == 0
            ? free
            : Vector512.ConditionalSelect(
                banned,
                Vector512.ConditionalSelect(
                    open,
                    Vector512.Create(byState[RemedyPrices.State(true, true)][remedy]),
                    Vector512.Create(byState[RemedyPrices.State(false, true)][remedy])
                ),
                free
            );
    }

    /// <summary>Tries in each lane what has the best ratio, until no lane has anything left that is worth its while.</summary>
    private void WorkThrough()
    {
        Span<double> chosen = stackalloc double[Lanes];
        while (true)
        {
            var (best, which) = (Vector512<double>.Zero, Vector512<double>.Zero);
            for (var n = 0; n < hits.Length; n++)
            {
                var ratio = hits[n] * worths[n];
                which = Vector512.ConditionalSelect(
                    Vector512.GreaterThan(ratio, best),
                    Vector512.Create((double)n),
                    which
                );
                best = Vector512.Max(best, ratio);
            }

            var going =
                Vector512.GreaterThan(best, Vector512<double>.Zero)
                & Vector512.GreaterThan(mass, negligible)
                & Vector512.LessThan(total + rest, cheapest);
            which.CopyTo(chosen);
            var lanes = going.ExtractMostSignificantBits();
            if (lanes == 0)
            {
                return;
            }

            while (lanes != 0)
            {
                var n = (int)chosen[BitOperations.TrailingZeroCount(lanes)];
                var alike = going & Vector512.Equals(which, Vector512.Create((double)n));
                Try(n, alike);
                lanes &= ~alike.ExtractMostSignificantBits();
            }
        }
    }

    /// <summary>Tries a remedy in vain: what it cures is off the belief, and off what others might have cured.</summary>
    /// <param name="where">All bits set in the lanes where it is tried.</param>
    private void Try(int n, Vector512<double> where)
    {
        var r = untried[n];
        total += where & (mass * minutes[n]);
        mass -= where & hits[n];
        total += where & (mass * network.FailureMinutes[r]);
        cheapest = Vector512.Min(cheapest, total + (mass * prices.GivingUp));
        hits[n] = Vector512.AndNot(hits[n], where);
        foreach (ref readonly var cure in network.CuresOf(r))
        {
            var gone = where & (beliefs[cure.Fault] * cure.Chance);
            beliefs[cure.Fault] -= gone;
            rest -= gone * prices.AtLeast[cure.Fault];
            foreach (ref readonly var other in network.CuredBy[cure.Fault].AsSpan())
            {
                if (place[other.Remedy] is var p and >= 0)
                {
                    hits[p] -= gone * other.Chance;
                }
            }
        }

        var opened = network.Opens[r] ? Vector512.AndNot(where, open) : default;
        var allowed = network.Lifts[r] ? where & banned : default;
        if ((opened | allowed).ExtractMostSignificantBits() != 0)
        {
            open |= opened;
            banned = Vector512.AndNot(banned, allowed);
            Price();
        }
    }
}
