namespace Zenrik.Core.Triage;

/// <summary>
/// What must not be done to a machine, from what was said, found and tried, in that order. Nothing forbidden is proposed
/// (<see cref="TriageAdvisor"/>) and nothing forbidden is accepted (<see cref="Check"/>).
/// </summary>
public static class TriageSafety
{
    /// <summary>What is forbidden after some steps.</summary>
    public static IReadOnlySet<Need> Forbidden(TriageNetwork network, IEnumerable<TriageStep> steps)
    {
        var forbidden = new HashSet<Need>(network.Forbidden);
        foreach (var step in steps)
        {
            var (forbids, allows) = Says(network, step);
            forbidden.UnionWith(Under(forbids));
            forbidden.ExceptWith(Over(allows));
        }

        return forbidden;
    }

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
                    $"Not now: “{title}” needs {(needs.Contains(Need.Opened) && !needs.Contains(Need.Power) ? "the machine open" : "power")}, and this machine must not get it yet.{First(network)}"
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

    /// <summary>Whether ending triage so is forbidden now: a part is not exchanged in, nor given back, what may not be switched on.</summary>
    public static Refusal? CheckEnd(TriageNetwork network, IReadOnlyList<TriageStep> steps, TriageStanding end) =>
        end is TriageStanding.SureEnough or TriageStanding.NoFaultFound or TriageStanding.Elsewhere
        && Forbidden(network, steps).Contains(Need.Power)
            ? new Refusal(
                RefusalReason.Conflict,
                $"This machine must not get power yet, so it cannot be repaired or given back.{First(network)}"
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

    /// <summary>What lifts a ban on power lifts the one on running.</summary>
    private static IReadOnlySet<Need> Over(IEnumerable<Need> allowed) => Under(allowed);

    private static string First(TriageNetwork network) =>
        network.Remedies.FirstOrDefault(r => r.Allows.Count > 0) is { } lift ? $" First: “{lift.Title}”." : "";

    private static (IEnumerable<Need> Forbids, IEnumerable<Need> Allows) Says(TriageNetwork network, TriageStep step) =>
        step switch
        {
            TriageStep.Tested tested when OutcomeOf(network, tested) is { } seen => (seen.Forbids, seen.Allows),
            TriageStep.Tried tried when network.Remedies.FirstOrDefault(r => r.Id == tried.Remedy) is { } remedy => (
                [],
                remedy.Allows
            ),
            _ => ([], []),
        };

    private static TestOutcome? OutcomeOf(TriageNetwork network, TriageStep.Tested step) =>
        network.Tests.FirstOrDefault(t => t.Id == step.Test)?.Outcomes.FirstOrDefault(o => o.Id == step.Outcome);
}
