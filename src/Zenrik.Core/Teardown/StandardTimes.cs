using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Teardown;

/// <summary>
/// Standard times in seconds. Workshop estimates, no published source; joints carry theirs in
/// <see cref="JointHandling"/>.
/// </summary>
public static class StandardTimes
{
    /// <summary>Standard deviation of one act as a fraction of its length.</summary>
    public const double ActSpread = 0.5;

    /// <summary>Standard deviation of a technician's pace as a fraction.</summary>
    public const double PaceSpread = 0.12;

    public const double ToolChange = 4;

    /// <summary>Seconds an act takes with its tool already in hand.</summary>
    public static double Of(ServiceMap map, Act act)
    {
        switch (act.Kind)
        {
            case ActKind.Prepare:
                return map.Preparations.First(p => p.Id == act.Target).Seconds;
            case ActKind.TurnOver:
                return 6;
            case ActKind.Undo:
            case ActKind.Fasten:
                var f = map.Fastener(act.Fastener);
                var each = (f.Captive ? 5 : 6) + (f.Recessed ? 1 : 0) + (act.Kind == ActKind.Fasten ? 3 : 0);
                return f.Count * each;
            case ActKind.Open:
            case ActKind.Isolate:
                return map.Joint(act.Joint).Kind.Handling().OpenSeconds;
            case ActKind.Close:
            case ActKind.Reconnect:
                return map.Joint(act.Joint).Kind.Handling().CloseSeconds;
            case ActKind.Free:
                return 8;
            case ActKind.Lay:
                return 12;
            case ActKind.LiftOut:
                return map.Part(act.Part).Seconds ?? 10;
            case ActKind.PutIn:
                return 1.25 * (map.Part(act.Part).Seconds ?? 10);
            case ActKind.ReadRemoved:
            case ActKind.ReadFitted:
                return 20;
            case ActKind.CleanAndPaste:
                return 60 + (45 * (map.Part(act.Part).Thermal?.Faces ?? 1));
            case ActKind.PowerTest:
                return 60;
            case ActKind.Check:
                return 40;
            default:
                throw new ArgumentOutOfRangeException(nameof(act));
        }
    }
}
