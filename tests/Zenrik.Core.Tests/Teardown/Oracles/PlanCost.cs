using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.Tests.Teardown.Oracles;

/// <summary>What a finished plan costs, in the problem's own measure.</summary>
internal static class PlanCost
{
    private static readonly ActKind[] LeftOut =
    [
        ActKind.Prepare,
        ActKind.ReadRemoved,
        ActKind.ReadFitted,
        ActKind.BlowClean,
        ActKind.PowerTest,
        ActKind.Check,
        ActKind.FillDrive,
    ];

    /// <summary>Handling and changes in milliseconds; not reading, testing, cleaning or checking.</summary>
    public static long Of(Plan plan) =>
        plan.Steps.Where(s => !LeftOut.Contains(s.Act.Kind)).Sum(s => (long)Math.Round(s.Seconds * 1000));

    /// <summary>How often something changes on the way out, and once more for the start.</summary>
    public static int Phases(Plan plan)
    {
        var way = plan.Steps.Take(plan.OutCount).ToList();
        var tools = way.Select(s => s.Tool).Where(t => t != Tool.Fingers).ToList();
        return 1
            + way.Count(s => s.Act.Kind == ActKind.TurnOver)
            + tools.Where((t, i) => i == 0 || t != tools[i - 1]).Count();
    }
}
