using Zenrik.Core.Triage;

namespace Zenrik.Core.Tests.Triage.Oracles;

/// <summary>What came of working on one broken machine.</summary>
/// <param name="Minutes">Spent, money counted as minutes.</param>
/// <param name="Right">Nothing was exchanged or given away before that which was wrong.</param>
internal sealed record TrialRun(double Minutes, bool Right);

/// <summary>Machines broken at random as the files say, worked on as the advice says or by a fixed list.</summary>
internal static class TriageTrial
{
    private const double SettingApartMinutes = 20;

    /// <summary>Follows the advice on a machine with a fault drawn from the network.</summary>
    public static TrialRun Advised(TriageNetwork network, Random random)
    {
        var truth = Draw(random, network.PriorChances);
        var (minutes, wrong, reached) = (0.0, false, false);
        var steps = new List<TriageStep>();
        while (TriageAdvisor.Next(network, steps).Value is { Standing: not TriageStanding.Cured } advice)
        {
            if (advice.Standing == TriageStanding.Stopped)
            {
                // Set apart, looked at by a lead, made safe: then it goes on as found.
                network = network.MadeSafe();
                minutes += SettingApartMinutes;
                continue;
            }

            if (advice.Best is not { } best)
            {
                break;
            }

            minutes += best.Minutes;
            if (best.IsTest)
            {
                var test = network.Tests.Index().First(t => t.Item.Id == best.Id);
                var chances = test.Item.Outcomes.Select((_, o) => network.Chances[test.Index][o][truth]).ToList();
                steps.Add(new TriageStep.Tested(best.Id, test.Item.Outcomes[Draw(random, chances)].Id));
                continue;
            }

            var remedy = network.Remedies.First(r => r.Id == best.Id);
            var chance = ChanceOf(network, remedy, truth);
            if (random.NextDouble() < chance)
            {
                return new TrialRun(minutes, reached || !wrong);
            }

            if (truth == network.NothingWrong && remedy.Ends is null && random.NextDouble() > TriageNetwork.StillThere)
            {
                // Nothing was wrong, and now it does not show: taken for cured.
                return new TrialRun(minutes, !wrong && remedy.Exchanges is null);
            }

            minutes += remedy.Ends is null ? 0 : network.Case.Costs.ComingBackMinutes;
            // The right part that was itself no good is no wrong judgement.
            wrong |= chance == 0 && (remedy.Exchanges is not null || remedy.Ends is not null);
            reached |= chance > 0 && !wrong && remedy.Exchanges is not null;
            steps.Add(new TriageStep.Tried(best.Id, false));
        }

        return new TrialRun(minutes + network.Case.Costs.GivingUpMinutes, reached);
    }

    /// <summary>
    /// The list on the wall: everything that needs no part, in the order of the files, then the parts that fail most first.
    /// </summary>
    public static double ByList(TriageNetwork network, Random random)
    {
        var truth = Draw(random, network.PriorChances);
        var list = network
            .Remedies.Where(r => r.Ends is null)
            .OrderBy(r => r.Exchanges is not null)
            .ThenBy(r => r.Opens)
            .ThenByDescending(r =>
                r.Exchanges is null
                    ? 0
                    : network.Faults.Select((f, i) => ChanceOf(network, r, i) * network.PriorChances[i]).Sum()
            );
        var (minutes, opened) = (0.0, false);
        foreach (var remedy in list)
        {
            minutes +=
                network.Case.Costs.Of(remedy) + (remedy.Opens && !opened ? network.Case.Costs.OpeningMinutes : 0);
            opened |= remedy.Opens;
            if (random.NextDouble() < ChanceOf(network, remedy, truth))
            {
                return minutes;
            }
        }

        return minutes + network.Case.Costs.GivingUpMinutes;
    }

    private static double ChanceOf(TriageNetwork network, Remedy remedy, int fault) =>
        network.ChanceToCure(remedy.Id, network.Faults[fault].Id);

    private static int Draw(Random random, IReadOnlyList<double> chances)
    {
        var at = random.NextDouble() * chances.Sum();
        for (var i = 0; i < chances.Count - 1; i++)
        {
            at -= chances[i];
            if (at < 0)
            {
                return i;
            }
        }

        return chances.Count - 1;
    }
}
