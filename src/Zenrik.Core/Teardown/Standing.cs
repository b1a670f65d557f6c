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
        var (standing, hand, up) = (new List<Act>(), Tool.Fingers, Side.Deck);
        foreach (var act in done)
        {
            if (act.Kind == ActKind.TurnOver)
            {
                up = up == Side.Base ? Side.Deck : Side.Base;
            }
            else if (act.Reverse is not null)
            {
                standing.Add(act);
            }
            else if (standing.FindLastIndex(a => a.Reverse == act) is var undone and >= 0)
            {
                standing.RemoveAt(undone);
            }

            hand = ActTools.For(map, act, practice) is var tool and not Tool.Fingers ? tool : hand;
        }

        var back = standing
            .Select(a => ActTools.For(map, a.Reverse!.Value, practice))
            .LastOrDefault(t => t != Tool.Fingers, Tool.Fingers);
        return new Standing(standing, hand, back, up);
    }
}
