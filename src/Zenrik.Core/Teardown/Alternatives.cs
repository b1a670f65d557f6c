using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Teardown;

/// <summary>A plan's choice at a part with several ways, beside the others.</summary>
/// <param name="Way">The way's name; for a part that can be set aside also "its joints opened instead".</param>
/// <param name="Taken">True for the way the plan takes.</param>
/// <param name="Plan">The best plan that takes this way.</param>
public sealed record Alternative(Part Part, string Way, bool Taken, Plan Plan);

public static class Alternatives
{
    /// <summary>
    /// For every part that a plan takes out and that could leave otherwise too: each way that leads to the goals, with the
    /// best plan that takes it.
    /// </summary>
    public static IReadOnlyList<Alternative> Of(Plan plan)
    {
        var taken = plan.Acts.Where(a => a.Kind is ActKind.LiftOut or ActKind.SetAside).ToLookup(a => a.Part);
        return
        [
            .. plan
                .Map.Parts.Where(p => p.Ways.Count > 0 && taken.Contains(p.Id))
                .Select(p => WaysOf(plan, p, taken[p.Id].First()).ToList())
                .Where(ways => ways.Count > 1)
                .SelectMany(ways => ways),
        ];
    }

    private static IEnumerable<Alternative> WaysOf(Plan plan, Part part, Act taken)
    {
        foreach (var act in TeardownGraph.Removing(part))
        {
            if ((act == taken ? plan : PlanTaking(plan, part, act)) is { } other)
            {
                var name = part.Ways.FirstOrDefault(w => w.Id == act.Way)?.Name ?? "its joints opened instead";
                yield return new Alternative(part, name, act == taken, other);
            }
        }
    }

    /// <summary>The best plan on a map on which the part leaves in this way only, or, without one, is not set aside.</summary>
    private static Plan? PlanTaking(Plan plan, Part part, Act act)
    {
        PartWay[] only = act.Way is null ? [] : [part.Ways.First(w => w.Id == act.Way)];
        var map = plan.Map with
        {
            Parts = [.. plan.Map.Parts.Select(p => p.Id == part.Id ? p with { Ways = only } : p)],
        };
        return
            TeardownPlanner.Plan(map, plan.Goals, plan.Basis).Try(out var other, out _)
            && (act.Way is null || other.Acts.Contains(act))
            ? other
            : null;
    }
}
