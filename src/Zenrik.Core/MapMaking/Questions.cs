using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.MapMaking;

/// <summary>A question a bench can answer by looking: could one thing come off now, before another?</summary>
/// <param name="Wait">The wait it is about.</param>
/// <param name="WorthSeconds">
/// Seconds of work it is worth: the chance that the wait is none, times what the repairs to come would save without it.
/// </param>
public sealed record Question(SeenWait Wait, double WorthSeconds);

/// <summary>Finds the question worth asking.</summary>
public static class Questions
{
    /// <summary>What is worth less is not asked: reading and answering takes about as long.</summary>
    public const double LeastSeconds = 10;

    /// <summary>The best question that can be answered when an act is next, as what it is about can be seen then.</summary>
    /// <param name="draft">What is known so far.</param>
    /// <param name="next">The act that is about to be done.</param>
    /// <param name="off">What is off already.</param>
    /// <param name="goals">
    /// What the repairs to come are for: parts of the draft, each with how many repairs of it are expected.
    /// </param>
    /// <returns>Null when no question is worth its time, or none can be answered now.</returns>
    public static Question? Best(
        Draft draft,
        Act next,
        IReadOnlySet<Act> off,
        IReadOnlyList<(PartId Part, double Repairs)> goals
    )
    {
        var map = draft.Map;
        var open = draft
            .Doubtful.Where(w => w.First == next && w.Waiting.Kind == ActKind.LiftOut && !off.Contains(w.Waiting))
            .ToList();
        if (open.Count == 0)
        {
            return null;
        }

        var before = goals.Select(g => Seconds(map, g.Part)).ToList();
        return open.Select(w => new Question(w, (1 - Belief.IsMust(w, map)) * Saved(w)))
            .Where(q => q.WorthSeconds >= LeastSeconds)
            .OrderByDescending(q => q.WorthSeconds)
            .ThenBy(q => q.Wait.What, StringComparer.Ordinal)
            .FirstOrDefault();

        double Saved(SeenWait wait)
        {
            var without = draft.With(new Statement.NeedNot(wait.What, wait.After)).Map;
            return goals.Select((g, i) => g.Repairs * (before[i] - Seconds(without, g.Part))).Sum();
        }
    }

    private static double Seconds(ServiceMap map, PartId part) =>
        TeardownPlanner.Plan(map, [new Goal.LiftOut(part)]).Try(out var plan, out _)
            ? plan.Steps.Sum(s => s.Seconds)
            : 0;
}
