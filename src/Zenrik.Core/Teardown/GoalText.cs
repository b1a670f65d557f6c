using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Teardown;

/// <summary>Goals as text: "replace:board", "lift-out:fan".</summary>
public static class GoalText
{
    private const string Replace = "replace:";
    private const string LiftOut = "lift-out:";

    public static string Of(Goal goal) =>
        goal switch
        {
            Goal.Replace { Assembly: var id } => $"{Replace}{id}",
            Goal.LiftOut { Part: var id } => $"{LiftOut}{id}",
            _ => throw new ArgumentOutOfRangeException(nameof(goal)),
        };

    /// <summary>Reads goals; one that is neither form is refused.</summary>
    public static Outcome<IReadOnlyList<Goal>> Read(IEnumerable<string> texts)
    {
        var goals = new List<Goal>();
        foreach (var text in texts)
        {
            if (text.StartsWith(Replace, StringComparison.Ordinal))
            {
                goals.Add(new Goal.Replace(AssemblyId.Of(text[Replace.Length..])));
            }
            else if (text.StartsWith(LiftOut, StringComparison.Ordinal))
            {
                goals.Add(new Goal.LiftOut(PartId.Of(text[LiftOut.Length..])));
            }
            else
            {
                return new Refusal(
                    RefusalReason.Invalid,
                    $"\"{text}\" is no goal. A goal is written replace:ASSEMBLY or lift-out:PART."
                );
            }
        }

        return goals;
    }
}
