namespace Zenrik.Core.Triage;

/// <summary>
/// What must not be done to a machine, from what was said, found and tried, in that order. Nothing forbidden is proposed
/// (<see cref="TriageAdvisor"/>) and nothing forbidden is accepted (<see cref="Check"/>).
/// </summary>
public static class TriageSafety
{
    /// <summary>What is forbidden after some steps.</summary>
    public static IReadOnlySet<Need> Forbidden(TriageNetwork network, IEnumerable<TriageStep> steps) =>
        After(
            network.Forbidden,
            steps,
            id => network.Tests.FirstOrDefault(t => t.Id == id),
            id => network.Remedies.FirstOrDefault(r => r.Id == id)
        );

    /// <summary>What a complaint alone forbids.</summary>
    internal static IReadOnlySet<Need> Forbidden(
        TriageKnowledge all,
        IReadOnlyCollection<string> symptoms,
        IEnumerable<string> circumstances
    )
    {
        var shown = symptoms.Select(all.Symptom).OfType<Symptom>().ToList();
        return Under(
            shown
                .SelectMany(s => s.Forbids)
                .Concat(
                    // A machine that runs has its power already: what to do with it is triage's question, not a ban.
                    shown.Exists(s => s.Dead)
                        ? circumstances.Select(all.Circumstance).OfType<Circumstance>().SelectMany(c => c.Forbids)
                        : []
                )
        );
    }

    /// <summary>
    /// Whether a machine is taken to the bench now, as a refusal; null when it may be. One that must not get power is not:
    /// jobs there begin with what is read while it runs, and end by switching it on.
    /// </summary>
    /// <param name="steps">What triage has found and tried.</param>
    public static Refusal? CheckBench(
        TriageKnowledge all,
        IReadOnlyCollection<string> symptoms,
        IEnumerable<string> circumstances,
        IEnumerable<TriageStep> steps
    ) =>
        IsWithoutPower(all, symptoms, circumstances, steps)
            ? new Refusal(
                RefusalReason.Conflict,
                $"This machine must not get power yet, and the bench ends by switching it on.{First(all.Remedies)}"
            )
            : null;

    /// <summary>
    /// Whether a machine that nobody has repaired is given back now, as a refusal; null when it may be. Whoever gets it back
    /// switches it on, so of one that must not get power somebody says why it goes.
    /// </summary>
    /// <param name="steps">What triage has found and tried.</param>
    /// <param name="why">Why it goes back all the same, from <see cref="ShortestWhy"/> to <see cref="LongestWhy"/> characters; empty when nobody said.</param>
    public static Refusal? CheckGivenBack(
        TriageKnowledge all,
        IReadOnlyCollection<string> symptoms,
        IEnumerable<string> circumstances,
        IEnumerable<TriageStep> steps,
        string why
    ) =>
        !IsWithoutPower(all, symptoms, circumstances, steps) ? null
        : why.Length == 0
            ? new Refusal(
                RefusalReason.NeedsConfirmation,
                $"This machine must not get power yet, and whoever gets it back switches it on.{First(all.Remedies)} If it goes back all the same, say why."
            )
        : why.Length is < ShortestWhy or > LongestWhy
            ? new Refusal(
                RefusalReason.Invalid,
                $"Say in {ShortestWhy} to {LongestWhy} characters why it goes back as it is."
            )
        : null;

    public const int ShortestWhy = 5;

    public const int LongestWhy = 200;

    /// <summary>Whether a machine must not get power after some steps.</summary>
    public static bool IsWithoutPower(
        TriageKnowledge all,
        IReadOnlyCollection<string> symptoms,
        IEnumerable<string> circumstances,
        IEnumerable<TriageStep> steps
    ) => After(Forbidden(all, symptoms, circumstances), steps, all.Test, all.Remedy).Contains(Need.Power);

    /// <summary>The first step that was forbidden at its place, as a refusal; null when none was.</summary>
    public static Refusal? Check(TriageNetwork network, IReadOnlyList<TriageStep> steps)
    {
        for (var i = 0; i < steps.Count; i++)
        {
            var (title, needs) = steps[i] switch
            {
                TriageStep.Tested t => network.Tests.FirstOrDefault(x => x.Id == t.Test) is { } test
                    ? (test.Title, test.Needs)
                    : ("", []),
                TriageStep.Tried t => network.Remedies.FirstOrDefault(x => x.Id == t.Remedy) is { } remedy
                    ? (remedy.Title, remedy.Needs)
                    : ("", []),
                _ => throw new ArgumentOutOfRangeException(nameof(steps)),
            };
            if (needs.Intersect(Forbidden(network, steps.Take(i))).Any())
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"Not now: “{title}” needs {(needs.Contains(Need.Opened) && !needs.Contains(Need.Power) ? "the machine open" : "power")}, and this machine must not get it yet.{First(network.Remedies)}"
                );
            }
        }

        return null;
    }

    /// <summary>What was found dangerous, as what to do at once; null when nothing was, or when it has been made safe.</summary>
    public static string? Stop(TriageNetwork network, IEnumerable<TriageStep> steps) =>
        network.Case.MadeSafe
            ? null
            : steps
                .OfType<TriageStep.Tested>()
                .Select(t => OutcomeOf(network, t)?.Stop)
                .FirstOrDefault(s => s is not null);

    /// <summary>
    /// The complaint that sets a machine apart which a fault shows more often than not; null when it shows none. Nobody acts
    /// on such a fault before a person has said that the machine is safe, noticed or not.
    /// </summary>
    public static Symptom? StopOf(TriageKnowledge all, Fault fault) =>
        fault.Shows.Where(s => s.Value > 0.5).Select(s => all.Symptom(s.Key)).FirstOrDefault(s => s?.Stop is not null);

    /// <summary>Whether ending triage so is forbidden now: a part is not exchanged in, nor given back, what may not be switched on.</summary>
    public static Refusal? CheckEnd(TriageNetwork network, IReadOnlyList<TriageStep> steps, TriageStanding end) =>
        end is TriageStanding.SureEnough or TriageStanding.NoFaultFound or TriageStanding.Elsewhere
        && Forbidden(network, steps).Contains(Need.Power)
            ? new Refusal(
                RefusalReason.Conflict,
                $"This machine must not get power yet, so it cannot be repaired or given back.{First(network.Remedies)}"
            )
            : null;

    /// <summary>A set of needs with what they imply: without power nothing runs.</summary>
    internal static IReadOnlySet<Need> Under(IEnumerable<Need> forbidden)
    {
        var all = forbidden.ToHashSet();
        if (all.Contains(Need.Power))
        {
            all.Add(Need.Running);
        }

        return all;
    }

    private static HashSet<Need> After(
        IEnumerable<Need> before,
        IEnumerable<TriageStep> steps,
        Func<string, TriageTest?> testOf,
        Func<string, Remedy?> remedyOf
    )
    {
        var forbidden = before.ToHashSet();
        foreach (var step in steps)
        {
            var (forbids, allows) = step switch
            {
                TriageStep.Tested t when testOf(t.Test)?.Outcomes.FirstOrDefault(o => o.Id == t.Outcome) is { } seen =>
                    (seen.Forbids, seen.Allows),
                TriageStep.Tried t when remedyOf(t.Remedy) is { } remedy => ([], remedy.Allows),
                _ => ([], []),
            };
            forbidden.UnionWith(Under(forbids));
            // What lifts a ban on power lifts the one on running.
            forbidden.ExceptWith(Under(allows));
        }

        return forbidden;
    }

    private static string First(IEnumerable<Remedy> remedies) =>
        remedies.FirstOrDefault(r => r.Allows.Count > 0) is { } lift ? $" First: “{lift.Title}”." : "";

    private static TestOutcome? OutcomeOf(TriageNetwork network, TriageStep.Tested step) =>
        network.Tests.FirstOrDefault(t => t.Id == step.Test)?.Outcomes.FirstOrDefault(o => o.Id == step.Outcome);
}
