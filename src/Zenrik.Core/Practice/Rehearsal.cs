using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.Practice;

/// <summary>An act where most goes wrong, and what does.</summary>
public sealed record RiskyAct(PlanStep Step, string GoesWrong);

/// <summary>A look at a job before it is done.</summary>
public static class Rehearsal
{
    /// <summary>
    /// The acts of a plan where most is lost in expectation, in the order they come: how often a slip happens at such a
    /// thing times what it costs. One for each kind of thing, so that three plugs of a kind are one warning.
    /// </summary>
    /// <remarks>Chances and costs are common practice, no published source.</remarks>
    public static IReadOnlyList<RiskyAct> Riskiest(Plan plan, int count = 3) =>
        [
            .. plan
                .Steps.Select(step => (Step: step, Risk: Risk(plan.Map, step)))
                .Where(r => r.Risk.Lost > 0)
                .GroupBy(r => r.Risk.Kind)
                .Select(g => g.MaxBy(r => r.Risk.Lost))
                .OrderByDescending(r => r.Risk.Lost)
                .Take(count)
                .OrderBy(r => r.Step.Number)
                .Select(r => new RiskyAct(r.Step, r.Risk.Says)),
        ];

    private static (string Kind, double Lost, string Says) Risk(ServiceMap map, PlanStep step)
    {
        var severe = step.Cautions.FirstOrDefault(c => c.Severity == Severity.Severe);
        if (severe is not null)
        {
            // Nothing weighs more than somebody hurt.
            return (severe.Text, 1000, severe.Text);
        }

        switch (step.Act.Kind)
        {
            case ActKind.Open or ActKind.Isolate:
                var opened = map.Joint(step.Act.Joint);
                var (tears, minutes) = Opening(opened.Kind);
                return (Topics.Of(opened.Kind), tears * minutes, opened.Kind.Handling().GoesWrong);
            case ActKind.Close or ActKind.Reconnect when map.Joint(step.Act.Joint).Kind == JointKind.CoaxSnap:
                return ("close:coax", 0.04 * 30, JointKind.CoaxSnap.Handling().GoesWrong);
            case ActKind.Free when map.Tie(step.Act.Tie) is var tie:
                return (
                    Topics.Of(tie.Kind),
                    tie.Kind.IsAdhesive() ? 0.08 * 60 : 0.03 * 30,
                    tie.Kind.IsAdhesive()
                        ? $"{Sentence.Capital(tie.Name)}: patience; forced, it bends before it comes."
                        : $"{Sentence.Capital(tie.Name)}: overlooked, the cable tears when the part is lifted."
                );
            case ActKind.Undo when map.Fastener(step.Act.Fastener) is var group:
                // Screws that stay in their part are not mixed up.
                var longer = map
                    .Fasteners.Where(f => f.Screw.IsMeasured && group.Screw.IsMeasured && f != group)
                    .Where(f =>
                        !f.Captive && f.Screw.Thread == group.Screw.Thread && f.Screw.LengthMm > group.Screw.LengthMm
                    )
                    .OrderByDescending(f => f.Screw.LengthMm)
                    .FirstOrDefault();
                return longer is not null && !group.Captive
                        ? (
                            Topics.Screws,
                            0.03 * 40,
                            $"{group.Screw.Size} here and {longer.Screw.Size} at {Wording.The(map.Part(longer.Holds).Name)}: the longer one in the shorter one's hole comes through."
                        )
                    : group.Recessed
                        ? (
                            "recessed",
                            0.03 * 15,
                            "A screw overlooked in its deep hole, and the part cracks when it is levered."
                        )
                    : ("", 0, "");
            case ActKind.CleanAndPaste:
                return (Topics.WayBack, 0.02 * 45, "Too much paste, or none: it shuts down hot and is opened again.");
            default:
                var warned = step.Cautions.FirstOrDefault(c => c.Severity == Severity.Warning);
                return warned is null ? ("", 0, "") : (warned.Text, 0.02 * 30, warned.Text);
        }
    }

    /// <summary>How often a joint of a kind is spoiled in opening, and the minutes that costs.</summary>
    private static (double Chance, double Minutes) Opening(JointKind kind) =>
        kind switch
        {
            JointKind.FlipLockRibbon => (0.04, 90),
            JointKind.SlideLockRibbon => (0.02, 90),
            JointKind.LeverLockDisplay => (0.02, 120),
            JointKind.PullTabPlug => (0.02, 45),
            JointKind.WirePlug => (0.03, 30),
            JointKind.CoaxSnap => (0.03, 30),
            JointKind.SocketedProcessor => (0.02, 180),
            JointKind.SlideContacts => (0.01, 60),
            _ => (0.005, 60),
        };
}
