using Zenrik.Core.HouseRules;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Teardown;

/// <summary>A goal of a job under way.</summary>
/// <param name="Since">How many acts were done when it was set; what was done before does not count for it.</param>
public sealed record StandingGoal(Goal Goal, int Since = 0);

/// <summary>What remains of a job.</summary>
/// <param name="Acts">The acts, in the best order from where it stands.</param>
/// <param name="Gap">By what share what is taken out may take longer than the quickest; 0: it is the quickest.</param>
public sealed record Rest(IReadOnlyList<Act> Acts, double Gap);

/// <summary>
/// Plans what remains of a job from wherever it stands: after acts in another order, when another goal joins while the
/// machine is open, when a check failed and a joint is to be seated again.
/// </summary>
internal static class Continuation
{
    /// <summary>The acts that remain, cheapest way, best order.</summary>
    /// <param name="map">The map of the unit, already as the house works by it.</param>
    /// <param name="goals">All goals of the job, met or not.</param>
    /// <param name="done">The acts done so far.</param>
    /// <param name="basis">House rules and times.</param>
    /// <param name="limit">How long to search.</param>
    public static Outcome<Rest> Of(
        ServiceMap map,
        IReadOnlyList<StandingGoal> goals,
        IReadOnlyList<Act> done,
        Basis basis,
        SearchLimit limit = default
    )
    {
        if (
            !TeardownProblem
                .Of(map, [.. goals.Select(g => g.Goal).Distinct()], basis)
                .Try(out var problem, out var refusal)
        )
        {
            return refusal;
        }

        if (Remaining(map, goals, done, basis.Practice, problem, limit) is not { } rest)
        {
            return new Refusal(RefusalReason.Conflict, "Nothing on this map makes that possible from here.");
        }

        return Simulation.Check(map, [.. done, .. rest.Acts]) is { } violation
            ? new Refusal(RefusalReason.Conflict, $"From here there would be no way back. {violation.Reason}")
            : rest;
    }

    private static Rest? Remaining(
        ServiceMap map,
        IReadOnlyList<StandingGoal> goals,
        IReadOnlyList<Act> done,
        HousePractice practice,
        TeardownProblem problem,
        SearchLimit limit
    )
    {
        var standing = Standing.After(map, done, practice);
        var wanted = goals.Concat(TeardownProblem.Also(map, practice).Select(g => new StandingGoal(g)));
        var unmet = wanted.SelectMany(g => map.Needs(g.Goal).Where(r => !IsMet(r, g.Since))).ToList();
        var (more, gap) = unmet.Count == 0 ? ([], 0) : problem.SolveFrom(unmet, standing, limit);
        if (more is null)
        {
            return null;
        }

        List<Act> taken = [.. more.Where(a => a.Kind != ActKind.TurnOver)];
        var rest = new Completion(map, goals, done, practice).Of(standing.Out, taken);
        return new Rest(Turned(map, rest, standing, Completion.TestsBeforeCover(map, practice)), gap);

        // Done since the goal was set, or undone since: it was open then already.
        bool IsMet(Requirement requirement, int since) =>
            done.Skip(since).Any(d => requirement.AnyOf.Any(a => a == d || a.Reverse == d));
    }

    /// <summary>Turns the machine over where the other side is needed, and deck up for what is tried on the closed machine.</summary>
    private static List<Act> Turned(ServiceMap map, IEnumerable<Act> acts, Standing standing, bool testsEarly)
    {
        var (up, now) = (standing.Up, new WhatIsOut(standing.Out));
        var turned = new List<Act>();
        foreach (var act in acts)
        {
            var triedClosed = act.Kind == ActKind.Check || (act.Kind == ActKind.PowerTest && !testsEarly);
            var needed = triedClosed ? Side.Deck : now.SideUp(map, act);
            if (needed is { } side && side != up)
            {
                turned.Add(Act.TurnOver);
                up = side;
            }

            turned.Add(act);
            now.After(act);
        }

        if (up == Side.Base)
        {
            turned.Add(Act.TurnOver);
        }

        return turned;
    }
}
