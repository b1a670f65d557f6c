using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Teardown;

/// <summary>
/// What an act of the way out costs altogether, in whole milliseconds so that sums are exact: the act, what undoes it on
/// the way back, and new paste where it breaks a heat path. Tool changes and turning over come on top.
/// </summary>
internal static class HandlingTime
{
    public static long Of(ServiceMap map, Act act, ActTimes times)
    {
        var total = Ms(times.Seconds(map, act));
        if (act.Reverse is { } back)
        {
            total += Ms(times.Seconds(map, back));
        }

        if (act.Kind == ActKind.LiftOut && map.Part(act.Part).Thermal is not null)
        {
            total += Ms(times.Seconds(map, Act.CleanAndPaste(act.Part)));
        }

        return total;
    }

    public static long Ms(double seconds) => (long)Math.Round(seconds * 1000);
}
