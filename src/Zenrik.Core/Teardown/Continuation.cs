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
internal sealed class Continuation
{
    private readonly ServiceMap map;
    private readonly IReadOnlyList<StandingGoal> goals;
    private readonly IReadOnlyList<Act> done;
    private readonly HousePractice practice;
    private readonly HashSet<PartId> replaced;

    private Continuation(
        ServiceMap map,
        IReadOnlyList<StandingGoal> goals,
        IReadOnlyList<Act> done,
        HousePractice practice
    )
    {
        (this.map, this.goals, this.done, this.practice) = (map, goals, done, practice);
        replaced = map.Replaced(goals.Select(g => g.Goal)).Select(a => a.Part).ToHashSet();
    }

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
        if (!TeardownProblem.Of(map, [.. goals.Select(g => g.Goal)], basis).Try(out var problem, out var refusal))
        {
            return refusal;
        }

        if (new Continuation(map, goals, done, basis.Practice).Remaining(problem, limit) is not { } rest)
        {
            return new Refusal(RefusalReason.Conflict, "Nothing on this map makes that possible from here.");
        }

        return Simulation.Check(map, [.. done, .. rest.Acts]) is { } violation
            ? new Refusal(RefusalReason.Conflict, $"From here there would be no way back. {violation.Reason}")
            : rest;
    }

    private Rest? Remaining(TeardownProblem problem, SearchLimit limit)
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
        List<Act> all = [.. standing.Out, .. taken];
        List<Act> clean = [.. ToClean(all)];
        var checks = ChecksOwed([.. taken, .. clean]);
        List<Act> rest = [.. Preparations(opens: taken.Count > 0, checks)];
        rest.AddRange(standing.Out.SelectMany(NumberOf));
        foreach (var act in taken)
        {
            rest.Add(act);
            rest.AddRange(NumberOf(act));
        }

        rest.AddRange(clean);
        rest.AddRange(WayBack(all, standing.Out.Count));
        rest.AddRange(
            TeardownPlanner
                .CloseOut(map, checks, replaced, practice)
                .Where(a => a.Kind != ActKind.FillDrive || !done.Contains(a))
        );
        return new Rest(Turned(rest, standing), gap);
    }

    /// <summary>What comes before opening; once more where the machine has been switched on since.</summary>
    private IEnumerable<Act> Preparations(bool opens, IReadOnlySet<CheckId> checks)
    {
        var ran = Last(a => a.Kind is ActKind.PowerTest or ActKind.Check);
        var since = done.Skip(ran + 1).ToList();
        // What is noted while it runs can be noted no more once it is shut down; what ran again has been put back.
        var stillRuns =
            ran < 0
            && done.All(a => a.Kind == ActKind.Prepare && map.Preparations.First(p => p.Id == a.Target).For.Count > 0);
        return ran < 0 || opens || since.Exists(a => a.Kind == ActKind.Prepare)
            ? map
                .Preparations.Where(p => TeardownPlanner.IsCalledFor(p, checks) && (p.For.Count == 0 || stillRuns))
                .Select(Act.Prepare)
                .Where(p => !since.Contains(p))
            : [];
    }

    /// <summary>Done since the goal was set, or undone since: it was open then already.</summary>
    private bool IsMet(Requirement requirement, int since) =>
        done.Skip(since).Any(d => requirement.AnyOf.Any(a => a == d || a.Reverse == d));

    /// <summary>The number on what is exchanged is read once, while it is out.</summary>
    private IEnumerable<Act> NumberOf(Act act) =>
        act.Kind == ActKind.LiftOut
        && replaced.Contains(act.Part)
        && !map.Vacant.Contains(act.Part)
        && !done.Contains(Act.ReadRemoved(act.Part))
            ? [Act.ReadRemoved(act.Part)]
            : [];

    private IEnumerable<Act> ToClean(List<Act> taken)
    {
        var asked = goals
            .Where(g => g.Goal is Goal.Clean clean && !done.Skip(g.Since).Contains(Act.BlowClean(clean.Part)))
            .Select(g => ((Goal.Clean)g.Goal).Part);
        return TeardownPlanner
            .Reached(map, taken, practice)
            .Select(Act.BlowClean)
            .Where(a => !done.Contains(a))
            .Concat(asked.Select(Act.BlowClean))
            .Distinct();
    }

    /// <param name="taken">All that is out when the turning point is reached.</param>
    /// <param name="already">How many of these are out now.</param>
    private IEnumerable<Act> WayBack(List<Act> taken, int already)
    {
        var testsEarly = TeardownPlanner.TestsBeforeCover(map, practice);
        var isolates = taken.Exists(a => a.Kind == ActKind.Isolate);
        // Reconnected, and not tried since.
        var owesTest = isolates || Last(a => a.Kind == ActKind.Isolate) > Last(a => a.Kind == ActKind.PowerTest);
        if (owesTest && testsEarly && !isolates)
        {
            yield return Act.PowerTest;
        }

        foreach (var (i, act) in taken.Index().Reverse())
        {
            if (act.Kind == ActKind.LiftOut)
            {
                if (replaced.Contains(act.Part) && !done.Contains(Act.ReadFitted(act.Part)))
                {
                    yield return Act.ReadFitted(act.Part);
                }

                if (
                    TeardownPlanner.CopiedFirst(map, act.Part, replaced, practice)
                    && !done.Contains(Act.FillDrive(act.Part))
                )
                {
                    yield return Act.FillDrive(act.Part);
                }

                var pasted = i < already && Last(a => a == Act.CleanAndPaste(act.Part)) > Last(a => a == act);
                if (map.Part(act.Part).Thermal is not null && !pasted)
                {
                    yield return Act.CleanAndPaste(act.Part);
                }
            }

            yield return act.Reverse!.Value;
            if (act.Kind == ActKind.Isolate && testsEarly)
            {
                yield return Act.PowerTest;
            }
        }

        if (owesTest && !testsEarly)
        {
            yield return Act.PowerTest;
        }
    }

    /// <summary>Checks not made since what called for them.</summary>
    private HashSet<CheckId> ChecksOwed(List<Act> taken)
    {
        var after = map.Replaced(goals.Select(g => g.Goal)).SelectMany(a => a.After).ToHashSet();
        return
        [
            .. map
                .Checks.Where(c =>
                    (after.Contains(c.Id) && !done.Contains(Act.Check(c.Id)))
                    || taken.Exists(a => CallsFor(a, c))
                    || Last(a => CallsFor(a, c)) > Last(a => a == Act.Check(c.Id))
                )
                .Select(c => c.Id),
        ];
    }

    private bool CallsFor(Act act, Check check) => TeardownPlanner.CalledForBy(map, act) == check.Id;

    private int Last(Func<Act, bool> which)
    {
        for (var i = done.Count - 1; i >= 0; i--)
        {
            if (which(done[i]))
            {
                return i;
            }
        }

        return -1;
    }

    /// <summary>Turns the machine over where the other side is needed, and deck up for what is tried on the closed machine.</summary>
    private List<Act> Turned(IEnumerable<Act> acts, Standing standing)
    {
        var (up, now) = (standing.Up, new WhatIsOut(standing.Out));
        var testsEarly = TeardownPlanner.TestsBeforeCover(map, practice);
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
