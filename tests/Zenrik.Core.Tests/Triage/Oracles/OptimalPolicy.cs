using Zenrik.Core.Triage;

namespace Zenrik.Core.Tests.Triage.Oracles;

/// <summary>
/// Expected costs by dynamic programming over everything that can be done and seen, written from the definitions: the
/// cheapest policy there is, the cheapest order of remedies, and what following the advice costs.
/// </summary>
internal static class OptimalPolicy
{
    /// <summary>Least expected cost of any policy.</summary>
    public static double Cost(TriageNetwork network) => Cost(network, [.. network.PriorChances], [], []);

    private static double Cost(TriageNetwork network, double[] belief, HashSet<string> tests, HashSet<string> remedies)
    {
        // Beliefs are not scaled: every figure is already weighed by the chance to come here.
        var mass = belief.Sum();
        if (mass < 1e-9)
        {
            return 0;
        }

        var best = mass * network.Case.Costs.GivingUpMinutes;
        foreach (var remedy in network.Remedies.Where(r => !remedies.Contains(r.Id)))
        {
            var failed = belief.Select((b, f) => b * (1 - Cure(network, remedy, network.Faults[f]))).ToArray();
            best = Math.Min(
                best,
                (mass * network.Case.Costs.Of(remedy)) + Cost(network, failed, tests, [.. remedies, remedy.Id])
            );
        }

        foreach (var test in network.Tests.Where(t => !tests.Contains(t.Id)))
        {
            var cost = mass * test.Minutes;
            for (var o = 0; o < test.Outcomes.Count; o++)
            {
                var seen = belief.Select((b, f) => b * Chance(test, network.Faults[f], o)).ToArray();
                cost += Cost(network, seen, [.. tests, test.Id], remedies);
            }

            best = Math.Min(best, cost);
        }

        return best;
    }

    /// <summary>Expected cost of doing what the advice says, whatever it says, until cured or given up.</summary>
    public static double CostOfAdvice(TriageNetwork network) => CostOfAdvice(network, [.. network.PriorChances], []);

    private static double CostOfAdvice(TriageNetwork network, double[] belief, TriageStep[] steps)
    {
        var mass = belief.Sum();
        if (mass < 1e-9)
        {
            return 0;
        }

        var giveUp = mass * network.Case.Costs.GivingUpMinutes;
        var advice = TriageAdvisor.Next(network, steps).Value;
        if (advice.Best is not { } best || best.Total > network.Case.Costs.GivingUpMinutes)
        {
            return giveUp;
        }

        if (!best.IsTest)
        {
            var remedy = network.Remedies.First(r => r.Id == best.Id);
            var failed = belief.Select((b, f) => b * (1 - Cure(network, remedy, network.Faults[f]))).ToArray();
            return (mass * network.Case.Costs.Of(remedy))
                + CostOfAdvice(network, failed, [.. steps, new TriageStep.Tried(best.Id, false)]);
        }

        var test = network.Tests.First(t => t.Id == best.Id);
        var cost = mass * test.Minutes;
        for (var o = 0; o < test.Outcomes.Count; o++)
        {
            var seen = belief.Select((b, f) => b * Chance(test, network.Faults[f], o)).ToArray();
            cost += CostOfAdvice(network, seen, [.. steps, new TriageStep.Tested(test.Id, test.Outcomes[o].Id)]);
        }

        return cost;
    }

    /// <summary>Least expected cost over all orders of all remedies, giving up at the end.</summary>
    public static double CheapestOrder(TriageNetwork network) =>
        Orders([.. network.Remedies]).Min(order => CostOfOrder(network, order));

    private static double CostOfOrder(TriageNetwork network, IReadOnlyList<Remedy> order)
    {
        var belief = network.PriorChances.ToArray();
        var cost = 0.0;
        var cheapest = belief.Sum() * network.Case.Costs.GivingUpMinutes;
        foreach (var remedy in order)
        {
            cost += belief.Sum() * network.Case.Costs.Of(remedy);
            belief = [.. belief.Select((b, f) => b * (1 - Cure(network, remedy, network.Faults[f])))];
            cost += belief.Sum() * (remedy.Exchanges is null ? 0 : network.Case.Costs.WrongPartMinutes);
            // An order may end anywhere.
            cheapest = Math.Min(cheapest, cost + (belief.Sum() * network.Case.Costs.GivingUpMinutes));
        }

        return cheapest;
    }

    private static IEnumerable<IReadOnlyList<Remedy>> Orders(IReadOnlyList<Remedy> left) =>
        left.Count == 0
            ?
            [
                [],
            ]
            : left.SelectMany(first =>
                Orders([.. left.Where(r => r != first)]).Select(rest => (IReadOnlyList<Remedy>)[first, .. rest])
            );

    private static double Chance(TriageTest test, Fault fault, int outcome) =>
        (test.Given.FirstOrDefault(g => g.Faults.Contains(fault.Id))?.Chances ?? test.Otherwise)[outcome];

    private static double Cure(TriageNetwork network, Remedy remedy, Fault fault) =>
        remedy.Cures.FirstOrDefault(c => c.Faults.Contains(fault.Id))?.Chance ?? 0;
}
