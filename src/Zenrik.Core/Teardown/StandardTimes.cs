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

    public const double TurnOver = 6;

    /// <summary>A look into an empty place, and a blank out of it where there is one.</summary>
    public const double SeeThatEmpty = 4;

    /// <summary>Seconds an act takes with its tool already in hand.</summary>
    public static double Of(ServiceMap map, Act act)
    {
        switch (act.Kind)
        {
            case ActKind.Prepare:
                return map.Preparations.First(p => p.Id == act.Target).Seconds;
            case ActKind.TurnOver:
                return TurnOver;
            case ActKind.Undo:
            case ActKind.Fasten:
                var f = map.Fastener(act.Fastener);
                var each = (f.Captive ? 5 : 6) + (f.Recessed ? 1 : 0) + (act.Kind == ActKind.Fasten ? 3 : 0);
                return f.Count * each;
            case ActKind.Open when map.IsVacant(map.Joint(act.Joint)):
                return SeeThatEmpty;
            case ActKind.Open:
            case ActKind.Isolate:
                return map.Joint(act.Joint).Kind.Handling().OpenSeconds;
            case ActKind.Close:
            case ActKind.Reconnect:
                return map.Joint(act.Joint).Kind.Handling().CloseSeconds;
            case ActKind.Free:
                return map.Tie(act.Tie) is var freed
                    ? freed.Seconds ?? freed.Count * freed.Kind.Handling().FreeSeconds
                    : 0;
            case ActKind.Lay:
                return map.Tie(act.Tie) is var laid ? laid.Count * laid.Kind.Handling().LaySeconds : 0;
            case ActKind.LiftOut when map.Vacant.Contains(act.Part):
                return SeeThatEmpty;
            case ActKind.LiftOut:
            case ActKind.SetAside:
                return Lifting(map, act);
            case ActKind.PutIn:
            case ActKind.PutBack:
                return 1.25 * Lifting(map, act);
            case ActKind.ReadRemoved:
            case ActKind.ReadFitted:
                return 20;
            case ActKind.CleanAndPaste:
                return 60 + (45 * (map.Part(act.Part).Thermal?.Faces ?? 1));
            case ActKind.BlowClean:
                return 60;
            case ActKind.FillDrive:
                // Hands-on: setting it going, and looking that it is whole.
                return 300;
            case ActKind.PowerTest:
                return 60;
            case ActKind.Check:
                return 40;
            default:
                throw new ArgumentOutOfRangeException(nameof(act));
        }
    }

    private static double Lifting(ServiceMap map, Act act)
    {
        var part = map.Part(act.Part);
        var whole = act.Way is { } way ? part.Ways.First(w => w.Id == way).Seconds : part.Seconds ?? 10;
        // Most of the movement was made when it was set aside; an author who gives less than that means the rest alone.
        return act.Kind is ActKind.LiftOut or ActKind.PutIn && AsideFirst(map, part) is { } aside && whole > aside
            ? whole - aside
            : whole;
    }

    /// <summary>
    /// Seconds of setting a part aside, where it never comes out without having been: what joins it lies beneath itself. Null
    /// for any other part.
    /// </summary>
    private static double? AsideFirst(ServiceMap map, Part part) =>
        part.Ways.Any(w => w.SetsAside) && map.Joints.Any(j => j.Between.Contains(part.Id) && j.Under.Contains(part.Id))
            ? part.Ways.Where(w => w.SetsAside).Min(w => w.Seconds)
            : null;
}
