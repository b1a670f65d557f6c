namespace Zenrik.Core.Triage;

/// <summary>Something a technician did during triage.</summary>
public abstract record TriageStep
{
    private TriageStep() { }

    /// <param name="Outcome">Id of the outcome seen; null when it could not be told.</param>
    public sealed record Tested(string Test, string? Outcome) : TriageStep;

    /// <param name="Cured">True when the trouble was gone afterwards.</param>
    public sealed record Tried(string Remedy, bool Cured) : TriageStep;
}

/// <summary>What is believed after some steps.</summary>
/// <param name="Chances">Of each fault, in the network's order; they add up to 1.</param>
/// <param name="CuredBy">The remedy that ended the trouble, or null.</param>
public sealed record TriageBelief(
    IReadOnlyList<double> Chances,
    IReadOnlySet<string> TestsDone,
    IReadOnlySet<string> RemediesTried,
    bool Opened,
    IReadOnlySet<Need> Forbidden,
    string? CuredBy
);

/// <summary>Bayes' rule over the steps, whatever their order.</summary>
public static class TriageBeliefs
{
    /// <summary>
    /// The belief after some steps: for a test, prior × chance of its outcome under each fault; for a remedy that did not
    /// cure, prior × (1 − its chance to cure); scaled to 1. Order does not matter, so a step can be taken back.
    /// </summary>
    /// <returns>A refusal naming the fewest answers that no known fault makes possible together.</returns>
    public static Outcome<TriageBelief> After(TriageNetwork network, IReadOnlyList<TriageStep> steps)
    {
        var factors = new List<(string What, double[] Factor)>();
        var (tests, remedies) = (new HashSet<string>(), new HashSet<string>());
        var opened = false;
        string? curedBy = null;
        foreach (var step in steps)
        {
            if (curedBy is not null)
            {
                return new Refusal(RefusalReason.Conflict, "The trouble is cured; nothing is tried after that.");
            }

            switch (step)
            {
                case TriageStep.Tested tested:
                    var t = network.Tests.Index().FirstOrDefault(x => x.Item.Id == tested.Test, (-1, null!));
                    if (t.Index < 0)
                    {
                        return new Refusal(
                            RefusalReason.NotFound,
                            $"The test \"{tested.Test}\" says nothing about this trouble."
                        );
                    }

                    if (!tests.Add(tested.Test))
                    {
                        return new Refusal(
                            RefusalReason.Conflict,
                            $"\"{t.Item.Title}\" has been answered. Take the answer back to change it."
                        );
                    }

                    opened |= t.Item.Opens;
                    if (tested.Outcome is { } seen)
                    {
                        var o = t.Item.Outcomes.Index().FirstOrDefault(x => x.Item.Id == seen, (-1, null!));
                        if (o.Index < 0)
                        {
                            return new Refusal(RefusalReason.NotFound, $"\"{t.Item.Title}\" has no answer \"{seen}\".");
                        }

                        factors.Add(($"“{t.Item.Title}” {o.Item.Name}", network.Chances[t.Index][o.Index]));
                    }

                    break;
                case TriageStep.Tried tried:
                    var r = network.Remedies.Index().FirstOrDefault(x => x.Item.Id == tried.Remedy, (-1, null!));
                    if (r.Index < 0)
                    {
                        return new Refusal(
                            RefusalReason.NotFound,
                            $"\"{tried.Remedy}\" can cure nothing that explains this trouble."
                        );
                    }

                    if (!remedies.Add(tried.Remedy))
                    {
                        return new Refusal(RefusalReason.Conflict, $"\"{r.Item.Title}\" has been tried.");
                    }

                    opened |= r.Item.Opens;
                    curedBy = tried.Cured ? tried.Remedy : null;
                    var factor = new double[network.Faults.Count];
                    Array.Fill(factor, tried.Cured ? 0 : 1);
                    foreach (ref readonly var cure in network.CuresOf(r.Index))
                    {
                        factor[cure.Fault] = tried.Cured ? cure.Chance : 1 - cure.Chance;
                    }

                    if (!tried.Cured && r.Item.Ends is null && network.NothingWrong >= 0)
                    {
                        factor[network.NothingWrong] *= TriageNetwork.StillThere;
                    }

                    factors.Add(($"“{r.Item.Title}” {(tried.Cured ? "cured it" : "did not help")}", factor));
                    break;
            }
        }

        return Multiply(network.Prior, factors.Select(f => f.Factor)) is { } chances
            ? new TriageBelief(chances, tests, remedies, opened, TriageSafety.Forbidden(network, steps), curedBy)
            : Contradiction(network.Prior, factors);
    }

    private static double[]? Multiply(double[] prior, IEnumerable<double[]> factors)
    {
        var belief = (double[])prior.Clone();
        foreach (var factor in factors)
        {
            for (var f = 0; f < belief.Length; f++)
            {
                belief[f] *= factor[f];
            }
        }

        var sum = belief.Sum();
        return sum > 0 ? [.. belief.Select(b => b / sum)] : null;
    }

    /// <summary>Leaves out every answer that is not needed for the contradiction; the rest is a smallest set of them.</summary>
    private static Refusal Contradiction(double[] prior, List<(string What, double[] Factor)> factors)
    {
        for (var i = factors.Count - 1; i >= 0; i--)
        {
            var without = factors.Where((_, n) => n != i).ToList();
            if (Multiply(prior, without.Select(f => f.Factor)) is null)
            {
                factors = without;
            }
        }

        return new Refusal(
            RefusalReason.Conflict,
            $"No known fault allows {string.Join(" together with ", factors.Select(f => f.What))}. "
                + "Nothing was changed. Look again, answer “could not tell”, or take one of them back."
        );
    }
}
