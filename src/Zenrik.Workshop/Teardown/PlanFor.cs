using Microsoft.Extensions.Caching.Memory;
using Zenrik.Core;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.HouseRules;

namespace Zenrik.Workshop.Teardown;

/// <summary>Plans under the workshop's house rules and with the times it has learned.</summary>
/// <remarks>A plan follows from the map, what the unit has of it, the goals and the basis alone, so it is kept in memory under these.</remarks>
public sealed class PlanFor(HouseRulesOf rules, LearnedTimes times, IMemoryCache cache)
{
    private static readonly MemoryCacheEntryOptions WhileUsed = new() { SlidingExpiration = TimeSpan.FromMinutes(15) };

    public async Task<Outcome<Plan>> Of(ServiceMap unit, IReadOnlyList<Goal> goals, CancellationToken stop = default)
    {
        var basis = await Basis(unit.Model.Code, stop);
        var parts = string.Join('|', unit.Parts.Select(p => p.Id));
        var key = (nameof(PlanFor), unit.Model.Code, unit.Revision, parts, string.Join('|', goals), basis);
        return cache.TryGetValue(key, out Outcome<Plan> known)
            ? known
            : cache.Set(key, TeardownPlanner.Plan(unit, goals, basis), WhileUsed);
    }

    /// <summary>What besides the map decides the plans of a model here and now.</summary>
    public async Task<Basis> Basis(string modelCode, CancellationToken stop = default) =>
        new(await rules.Run(stop), await times.Of(modelCode, stop));
}
