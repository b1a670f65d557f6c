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
                when map.Fastener(act.Fastener) is { Tight: true, Screw.Drive: Drive.PH00 or Drive.PH0 or Drive.PH1 }
                    && practice.Of(RuleBook.TightCrossHead) == TightCrossHead.SlottedOut => Tool.SlottedDriver,
            ActKind.Undo or ActKind.Fasten => Tools.For(map.Fastener(act.Fastener).Screw.Drive),
            ActKind.Open or ActKind.Isolate => map.Joint(act.Joint).Kind.Handling().Tool,
            ActKind.LiftOut or ActKind.SetAside => map.Part(act.Part).Tool ?? Tool.Fingers,
            _ => Tool.Fingers,
        };
        return tool == Tool.PryTool && practice.Of(RuleBook.PryTool) == PryTool.ThinMetal ? Tool.MetalPryTool : tool;
    }

    /// <summary>The side that must face up for an act; null when it can be done either way.</summary>
    public static Side? SideUp(ServiceMap map, Act act) =>
        TeardownGraph.IsOutside(map, act)
            ? null
            : act.Kind switch
            {
                ActKind.LiftOut or ActKind.PutIn or ActKind.SetAside or ActKind.PutBack => map.Part(act.Part).Side,
                ActKind.Undo or ActKind.Fasten => map.Fastener(act.Fastener).Side,
                ActKind.Open or ActKind.Close or ActKind.Isolate or ActKind.Reconnect => map.Joint(act.Joint).Side,
                ActKind.Free or ActKind.Lay => map.Tie(act.Tie).Side,
                _ => null,
            };
}
