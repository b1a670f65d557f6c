using Zenrik.Core;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.HouseRules;

namespace Zenrik.Workshop.Teardown;

/// <summary>Plans under the workshop's house rules and with the times it has learned.</summary>
public sealed class PlanFor(HouseRulesOf rules, LearnedTimes times)
{
    public async Task<Outcome<Plan>> Of(ServiceMap unit, IReadOnlyList<Goal> goals, CancellationToken stop = default) =>
        TeardownPlanner.Plan(unit, goals, await Basis(unit.Model.Code, stop));

    /// <summary>What besides the map decides the plans of a model here and now.</summary>
    public async Task<Basis> Basis(string modelCode, CancellationToken stop = default) =>
        new(await rules.Run(stop), await times.Of(modelCode, stop));
}
