using System.Runtime.InteropServices;

namespace Zenrik.Core.Triage;

/// <summary>Expected costs from one belief on: of each test one answer ahead, of each remedy one failure ahead.</summary>
internal sealed class Outlook
{
    private const double Negligible = 1e-6;

    private readonly TriageNetwork network;
    private readonly TriageBelief belief;
    private readonly double[] now;
    private readonly RemedyPrices prices;
    private readonly int[] untried;
    private readonly int state;
    private readonly List<Choice> choices;
    private readonly List<Branch> branches;

    public Outlook(TriageNetwork network, TriageBelief belief)
    {
        (this.network, this.belief) = (network, belief);
        now = [.. belief.Chances];
        var left = new List<int>(network.Remedies.Count);
        for (var r = 0; r < network.Remedies.Count; r++)
        {
            if (!belief.RemediesTried.Contains(network.Remedies[r].Id))
            {
                left.Add(r);
            }
        }

        untried = [.. left];
        prices = new RemedyPrices(network, belief, untried);
        state = RemedyPrices.State(belief.Opened, belief.Forbidden.Count > 0);
        choices = new List<Choice>(network.Tests.Count + untried.Length);
        branches = new List<Branch>((3 * network.Tests.Count) + untried.Length);
    }

    /// <summary>The best act and the runner-up, best first; fewer when fewer are left.</summary>
    /// <param name="remedies">How many remedies are weighed, by their ratio of chance to cost.</param>
    public IReadOnlyList<TriageAct> BestTwo(int remedies)
    {
        Weigh(remedies, remedies);
        return choices.Count > 1 ? [Act(choices[0]), Act(choices[1])]
            : choices.Count > 0 ? [Act(choices[0])]
            : [];
    }

    /// <summary>Everything that can be done, the best first.</summary>
    /// <param name="remedies">As in <see cref="BestTwo"/>.</param>
    public IReadOnlyList<TriageAct> All(int remedies)
    {
        Weigh(int.MaxValue, remedies);
        return [.. choices.Select(Act)];
    }

    /// <summary>Something that can be done.</summary>
    /// <param name="Test">Index of a test; −1: a remedy.</param>
    /// <param name="Remedy">Index of a remedy; −1: a test.</param>
    /// <param name="Rank">For a remedy its rank by ratio, from 0; 0 for a test.</param>
    /// <param name="Minutes">Of the act alone.</param>
    /// <param name="Total">Of the act and all that is expected after it.</param>
    /// <param name="Hit">For a remedy its chance to cure now.</param>
    /// <param name="From">Number of the first branch it leads to.</param>
    /// <param name="Ways">How many branches it leads to.</param>
    private readonly record struct Choice(
        int Test,
        int Remedy,
        int Rank,
        double Minutes,
        double Total,
        double Hit,
        int From,
        int Ways
    );

    private void Weigh(int remedies, int preferable)
    {
        AddRemedies(remedies);
        AddTests();
        var costs = new Rollout(network, now, untried, prices).Costs(CollectionsMarshal.AsSpan(branches));
        foreach (ref var choice in CollectionsMarshal.AsSpan(choices))
        {
            var total = choice.Total;
            foreach (var cost in costs.AsSpan(choice.From, choice.Ways))
            {
                total += cost;
            }

            choice = choice with { Total = total };
        }

        Order(preferable);
    }

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
    /// <param name="weighed">How many remedies may be preferred, by their rank.</param>
    private void Order(int weighed)
    {
        choices.Sort(static (a, b) => a.Total.CompareTo(b.Total));
        if (choices.Count < 2)
        {
            return;
        }

        var (first, best) = (0, choices[0].Total);
        for (var i = 1; i < choices.Count && choices[i].Total <= Alike(best); i++)
        {
            if (
                Burden(choices[i]) < Burden(choices[first])
                && choices[i].Total <= WorthIts(best, choices[i].Minutes)
                && choices[i].Rank < weighed
            )
            {
                first = i;
            }
        }

        var preferred = choices[first];
        choices.RemoveAt(first);
        choices.Insert(0, preferred);
    }

    private int Burden(Choice choice)
    {
        if (choice.Test >= 0)
        {
            return !belief.Opened && network.Tests[choice.Test].Opens ? 2 : 0;
        }

        var remedy = network.Remedies[choice.Remedy];
        return !belief.Opened && remedy.Opens ? 2
            : remedy.Exchanges is not null || remedy.Ends is not null ? 1
            : 0;
    }

    private TriageAct Act(Choice choice)
    {
        if (choice.Test >= 0)
        {
            var test = network.Tests[choice.Test];
            return new TriageAct(test.Id, true, test.Title, choice.Minutes, choice.Total, 0);
        }

        var remedy = network.Remedies[choice.Remedy];
        return new TriageAct(
            remedy.Id,
            false,
            remedy.Title,
            choice.Minutes,
            choice.Total,
            choice.Hit,
            remedy.Price > 0 && !network.Case.Costs.Known.ContainsKey(remedy.Id)
        );
    }

    private void AddRemedies(int most)
    {
        var byRatio = Array.FindAll(untried, r => !prices.Forbidden[r] && !IsRash(r) && Hit(r) > Negligible);
        var keys = new double[byRatio.Length];
        for (var i = 0; i < byRatio.Length; i++)
        {
            keys[i] = -Hit(byRatio[i]) * prices.Worth[state][byRatio[i]];
        }

        Array.Sort(keys, byRatio);
        for (var rank = 0; rank < Math.Min(most, byRatio.Length); rank++)
        {
            var r = byRatio[rank];
            var failed = new double[now.Length];
            Array.Fill(failed, 1);
            foreach (ref readonly var cure in network.CuresOf(r))
            {
                failed[cure.Fault] -= cure.Chance;
            }

            var (hit, minutes) = (Hit(r), prices.Minutes[state][r]);
            choices.Add(
                new Choice(
                    -1,
                    r,
                    rank,
                    minutes,
                    minutes + ((1 - hit) * network.FailureMinutes[r]),
                    hit,
                    branches.Count,
                    1
                )
            );
            branches.Add(new Branch(failed, r, RemedyPrices.After(state, network.Opens[r], network.Lifts[r])));
        }
    }

    /// <summary>Nothing is given back as found while something is more likely wrong than not, however cheap that would be.</summary>
    private bool IsRash(int remedy) =>
        network.Remedies[remedy].Ends == RemedyEnd.NoFaultFound
        && network.NothingWrong >= 0
        && now[network.NothingWrong] < 0.5;

    private double Hit(int remedy)
    {
        var hit = 0.0;
        foreach (ref readonly var cure in network.CuresOf(remedy))
        {
            hit += now[cure.Fault] * cure.Chance;
        }

        return hit;
    }

    private void AddTests()
    {
        for (var t = 0; t < network.Tests.Count; t++)
        {
            var test = network.Tests[t];
            if (
                belief.TestsDone.Contains(test.Id)
                || (belief.Forbidden.Count > 0 && test.Needs.Any(belief.Forbidden.Contains))
            )
            {
                continue;
            }

            var minutes = test.Minutes + (test.Opens && !belief.Opened ? network.Case.Costs.OpeningMinutes : 0);
            var answers = network.Chances[t];
            choices.Add(new Choice(t, -1, 0, minutes, minutes, 0, branches.Count, answers.Length));
            for (var o = 0; o < answers.Length; o++)
            {
                branches.Add(
                    new Branch(answers[o], -1, RemedyPrices.After(state, test.Opens, test.Outcomes[o].Allows.Count > 0))
                );
            }
        }
    }
}
