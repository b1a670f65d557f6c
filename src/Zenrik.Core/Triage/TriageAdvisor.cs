namespace Zenrik.Core.Triage;

/// <summary>A test or remedy one could do now.</summary>
/// <param name="Id">Of the test or remedy.</param>
/// <param name="Minutes">What it costs by itself, opening included where that is still to do.</param>
/// <param name="Total">Expected minutes until cured or given away if it is done next and all goes on as well as known.</param>
/// <param name="CureChance">For a remedy, the chance that it cures now; 0 for a test.</param>
/// <param name="Estimated">True for an exchange whose minutes and price come from the files, not from this unit's plan and a known price.</param>
public sealed record TriageAct(
    string Id,
    bool IsTest,
    string Title,
    double Minutes,
    double Total,
    double CureChance,
    bool Estimated = false
);

/// <summary>A fault and how likely it is now.</summary>
public sealed record FaultChance(Fault Fault, double Chance, double Before);

public enum TriageStanding
{
    /// <summary>Testing or trying goes on.</summary>
    Open,

    /// <summary>A remedy cured it.</summary>
    Cured,

    /// <summary>Exchanging a component is the next best act: no test is worth its minutes any more.</summary>
    SureEnough,

    /// <summary>Giving it back is the next best act.</summary>
    NoFaultFound,

    /// <summary>The specialist is the next best act.</summary>
    BeyondBench,

    /// <summary>Handing the cause to somebody else is the next best act.</summary>
    Elsewhere,

    /// <summary>Nothing known explains it: what was tried and believed is written down, and a person decides.</summary>
    NotExplained,

    /// <summary>Something dangerous was found: nothing is tested, charged or opened until a person says it is safe.</summary>
    Stopped,
}

/// <summary>What to do next and why.</summary>
/// <param name="Best">Null when it is cured, or when nothing is left to do.</param>
/// <param name="Reason">Why the best act is the best, one sentence.</param>
/// <param name="Faults">Likeliest first.</param>
public sealed record TriageAdvice(
    TriageStanding Standing,
    TriageAct? Best,
    TriageAct? RunnerUp,
    string Reason,
    IReadOnlyList<FaultChance> Faults
)
{
    /// <summary>The likeliest fault of the component that is to be exchanged; else the likeliest of all.</summary>
    public Fault Leading(TriageKnowledge all) =>
        Best is { IsTest: false } best && all.Remedy(best.Id)?.Exchanges is { } component
            ? (Faults.FirstOrDefault(f => f.Fault.Component == component) ?? Faults[0]).Fault
            : Faults[0].Fault;
}

/// <summary>
/// The next best act by expected cost of repair. Remedies alone are tried by the ratio of chance to cost, which is the
/// cheapest order for one fault and independent costs (Heckerman, Breese and Rommelse, "Decision-theoretic
/// troubleshooting", Communications of the ACM 38(3), 1995). A test is worth doing when its minutes and the expected cost
/// after its answer come to less (one step of look-ahead).
/// </summary>
public static class TriageAdvisor
{
    private const int RemediesWeighed = 4;

    /// <summary>What to do after the steps so far.</summary>
    public static Outcome<TriageAdvice> Next(TriageNetwork network, IReadOnlyList<TriageStep> steps)
    {
        if (!TriageBeliefs.After(network, steps).Try(out var belief, out var contradiction))
        {
            return contradiction;
        }

        var faults = new FaultChance[network.Faults.Count];
        for (var f = 0; f < faults.Length; f++)
        {
            faults[f] = new FaultChance(network.Faults[f], belief.Chances[f], network.Prior[f]);
        }

        Array.Sort(faults, (a, b) => b.Chance.CompareTo(a.Chance));
        if (TriageSafety.Stop(network, steps) is { } danger)
        {
            return new TriageAdvice(TriageStanding.Stopped, null, null, danger, faults);
        }

        if (belief.CuredBy is { } cure)
        {
            var title = network.Remedies.First(r => r.Id == cure).Title;
            return new TriageAdvice(TriageStanding.Cured, null, null, $"“{title}” cured it.", faults);
        }

        var acts = new Outlook(network, belief).BestTwo(RemediesWeighed);
        if (acts.Count == 0)
        {
            return new TriageAdvice(
                TriageStanding.NotExplained,
                null,
                null,
                NotExplained(network, steps, faults),
                faults
            );
        }

        var best = acts[0];
        var standing = best.IsTest
            ? TriageStanding.Open
            : network.Remedies.First(r => r.Id == best.Id) switch
            {
                { Ends: RemedyEnd.NoFaultFound } => TriageStanding.NoFaultFound,
                { Ends: RemedyEnd.BeyondBench } => TriageStanding.BeyondBench,
                { Ends: RemedyEnd.Elsewhere } => TriageStanding.Elsewhere,
                { Ends: RemedyEnd.NotExplained } => TriageStanding.NotExplained,
                { Exchanges: not null } => TriageStanding.SureEnough,
                _ => TriageStanding.Open,
            };
        return new TriageAdvice(
            standing,
            best,
            acts.Count > 1 ? acts[1] : null,
            standing == TriageStanding.NotExplained
                ? NotExplained(network, steps, faults)
                : Reason(best, acts.Count > 1 ? acts[1] : null),
            faults
        );
    }

    /// <summary>Everything that can still be done, the expected best first.</summary>
    public static Outcome<IReadOnlyList<TriageAct>> All(TriageNetwork network, IReadOnlyList<TriageStep> steps) =>
        TriageBeliefs.After(network, steps).Try(out var belief, out var contradiction)
            ? new Outlook(network, belief).All(RemediesWeighed).ToList()
            : contradiction;

    /// <summary>"Tried this, believed that": what a person decides on.</summary>
    private static string NotExplained(TriageNetwork network, IReadOnlyList<TriageStep> steps, FaultChance[] faults)
    {
        var tried = steps
            .OfType<TriageStep.Tried>()
            .Select(t => network.Remedies.First(r => r.Id == t.Remedy).Title)
            .ToList();
        var likeliest = faults.FirstOrDefault(f => f.Fault.Nature is not (FaultNature.Unknown or FaultNature.None));
        return FormattableString
            .Invariant(
                $"Nothing known here explains it. {(tried.Count == 0 ? "Nothing has been tried" : $"Tried without success: {string.Join("; ", tried)}")}. {(likeliest is null ? "" : $"Likeliest of what is known: {likeliest.Fault.Name}, {likeliest.Chance * 100:0} of 100.")}"
            )
            .TrimEnd();
    }

    private static string Reason(TriageAct best, TriageAct? second)
    {
        static string M(double minutes) =>
            minutes.ToString(minutes < 9.5 ? "0.#" : "0", System.Globalization.CultureInfo.InvariantCulture);
        static string Chance(double p) => p > 0.995 ? "practically surely" : $"in {p * 100:0} of 100 cases";
        var against =
            second is null ? "There is nothing else to do."
            : M(best.Total) == M(second.Total)
                ? $"Expected minutes in all: {M(best.Total)}; as many when “{second.Title}” comes first."
            // Of those as good as each other the one that opens or exchanges less goes first.
            : best.Total > second.Total
                ? $"Expected minutes in all: {M(best.Total)}, as good as the {M(second.Total)} when “{second.Title}” comes first, and less is done to the machine."
            : $"Expected minutes in all: {M(best.Total)}, against {M(second.Total)} when “{second.Title}” comes first.";
        return best.IsTest
            ? FormattableString.Invariant(
                $"The answer tells faults apart for {(M(best.Minutes) == "1" ? "1 minute" : $"{M(best.Minutes)} minutes")}. {against}"
            )
            : FormattableString.Invariant(
                $"It cures {Chance(best.CureChance)}, and no test is worth its minutes before it. {against}"
            );
    }
}
