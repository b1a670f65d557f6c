namespace Zenrik.Core.Triage;

/// <summary>
/// Minutes that remedies cost as the machine stands. Opening is paid once; while something is forbidden, those that need
/// it pay for what allows it again.
/// </summary>
internal sealed class RemedyPrices
{
    public RemedyPrices(TriageNetwork network, TriageBelief belief, int[] untried)
    {
        var (opened, closed) = (network.RemedyMinutes, new double[network.RemedyMinutes.Length]);
        var opening = network.Case.Costs.OpeningMinutes;
        for (var r = 0; r < closed.Length; r++)
        {
            closed[r] = opened[r] + (network.Opens[r] ? opening : 0);
        }

        GivingUp = network.Case.Costs.GivingUpMinutes;
        Forbidden = new bool[closed.Length];
        Minutes = [closed, opened, closed, opened];
        if (belief.Forbidden.Count > 0)
        {
            for (var r = 0; r < closed.Length; r++)
            {
                Forbidden[r] = network.Remedies[r].Needs.Any(belief.Forbidden.Contains);
            }

            var lifts = untried.Where(r => network.Lifts[r] && !Forbidden[r]).Select(r => opened[r]);
            var price = lifts.DefaultIfEmpty(GivingUp).Min();
            Minutes[2] = [.. opened.Select((c, r) => Forbidden[r] ? c + price + opening : closed[r])];
            Minutes[3] = [.. opened.Select((c, r) => Forbidden[r] ? c + price : c)];
        }

        Worth = [Inverse(closed), Inverse(opened), Inverse(Minutes[2]), Inverse(Minutes[3])];
        AtLeast = new double[network.Faults.Count];
        Array.Fill(AtLeast, GivingUp);
        foreach (var r in untried)
        {
            foreach (ref readonly var cure in network.CuresOf(r))
            {
                AtLeast[cure.Fault] = Math.Min(AtLeast[cure.Fault], opened[r]);
            }
        }

        double[] Inverse(double[] minutes)
        {
            var worth = new double[minutes.Length];
            for (var r = 0; r < worth.Length; r++)
            {
                // What costs nothing at all goes before everything.
                worth[r] = 1 / Math.Max(minutes[r] + network.FailureMinutes[r], 1e-9);
            }

            return worth;
        }
    }

    /// <summary>By state (closed, open, closed under a ban, open under a ban), then remedy.</summary>
    public double[][] Minutes { get; }

    /// <summary>As <see cref="Minutes"/>: one over what trying and failing cost; times a chance, the ratio of Smith's rule.</summary>
    public double[][] Worth { get; }

    /// <summary>The state by its number in <see cref="Minutes"/>.</summary>
    public static int State(bool open, bool banned) => (open ? 1 : 0) | (banned ? 2 : 0);

    /// <summary>True when the machine is open in a state.</summary>
    public static bool IsOpen(int state) => (state & 1) != 0;

    /// <summary>True when something is forbidden in a state.</summary>
    public static bool IsBanned(int state) => (state & 2) != 0;

    /// <summary>The state after something was done that may have opened the machine, or have lifted what was forbidden.</summary>
    public static int After(int state, bool opens, bool lifts) => (state | (opens ? 1 : 0)) & (lifts ? ~2 : ~0);

    /// <summary>By remedy: true when it needs what is forbidden.</summary>
    public bool[] Forbidden { get; }

    /// <summary>By fault: what it costs at least, if it were known and cured at its cheapest.</summary>
    public double[] AtLeast { get; }

    public double GivingUp { get; }
}
