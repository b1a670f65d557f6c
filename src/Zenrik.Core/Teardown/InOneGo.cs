using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Teardown;

/// <summary>
/// Acts of a plan that one movement of the hand does, or one look confirms: a card and its slot, a latch, the contacts and
/// the battery behind them, the last screws of a part and that part, a row of plugs and wires. Each stays an act of its own
/// in the plan and in the ledger.
/// </summary>
/// <remarks>Common practice, no published source.</remarks>
public static class InOneGo
{
    /// <summary>More plugs than this in a row are not looked over at once.</summary>
    public const int LongestRow = 6;

    /// <summary>No movement or row has more acts.</summary>
    public const int Most = 8;

    /// <summary>Whether an act may be done with others in one go: what is read, tried or tidied up stands alone.</summary>
    public static bool CanJoin(Act act) =>
        act.Kind
            is ActKind.Undo
                or ActKind.Open
                or ActKind.Isolate
                or ActKind.Free
                or ActKind.LiftOut
                or ActKind.SetAside
                or ActKind.PutIn
                or ActKind.PutBack
                or ActKind.Close
                or ActKind.Reconnect
                or ActKind.Lay
                or ActKind.Fasten;

    /// <summary>How many steps from one on belong together; 1: it stands alone.</summary>
    /// <param name="plan">The plan.</param>
    /// <param name="from">Index of the first, from 0.</param>
    public static int Count(Plan plan, int from)
    {
        var count = Math.Min(Most, Math.Max(Movement(plan, from), Row(plan, from)));
        // A severe caution is read before its own act, and a side that changes is another place.
        for (var i = 1; i < count; i++)
        {
            if (plan.Steps[from + i].MustAcknowledge)
            {
                return i;
            }
        }

        return count;
    }

    /// <summary>How many confirmations a plan asks for.</summary>
    public static int Confirmations(Plan plan)
    {
        var confirmations = 0;
        for (var at = 0; at < plan.Steps.Count; at += Count(plan, at))
        {
            confirmations++;
        }

        return confirmations;
    }

    private static int Movement(Plan plan, int from)
    {
        var count = 1;
        while (
            from + count < plan.Steps.Count
            && Follows(plan.Map, plan.Steps[from + count - 1].Act, plan.Steps[from + count].Act)
        )
        {
            count++;
        }

        return count;
    }

    /// <summary>Whether no hand does the one without the other.</summary>
    private static bool Follows(ServiceMap map, Act act, Act next) =>
        (act.Kind, next.Kind) switch
        {
            (ActKind.Free, ActKind.Free) => IsLatch(map, act.Tie)
                && IsLatch(map, next.Tie)
                && map.Tie(act.Tie).Of == map.Tie(next.Tie).Of,
            (ActKind.Lay, ActKind.Lay) => IsLatch(map, act.Tie)
                && IsLatch(map, next.Tie)
                && map.Tie(act.Tie).Of == map.Tie(next.Tie).Of,
            (ActKind.Free, ActKind.Open or ActKind.Isolate) => IsLatch(map, act.Tie)
                && Mates(map, next.Joint, map.Tie(act.Tie).Of),
            (ActKind.Close or ActKind.Reconnect, ActKind.Lay) => IsLatch(map, next.Tie)
                && Mates(map, act.Joint, map.Tie(next.Tie).Of),
            (ActKind.Open or ActKind.Isolate, ActKind.LiftOut or ActKind.SetAside) => Mates(map, act.Joint, next.Part),
            (ActKind.PutIn or ActKind.PutBack, ActKind.Close or ActKind.Reconnect) => Mates(map, next.Joint, act.Part),
            (ActKind.Undo, ActKind.LiftOut or ActKind.SetAside) => Holds(map, act.Fastener, next.Part),
            (ActKind.PutIn or ActKind.PutBack, ActKind.Fasten) => Holds(map, next.Fastener, act.Part),
            _ => false,
        };

    private static bool IsLatch(ServiceMap map, TieId tie) => map.Tie(tie).Kind == TieKind.Latch;

    /// <summary>A slot or contacts that part with the part itself, or with what carries it.</summary>
    private static bool Mates(ServiceMap map, JointId joint, PartId part) =>
        map.Joint(joint) is var j
        && (
            (j.Kind.IsSlot() && j.Card(map) == part)
            || (j.Kind == JointKind.SlideContacts && map.MovingWith(part).Contains(j.Plug))
        );

    private static bool Holds(ServiceMap map, FastenerId fastener, PartId part) => map.Fastener(fastener).Holds == part;

    /// <summary>Plugs and ribbons, and wires out of their hooks and channels, next to one another in the plan.</summary>
    private static int Row(Plan plan, int from)
    {
        var first = plan.Steps[from];
        var opens = first.Act.Kind is ActKind.Open or ActKind.Free;
        var count = 0;
        while (
            count < LongestRow
            && from + count < plan.Steps.Count
            && plan.Steps[from + count] is var next
            && (opens ? next.Act.Kind is ActKind.Open or ActKind.Free : next.Act.Kind is ActKind.Close or ActKind.Lay)
            && IsSmall(plan.Map, next.Act)
            && next.SideUp == first.SideUp
        )
        {
            count++;
        }

        return Math.Max(1, count);
    }

    private static bool IsSmall(ServiceMap map, Act act) =>
        act.Kind is ActKind.Open or ActKind.Close
            ? map.Joint(act.Joint).Kind is var kind
                && !kind.IsSlot()
                && kind is not (JointKind.SlideContacts or JointKind.SocketedProcessor)
            : !IsLatch(map, act.Tie);
}
