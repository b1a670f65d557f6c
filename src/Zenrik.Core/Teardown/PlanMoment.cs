using Zenrik.Core.HouseRules;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Teardown;

/// <summary>The machine after some of a plan's acts, as a drawing shows it.</summary>
public static class PlanMoment
{
    private static readonly HashSet<ActKind> PuttingBack =
    [
        ActKind.PutIn,
        ActKind.PutBack,
        ActKind.Close,
        ActKind.Fasten,
        ActKind.Lay,
        ActKind.Reconnect,
    ];

    /// <summary>The moment before the act that follows the given number of steps.</summary>
    /// <param name="plan">The plan.</param>
    /// <param name="done">How many of its steps are done, from 0 to all.</param>
    /// <param name="next">How many acts are done in one go next.</param>
    public static MachineMoment After(Plan plan, int done, int next = 1) =>
        After(plan.Acts.Take(done), plan.Basis.Practice) with
        {
            Next = plan
                .Steps.Skip(done)
                .Take(next)
                .Where(s => s.Act.Kind is not (ActKind.Prepare or ActKind.Check))
                .Select(s => s.Act.Target)
                .ToHashSet(),
        };

    /// <summary>The machine after some acts from closed and deck up; nothing is marked as next.</summary>
    public static MachineMoment After(IEnumerable<Act> acts, HousePractice practice)
    {
        var (screws, joints, ties) = (new HashSet<FastenerId>(), new HashSet<JointId>(), new HashSet<TieId>());
        var (outside, aside, back) = (new List<PartId>(), new List<PartId>(), new HashSet<string>());
        var up = Side.Deck; // As every plan begins: closed, lid up.
        foreach (var act in acts)
        {
            switch (act.Kind)
            {
                case ActKind.TurnOver:
                    up = up == Side.Base ? Side.Deck : Side.Base;
                    break;
                case ActKind.Undo:
                    screws.Add(act.Fastener);
                    break;
                case ActKind.Fasten:
                    screws.Remove(act.Fastener);
                    break;
                case ActKind.Open or ActKind.Isolate:
                    joints.Add(act.Joint);
                    break;
                case ActKind.Close or ActKind.Reconnect:
                    joints.Remove(act.Joint);
                    break;
                case ActKind.Free:
                    ties.Add(act.Tie);
                    break;
                case ActKind.Lay:
                    ties.Remove(act.Tie);
                    break;
                case ActKind.LiftOut:
                    outside.Add(act.Part);
                    break;
                case ActKind.PutIn:
                    outside.Remove(act.Part);
                    break;
                case ActKind.SetAside:
                    aside.Add(act.Part);
                    break;
                case ActKind.PutBack:
                    aside.Remove(act.Part);
                    break;
            }

            if (PuttingBack.Contains(act.Kind))
            {
                back.Add(act.Target);
            }
        }

        return new MachineMoment
        {
            PartsOut = outside,
            PartsAside = aside,
            ScrewsOut = screws,
            JointsOpen = joints,
            TiesFree = ties,
            Back = back,
            Up = up,
            LaidInShape = practice.Of(RuleBook.PartsLaid) == PartsLaid.InShape,
        };
    }
}
