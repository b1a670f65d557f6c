using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Teardown;

/// <summary>
/// A time that no order of a set of acts, or of more acts, goes below: along every chain of acts that cannot do without one
/// another, each tool is taken up once for every stretch of the chain that wants it, and so each side is turned to; of every
/// tool and side the chain counts that asks most of it.
/// </summary>
internal sealed class OrderBound
{
    private const int Never = int.MinValue / 2;

    private readonly IReadOnlyList<ActTraits> traits;
    private readonly ChoiceNetwork network;
    private readonly bool[] given;
    private readonly bool backIsFree;
    private readonly TakenUp hands;
    private readonly TakenUp backs;
    private readonly TakenUp sides;

    public OrderBound(TeardownProblem problem, Standing standing)
    {
        (traits, network) = (problem.Traits, problem.Network);
        given = new bool[traits.Count];
        foreach (var act in standing.Out)
        {
            given[network.IndexOf(act)] = true;
        }

        // Where nothing is out yet, the way back picks up its last tool for nothing.
        backIsFree = standing.BackHand == Tool.Fingers;
        hands = new TakenUp(this, [.. traits.Select(t => (int)t.ToolOut)], (int)standing.Hand);
        backs = new TakenUp(this, [.. traits.Select(t => (int)t.ToolBack)], (int)standing.BackHand);
        // Sides count from 1, and what may be off its place by then has none.
        sides = new TakenUp(
            this,
            [
                .. traits.Select(
                    (t, a) =>
                        t.SideUp is { } side
                        && Array.TrueForAll(t.InHandAfter, b => !given[b] && network.Necessary[b][a])
                            ? (int)side + 1
                            : 0
                ),
            ],
            (int)standing.Up + 1
        );
    }

    /// <summary>Milliseconds.</summary>
    public long Of(Bits acts)
    {
        var back = Math.Max(0, backs.Least(acts) - (backIsFree ? 1 : 0));
        return ((hands.Least(acts) + back) * TeardownProblem.ToolChangeMs)
            + (sides.Least(acts) * TeardownProblem.TurnOverMs);
    }

    /// <summary>How often each of some kinds is taken up on the chains that end with an act.</summary>
    private sealed class TakenUp
    {
        private readonly int[] kinds;
        private readonly int[][] until; // By act, per kind: the most on a chain that ends with it.

        /// <param name="of">The acts and what each cannot do without.</param>
        /// <param name="wants">By act: what it wants; 0: whatever there is.</param>
        /// <param name="first">What there is at the beginning.</param>
        public TakenUp(OrderBound of, int[] wants, int first)
        {
            kinds = [.. wants.Where(w => w != 0).Distinct()];
            // Per kind: the most so far if it is there after the act, and if it is not.
            var after = new int[wants.Length][];
            until = new int[wants.Length][];
            for (var a = 0; a < wants.Length; a++)
            {
                var counts = After(a);
                until[a] = new int[kinds.Length];
                for (var k = 0; k < kinds.Length; k++)
                {
                    until[a][k] = of.given[a] ? 0 : Math.Max(counts[2 * k], counts[(2 * k) + 1]);
                }
            }

            int[] After(int act)
            {
                if (after[act] is { } counted)
                {
                    return counted;
                }

                var counts = after[act] = new int[2 * kinds.Length];
                for (var k = 0; k < kinds.Length; k++)
                {
                    (counts[2 * k], counts[(2 * k) + 1]) = kinds[k] == first ? (0, Never) : (Never, 0);
                }

                foreach (var clause in of.network.Clauses[act])
                {
                    // Acts without alternative wait for one another in no circle, or can never be chosen.
                    if (clause is [var only] && !of.given[only])
                    {
                        var before = After(only);
                        for (var i = 0; i < counts.Length; i++)
                        {
                            counts[i] = Math.Max(counts[i], before[i]);
                        }
                    }
                }

                for (var k = 0; wants[act] != 0 && k < kinds.Length; k++)
                {
                    var (there, apart) = (counts[2 * k], counts[(2 * k) + 1]);
                    (counts[2 * k], counts[(2 * k) + 1]) =
                        kinds[k] == wants[act] ? (Math.Max(there, apart + 1), Never) : (Never, Math.Max(there, apart));
                }

                return counts;
            }
        }

        public int Least(Bits acts)
        {
            Span<int> most = stackalloc int[kinds.Length];
            most.Clear();
            foreach (var act in acts.Members)
            {
                for (var k = 0; k < most.Length; k++)
                {
                    most[k] = Math.Max(most[k], until[act][k]);
                }
            }

            var sum = 0;
            foreach (var count in most)
            {
                sum += count;
            }

            return sum;
        }
    }
}
