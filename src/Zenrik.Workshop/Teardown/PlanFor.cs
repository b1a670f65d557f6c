using System.Diagnostics;
using Microsoft.Extensions.Caching.Memory;
using Zenrik.Core;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.HouseRules;

namespace Zenrik.Workshop.Teardown;

/// <summary>How long one plan is searched for before the best found is taken.</summary>
public sealed record PlanningTime(TimeSpan Each);

/// <summary>Plans under the workshop's house rules and with the times it has learned.</summary>
/// <remarks>A plan follows from the map, what the unit has of it, the goals and the basis alone, so it is kept in memory under these.</remarks>
public sealed class PlanFor(
    HouseRulesOf rules,
    LearnedTimes times,
    IMemoryCache cache,
    PlanningTime time,
    TimeProvider clock
)
{
    private static readonly MemoryCacheEntryOptions WhileUsed = new() { SlidingExpiration = TimeSpan.FromMinutes(15) };

    private static readonly MemoryCacheEntryOptions WhileLookedAt = new()
    {
        AbsoluteExpirationRelativeToNow = TimeSpan.FromSeconds(30),
    };

    public async Task<Outcome<Plan>> Of(ServiceMap unit, IReadOnlyList<Goal> goals, CancellationToken stop = default)
    {
        var basis = await Basis(unit.Model.Code, stop);
        var parts = string.Join(
            '|',
            unit.Parts.Select(p => unit.Vacant.Contains(p.Id) ? $"{p.Id} to be fitted" : $"{p.Id}")
        );
        var key = (nameof(PlanFor), unit.Model.Code, unit.Revision, parts, string.Join('|', goals), basis);
        if (cache.TryGetValue(key, out Outcome<Plan> known))
        {
            return known;
        }

        // One that is not proved may be proved on a quieter machine: it is kept only as long as one looks at it.
        var since = Stopwatch.GetTimestamp();
        var found = Search(unit, goals, basis, stop);
        Measured.Planned(since);
        var isProved = !found.Try(out var plan, out _) || plan.Gap == 0;
        return cache.Set(key, found, isProved ? WhileUsed : WhileLookedAt);
    }

    /// <summary>A plan proved, or the best found in the time a plan is given.</summary>
    /// <exception cref="OperationCanceledException">Whoever asked has left.</exception>
    public Outcome<Plan> Search(ServiceMap unit, IReadOnlyList<Goal> goals, Basis basis, CancellationToken stop)
    {
        using var enough = new CancellationTokenSource(time.Each, clock);
        return TeardownPlanner.Plan(unit, goals, basis, new SearchLimit(enough.Token, stop));
    }

    /// <summary>What remains of a job, proved or the best found in the time a plan is given.</summary>
    /// <exception cref="OperationCanceledException">Whoever asked has left.</exception>
    public Outcome<Rest> Remaining(
        ServiceMap unit,
        IReadOnlyList<Goal> goals,
        IReadOnlyList<Act> done,
        Basis basis,
        CancellationToken stop
    )
    {
        using var enough = new CancellationTokenSource(time.Each, clock);
        return TeardownPlanner.Remaining(
            unit,
            [.. goals.Select(g => new StandingGoal(g))],
            done,
            basis,
            new SearchLimit(enough.Token, stop)
        );
    }

    /// <summary>What besides the map decides the plans of a model here and now.</summary>
    public async Task<Basis> Basis(string modelCode, CancellationToken stop = default) =>
        new(await rules.Run(stop), await times.Of(modelCode, stop));
}
