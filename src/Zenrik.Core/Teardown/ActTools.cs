using Zenrik.Core.HouseRules;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Teardown;

/// <summary>What a hand holds and which side is up during an act.</summary>
internal static class ActTools
{
    public static Tool For(ServiceMap map, Act act, HousePractice practice)
    {
        var tool = act.Kind switch
        {
            ActKind.Undo
                when map.Fastener(act.Fastener)
                    is { Tight: true, Screw.Drive: Drive.PH000 or Drive.PH00 or Drive.PH0 or Drive.PH1 }
                    && practice.Of(RuleBook.TightCrossHead) == TightCrossHead.SlottedOut => Tool.SlottedDriver,
            ActKind.Undo or ActKind.Fasten => Tools.For(map.Fastener(act.Fastener).Screw.Drive),
            ActKind.Open or ActKind.Isolate => map.Joint(act.Joint).Kind.Handling().Tool,
            ActKind.Free => map.Tie(act.Tie) is var tie ? tie.Tool ?? tie.Kind.Handling().Tool : Tool.Fingers,
            ActKind.LiftOut or ActKind.SetAside => map.Part(act.Part).Tool ?? Tool.Fingers,
            _ => Tool.Fingers,
        };
        return tool == Tool.PryTool && practice.Of(RuleBook.PryTool) == PryTool.ThinMetal ? Tool.MetalPryTool : tool;
    }

    /// <summary>
    /// The side that must face up for an act while what it works on is in its place; null when it can be done either way.
    /// </summary>
    public static Side? SideUp(ServiceMap map, Act act)
    {
        if (At(map, act) is { } at && map.Part(at).Side == Side.Edge)
        {
            return null;
        }

        return act.Kind switch
        {
            ActKind.LiftOut or ActKind.PutIn or ActKind.SetAside or ActKind.PutBack => map.Part(act.Part).Side,
            ActKind.Undo or ActKind.Fasten => map.Fastener(act.Fastener).Side,
            ActKind.Open or ActKind.Close or ActKind.Isolate or ActKind.Reconnect => map.Joint(act.Joint).Side,
            ActKind.Free or ActKind.Lay => map.Tie(act.Tie).Side,
            _ => null,
        };
    }

    /// <summary>The part at which a hand works: of a joint or tie the end that is outside, or else the socket.</summary>
    private static PartId? At(ServiceMap map, Act act) =>
        act.Kind switch
        {
            ActKind.LiftOut or ActKind.PutIn or ActKind.SetAside or ActKind.PutBack => act.Part,
            ActKind.Undo or ActKind.Fasten => map.Fastener(act.Fastener).Holds,
            ActKind.Open or ActKind.Close or ActKind.Isolate or ActKind.Reconnect => map.Joint(act.Joint) is var joint
                ? joint.Between.FirstOrDefault(p => map.Part(p).Outside, joint.Socket)
                : null,
            ActKind.Free or ActKind.Lay => map.Tie(act.Tie) is var tie && map.Part(tie.Of).Outside ? tie.Of : tie.On,
            _ => null,
        };

    /// <summary>
    /// The acts any of which takes what an act works on off its place: from then on it is worked in the hand, whichever side
    /// of the machine is up.
    /// </summary>
    public static IEnumerable<Act> InHandAfter(ServiceMap map, Act act)
    {
        if (SideUp(map, act) is null || At(map, act) is not { } at)
        {
            return [];
        }

        var part = map.Part(at);
        // A part that lies aside is lifted out of the hand; one in its place is not.
        var own = act.Kind switch
        {
            ActKind.SetAside or ActKind.PutBack => [],
            ActKind.LiftOut or ActKind.PutIn => part.Ways.Where(w => w.SetsAside).Select(w => Act.Remove(at, w)),
            _ => part.Fixed ? [] : TeardownGraph.Removing(part),
        };
        return own.Concat(
            map.WithCarriers(at)
                .Skip(1)
                .Select(map.Part)
                .Where(carrier => !carrier.Fixed)
                .SelectMany(TeardownGraph.Removing)
        );
    }
}
