using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.Tests.Practice;

/// <summary>Whether what stands against an act is in the map and true of the machine: read off the map anew, from the acts done.</summary>
internal static class TrueObjection
{
    public static bool Is(ServiceMap map, IReadOnlyList<Act> done, Act act, Objection objection)
    {
        var standing = new WhatIsOut();
        var up = Side.Deck;
        foreach (var a in done)
        {
            standing.After(a);
            up = a.Kind == ActKind.TurnOver ? (up == Side.Base ? Side.Deck : Side.Base) : up;
        }

        var off = standing.Acts.Select(a => a.Target).ToHashSet();
        var away = standing
            .Acts.Where(a => a.Kind is ActKind.LiftOut or ActKind.SetAside)
            .Select(a => a.Part)
            .ToHashSet();
        var thing = objection.Thing;
        // What an act on a part moves, and what rides along on its leads.
        var moving = act.Kind is ActKind.LiftOut or ActKind.SetAside
            ? map.MovingWith(act.Part).Concat(away).ToHashSet()
            : [];
        bool Touches(PartId a, PartId b) => moving.Contains(a) || moving.Contains(b);
        return objection.Kind switch
        {
            Against.Screws => !off.Contains(thing!)
                && map.Fastener(FastenerId.Of(thing!)) is var f
                && (moving.Count == 0 || Touches(f.Holds, f.Into)),
            Against.Joint => !off.Contains(thing!)
                && map.Joint(JointId.Of(thing!)) is var j
                && Touches(j.Plug, j.Socket),
            Against.Tie => !off.Contains(thing!)
                && map.Tie(TieId.Of(thing!)) is var t
                && (moving.Count == 0 || Touches(t.Of, t.On)),
            Against.Hidden => Under(map, act).Contains(PartId.Of(thing!))
                && (!away.Contains(PartId.Of(thing!)) || map.Part(PartId.Of(thing!)).Ways.Any(w => w.Over.Count > 0)),
            Against.InTheWay => map.Parts.Any(p =>
                p.BlockedBy.Contains(PartId.Of(thing!)) || p.Ways.Any(w => w.Clears.Contains(PartId.Of(thing!)))
            ) || map.Part(PartId.Of(thing!)).Ways.Any(w => w.Over.Contains(act.Part)),
            Against.UnderPower => !off.Contains(map.Isolation.Value),
            Against.NotPrepared => map.Preparations.Any(p => p.Id == thing) && !done.Any(a => a.Target == thing),
            Against.OtherSide => SideOf(map, act) is { } side && side != up,
            Against.NotBackYet => off.Contains(thing!),
            Against.NotInPlace => thing is null || off.Contains(thing),
            Against.OpenUnderPower => off.Contains(thing!),
            Against.NoPaste => map.Part(act.Part).Thermal is not null,
            Against.SeenToWait => map.Waits.Any(w => w.Waiting == act),
            // It is off already, or never was.
            Against.DoneAlready => act.Reverse is not null
                ? off.Contains(act.Target)
                : !standing.Acts.Any(a => a.Reverse?.Kind == act.Kind && a.Target == act.Target)
                    || standing.Acts.Any(a => a.Kind == ActKind.LiftOut && a.Target == act.Target),
            _ => false,
        };
    }

    private static IReadOnlyList<PartId> Under(ServiceMap map, Act act) =>
        act.Kind switch
        {
            ActKind.Undo or ActKind.Fasten => map.Fastener(act.Fastener).Under,
            ActKind.Free or ActKind.Lay => map.Tie(act.Tie).Under,
            _ => map.Joint(act.Joint).Under,
        };

    private static Side? SideOf(ServiceMap map, Act act) =>
        act.Kind switch
        {
            ActKind.Undo or ActKind.Fasten => map.Fastener(act.Fastener).Side,
            ActKind.Free or ActKind.Lay => map.Tie(act.Tie).Side,
            ActKind.Open or ActKind.Close or ActKind.Isolate or ActKind.Reconnect => map.Joint(act.Joint).Side,
            _ => map.Part(act.Part).Side,
        };
}
