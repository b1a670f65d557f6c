using Zenrik.Core.BenchLedger;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.MapMaking;

/// <summary>
/// A part worth trying to take out before the one that is next: where it does not come, little is lost but the trying.
/// </summary>
/// <param name="Wait">The doubtful wait that trying settles: what is tried, and what it was only ever seen to come after.</param>
/// <param name="Correction">What a session goes on by while it tries.</param>
/// <param name="Comes">The chance that it comes, above 0 and below 1.</param>
/// <param name="IfItComes">Seconds of all that remains then.</param>
/// <param name="IfItDoesNot">Seconds of all that remains after a try in vain, the try counted.</param>
/// <param name="IfNotTried">Seconds of all that remains without trying.</param>
public sealed record Probe(
    SeenWait Wait,
    MapCorrection.Tries Correction,
    double Comes,
    double IfItComes,
    double IfItDoesNot,
    double IfNotTried
)
{
    /// <summary>Seconds that trying saves in expectation; below 0 where it loses.</summary>
    public double WorthSeconds => IfNotTried - (Comes * IfItComes) - ((1 - Comes) * IfItDoesNot);
}

/// <summary>
/// Finds what is worth trying. Never cells or glass. Whatever joints and ties the plan would have off by then are off when it
/// is tried: what tears is not pulled at to see whether it comes. Left in are the other part and its screws alone.
/// </summary>
public static class Probes
{
    /// <summary>A careful try in vain, seconds. Common practice, no published source.</summary>
    public const double TrySeconds = 15;

    /// <summary>What tries to win less is not worth reading about.</summary>
    public const double LeastSeconds = 10;

    /// <summary>The best try while an act of a plan is next.</summary>
    /// <param name="draft">The draft the plan was made from.</param>
    /// <param name="plan">A plan by it.</param>
    /// <param name="goals">What the job is for.</param>
    /// <param name="done">How many of the plan's acts are done.</param>
    /// <param name="limit">How long to search.</param>
    /// <returns>Null when nothing is worth its time.</returns>
    public static Probe? Best(
        Draft draft,
        Plan plan,
        IReadOnlyList<StandingGoal> goals,
        int done,
        SearchLimit limit = default
    )
    {
        return Candidates(draft.Doubtful, plan, done)
            .Select(w => Of(w, draft, plan, goals, done, limit))
            .OfType<Probe>()
            .Where(p => p.WorthSeconds >= LeastSeconds)
            .OrderByDescending(p => p.WorthSeconds)
            .ThenBy(p => p.Wait.What, StringComparer.Ordinal)
            .FirstOrDefault();
    }

    /// <summary>What a whole plan may try, each once, with the number of the act before which.</summary>
    public static IReadOnlyList<(int Step, Probe Probe)> Along(Draft draft, Plan plan, SearchLimit limit = default)
    {
        List<StandingGoal> goals = [.. plan.Goals.Select(g => new StandingGoal(g))];
        var doubtful = draft.Doubtful;
        var weighed = new HashSet<(string, string)>();
        return
        [
            .. plan
                .Steps.SelectMany(s => Candidates(doubtful, plan, s.Number - 1), (s, wait) => (s.Number, wait))
                // Once, where the ways part first: further on there is less to win.
                .Where(c => weighed.Add((c.wait.What, c.wait.After)))
                .Select(c => (c.Number, Probe: Of(c.wait, draft, plan, goals, c.Number - 1, limit)))
                .Where(p => p.Probe?.WorthSeconds >= LeastSeconds)
                .Select(p => (p.Number, p.Probe!)),
        ];
    }

    /// <summary>Doubtful waits of parts still to be lifted out that part the ways here: what comes next is done for the other.</summary>
    private static IEnumerable<SeenWait> Candidates(IReadOnlyList<SeenWait> doubtful, Plan plan, int done)
    {
        if (done >= plan.Steps.Count || plan.Steps[done].Stage != Stage.Out)
        {
            return [];
        }

        var left = plan.Acts.Skip(done).ToHashSet();
        var next = plan.Steps[done].Act;
        return doubtful.Where(w =>
            w.IsCover
            && w.Waiting.Kind == ActKind.LiftOut
            && left.Contains(w.Waiting)
            && left.Contains(w.First)
            // What the session has settled is doubtful to the draft alone.
            && plan.Map.Waits.Any(k => k.What == w.What && k.After == w.After)
            && IsFor(plan.Map, next, w.First.Part)
            && MayBeTried(plan.Map, w.Waiting.Part)
        );
    }

    /// <summary>Whether an act lifts a part out, or undoes what holds it.</summary>
    private static bool IsFor(ServiceMap map, Act act, PartId part) =>
        act.Kind switch
        {
            ActKind.LiftOut => act.Part == part,
            ActKind.Undo => map.Fastener(act.Fastener).Holds == part,
            ActKind.Open => map.Joint(act.Joint).Between.Contains(part),
            ActKind.Free => map.Tie(act.Tie).Of == part,
            _ => false,
        };

    /// <summary>Cells and glass are never pulled at to see whether they come.</summary>
    private static bool MayBeTried(ServiceMap map, PartId part) =>
        map.MovingWith(part).Select(map.Part).All(p => p is { Cells: false, Glass: false });

    private static Probe? Of(
        SeenWait wait,
        Draft draft,
        Plan plan,
        IReadOnlyList<StandingGoal> goals,
        int done,
        SearchLimit limit
    )
    {
        var (map, part, cover) = (plan.Map, wait.Waiting.Part, wait.First.Part);
        List<Act> screws = [.. ScrewsOf(part).Where(plan.Acts.Skip(done).Contains)];
        List<Act> stayIn = [.. ScrewsOf(cover), wait.First];
        // Without a try these would be open and free by then, and so they are with one: nothing that may tear is still on.
        List<Act> torn =
        [
            .. plan
                .Acts.TakeWhile(a => a != wait.Waiting)
                .Where(a => a.Kind is ActKind.Isolate or ActKind.Open or ActKind.Free),
        ];
        var comes = Freed([.. screws, wait.Waiting]);
        List<Act> before = [.. plan.Acts.Take(done)];
        if (
            Resumed(comes.In(map), before) is not { } quick
            || quick.FindIndex(a => a == wait.Waiting) is not (>= 0 and var at)
            || quick.Take(at).Any(stayIn.Contains)
        )
        {
            return null;
        }

        // The screws were reached, and it stays all the same.
        List<Act> tried = [.. before, .. quick.Take(at)];
        var stays = screws.Count == 0 ? map : Freed(screws).In(map);
        return Resumed(stays, tried) is not { } rest
            ? null
            : new Probe(
                wait,
                comes,
                1 - Belief.IsMust(wait, draft.Map),
                Seconds(comes.In(map), [.. before, .. quick]),
                Seconds(stays, [.. tried, .. rest]) + TrySeconds,
                plan.Steps.Skip(done).Sum(s => s.Seconds)
            );

        IEnumerable<Act> ScrewsOf(PartId of) => map.Fasteners.Where(f => f.Holds == of).Select(f => Act.Undo(f.Id));

        // By the draft and not by the map: a map leaves out what follows from other waits.
        MapCorrection.Tries Freed(List<Act> acts)
        {
            var loose = acts.SelectMany(_ => stayIn, (what, after) => (What: what, After: after))
                .Where(w => !draft.IsSaidToWait(w.What, w.After))
                .Aggregate(draft, (d, w) => d.With(new Statement.NeedNot($"{w.What}", $"{w.After}")))
                .Map;
            return new MapCorrection.Tries([.. acts.Select(a => (a, After(a, loose)))], cover);
        }

        IReadOnlyList<Act> After(Act act, ServiceMap loose) =>
            act == wait.Waiting ? [.. loose.WaitsOf(act).Union(torn)] : loose.WaitsOf(act);

        List<Act>? Resumed(ServiceMap by, List<Act> from) =>
            TeardownPlanner.Resume(by, goals, from, plan.Basis, limit).Try(out var rest, out _) ? [.. rest] : null;

        double Seconds(ServiceMap by, List<Act> all) =>
            TeardownPlanner.Restore(by, plan.Goals, all, plan.Basis).Steps.Skip(done).Sum(s => s.Seconds);
    }
}
