using Zenrik.Core.HouseRules;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Teardown;

/// <summary>Where a teardown stands after some acts.</summary>
/// <param name="Out">What is undone, open, free, aside or out now: the acts that made it so, in the order they were done.</param>
/// <param name="Hand">The tool in hand.</param>
/// <param name="BackHand">The tool that undoing the last of them needs.</param>
/// <param name="Up">The side that is up.</param>
internal sealed record Standing(IReadOnlyList<Act> Out, Tool Hand, Tool BackHand, Side Up)
{
    public static readonly Standing None = new([], Tool.Fingers, Tool.Fingers, Side.Deck);

    public static Standing After(ServiceMap map, IReadOnlyList<Act> done, HousePractice practice)
    {
        var (standing, hand, up) = (new WhatIsOut(), Tool.Fingers, Side.Deck);
        foreach (var act in done)
        {
            if (act.Kind == ActKind.TurnOver)
            {
                up = up == Side.Base ? Side.Deck : Side.Base;
            }

            standing.After(act);

            hand = ActTools.For(map, act, practice) is var tool and not Tool.Fingers ? tool : hand;
        }

        var back = standing
            .Acts.Select(a => ActTools.For(map, a.Reverse!.Value, practice))
            .LastOrDefault(t => t != Tool.Fingers, Tool.Fingers);
        return new Standing(standing.Acts, hand, back, up);
    }
}

/// <summary>What is undone, open, free, aside or out as acts are done one after another.</summary>
internal sealed class WhatIsOut
{
    private readonly List<Act> acts;
    private readonly HashSet<Act> now;

    public WhatIsOut(IEnumerable<Act>? already = null)
    {
        acts = [.. already ?? []];
        now = [.. acts];
    }

    /// <summary>The acts that made it so, in the order they were done.</summary>
    public IReadOnlyList<Act> Acts => acts;

    public void After(Act act)
    {
        if (act.Kind == ActKind.TurnOver)
        {
            return;
        }

        if (act.Reverse is not null)
        {
            acts.Add(act);
            now.Add(act);
        }
        else if (acts.FindLastIndex(a => a.Reverse == act) is var undone and >= 0)
        {
            now.Remove(acts[undone]);
            acts.RemoveAt(undone);
        }
    }

    /// <summary>The side that must face up for the next act; null when it can be done either way.</summary>
    public Side? SideUp(ServiceMap map, Act next) =>
        ActTools.InHandAfter(map, next).Any(now.Contains) ? null : ActTools.SideUp(map, next);
}
