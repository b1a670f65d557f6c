using Zenrik.Core.Teardown;

namespace Zenrik.Web.Rooms.Prints;

internal static class GoalsInWords
{
    /// <summary>"new board, fan out".</summary>
    public static string Of(Plan plan) =>
        string.Join(
            ", ",
            plan.Goals.Select(g =>
                g switch
                {
                    Goal.Replace replace => $"new {plan.Map.Assembly(replace.Assembly).Name}",
                    Goal.LiftOut lift => $"{plan.Map.Part(lift.Part).Name} out",
                    Goal.Reseat reseat => $"{plan.Map.Joint(reseat.Joint).Name} seated again",
                    Goal.Clean clean => $"{plan.Map.Part(clean.Part).Name} clean",
                    _ => throw new ArgumentOutOfRangeException(nameof(plan)),
                }
            )
        );
}
