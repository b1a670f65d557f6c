using System.Globalization;
using Zenrik.Core.Triage;

namespace Zenrik.Core.Practice;

/// <summary>One act of a diagnosis and what it showed.</summary>
/// <param name="Act">The test or remedy as it stood when it was chosen.</param>
/// <param name="Answer">What was seen, in words.</param>
/// <param name="Lost">Expected minutes more than the adviser's act would have come to; 0 where it was as good.</param>
/// <param name="Why">Where they went; empty when none were lost.</param>
public sealed record DiagnosisStep(TriageAct Act, string Answer, double Lost, string Why);

/// <summary>
/// A machine with a fault drawn from what triage knows. It answers tests and remedies truthfully, by the chances in the
/// knowledge; the same number always hides the same fault and gives the same answers.
/// </summary>
public sealed class Diagnosis
{
    /// <summary>Minutes by which two acts are as good as each other: the figures behind them are not finer.</summary>
    private const double Alike = 1;

    private readonly TriageNetwork network;
    private readonly int seed;
    private readonly int fault;
    private readonly List<TriageStep> steps = [];
    private readonly List<DiagnosisStep> done = [];

    public Diagnosis(TriageNetwork network, int seed)
    {
        (this.network, this.seed) = (network, seed);
        fault = Drawn("fault", network.Prior);
        Advice = Next();
        Expected = Advice.Best is { } best ? Ahead(best) : 0;
    }

    /// <summary>The diagnosis after some acts; what is not possible is left out.</summary>
    /// <param name="acts">Ids of tests and remedies.</param>
    public static Diagnosis After(TriageNetwork network, int seed, IEnumerable<string> acts)
    {
        var diagnosis = new Diagnosis(network, seed);
        foreach (var act in acts)
        {
            diagnosis.Do(act);
        }

        return diagnosis;
    }

    /// <summary>Minutes the adviser expected when it began.</summary>
    public double Expected { get; }

    /// <summary>What the adviser says now; a learner sees it afterwards.</summary>
    public TriageAdvice Advice { get; private set; }

    public IReadOnlyList<DiagnosisStep> Steps => done;

    /// <summary>Everything that can be done now, in the order of the knowledge: it gives nothing away.</summary>
    public IReadOnlyList<TriageAct> Choices =>
        Finished
            ? []
            : [.. TriageAdvisor.All(network, steps).Value.OrderBy(a => a.IsTest ? 0 : 1).ThenBy(a => a.Title)];

    public bool Finished { get; private set; }

    /// <summary>What it was.</summary>
    public Fault Fault => network.Faults[fault];

    /// <summary>True when what was wrong has been cured, or was rightly given to somebody else.</summary>
    public bool Cured { get; private set; }

    /// <summary>Minutes lost against the adviser's acts, in expectation: luck counts neither way.</summary>
    public double Lost => done.Sum(s => s.Lost);

    /// <summary>From 0 to 100: expected minutes in 100 of these and those lost.</summary>
    public int Points => Lost <= 0 ? 100 : Math.Min(99, (int)(100 * Expected / (Expected + Lost)));

    /// <summary>Does a test or tries a remedy.</summary>
    /// <returns>Refused when it cannot be done, or when all is over.</returns>
    public Outcome<DiagnosisStep> Do(string id)
    {
        if (Finished)
        {
            return new Refusal(RefusalReason.Conflict, "It is over: see what it was.");
        }

        var acts = TriageAdvisor.All(network, steps).Value;
        if (acts.FirstOrDefault(a => a.Id == id) is not { } act)
        {
            return new Refusal(RefusalReason.NotFound, "That cannot be done now.");
        }

        var best = Advice.Best ?? act;
        var (chosen, better) = (Ahead(act), Ahead(best));
        var lost = Math.Max(0, chosen - better - Alike);
        var (step, answer) = act.IsTest ? Tested(id) : Tried(id);
        var taken = new DiagnosisStep(
            act,
            answer,
            lost,
            lost <= 0 || best.Id == act.Id ? "" : Why(act, chosen, best, better)
        );
        steps.Add(step);
        done.Add(taken);
        Advice = Next();
        Cured = step is TriageStep.Tried { Cured: true };
        var ends = !act.IsTest && network.Remedies.First(r => r.Id == id).Ends is not null;
        Finished = Cured || ends || Advice.Best is null;
        return taken;
    }

    /// <summary>
    /// Expected minutes in all if an act is done next and the adviser followed from there: a step further than the adviser
    /// looks by itself, so that a cheap test before the best one costs its minutes and no more.
    /// </summary>
    private double Ahead(TriageAct act)
    {
        var belief = TriageBeliefs.After(network, steps).Value.Chances;
        double From(TriageStep step) =>
            TriageAdvisor.Next(network, [.. steps, step]).Try(out var next, out _) ? next.Best?.Total ?? 0 : 0;
        if (act.IsTest)
        {
            var t = network.Tests.Index().First(x => x.Item.Id == act.Id).Index;
            return act.Minutes
                + network
                    .Tests[t]
                    .Outcomes.Index()
                    .Sum(o =>
                    {
                        var chance = network.Chances[t][o.Index].Zip(belief, (c, b) => c * b).Sum();
                        return chance > 1e-6 ? chance * From(new TriageStep.Tested(act.Id, o.Item.Id)) : 0;
                    });
        }

        var r = network.Remedies.Index().First(x => x.Item.Id == act.Id).Index;
        var fails = 1 - act.CureChance;
        return act.Minutes
            + (fails > 1e-6 ? fails * (network.FailureMinutes[r] + From(new TriageStep.Tried(act.Id, false))) : 0);
    }

    private static string Why(TriageAct act, double chosen, TriageAct best, double better) =>
        string.Create(
            CultureInfo.InvariantCulture,
            $"“{best.Title}” first would have come to {better:0} minutes in all, this to {chosen:0}: {(best.IsTest ? "its answer is cheap and tells faults apart" : act.IsTest ? "the answer was not worth its minutes any more" : "it cures more often for what it costs")}."
        );

    private (TriageStep, string) Tested(string id)
    {
        var t = network.Tests.Index().First(x => x.Item.Id == id).Index;
        var test = network.Tests[t];
        var seen = test.Outcomes[Drawn(id, [.. network.Chances[t].Select(o => o[fault])])];
        return (new TriageStep.Tested(id, seen.Id), seen.Name);
    }

    private (TriageStep, string) Tried(string id)
    {
        var chance = network.ChanceToCure(id, network.Faults[fault].Id);
        var cured = Drawn(id, [chance, 1 - chance]) == 0;
        return (new TriageStep.Tried(id, cured), cured ? "the trouble is gone" : "it is as it was");
    }

    private TriageAdvice Next() => TriageAdvisor.Next(network, steps).Value;

    /// <summary>Draws one of several by their chances; for the same name always the same.</summary>
    private int Drawn(string name, double[] chances)
    {
        var at = new Random(Numbers.Mixed(seed, name)).NextDouble() * chances.Sum();
        for (var i = 0; i < chances.Length; i++)
        {
            at -= chances[i];
            if (at < 0)
            {
                return i;
            }
        }

        return chances.Index().Last(c => c.Item > 0).Index;
    }
}

internal static class Numbers
{
    /// <summary>A number that follows from a number and a name alone, on every machine (FNV-1a, 32 bits).</summary>
    public static int Mixed(int seed, string name)
    {
        var hash = 2166136261u ^ (uint)seed;
        foreach (var c in name)
        {
            hash = (hash ^ c) * 16777619u;
        }

        return (int)(hash & 0x7fffffff);
    }
}
