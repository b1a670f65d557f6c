using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Teardown;

/// <summary>Goals as text: "replace:board", "lift-out:fan", "reseat:display-joint", "clean:fan".</summary>
public static class GoalText
{
    private static readonly (string Prefix, Func<string, Goal> Make)[] Forms =
    [
        ("replace:", id => new Goal.Replace(AssemblyId.Of(id))),
        ("lift-out:", id => new Goal.LiftOut(PartId.Of(id))),
        ("reseat:", id => new Goal.Reseat(JointId.Of(id))),
        ("clean:", id => new Goal.Clean(PartId.Of(id))),
    ];

    public static string Of(Goal goal) =>
        goal switch
        {
            Goal.Replace { Assembly: var id } => $"replace:{id}",
            Goal.LiftOut { Part: var id } => $"lift-out:{id}",
            Goal.Reseat { Joint: var id } => $"reseat:{id}",
            Goal.Clean { Part: var id } => $"clean:{id}",
            _ => throw new ArgumentOutOfRangeException(nameof(goal)),
        };

    /// <summary>Reads goals; one of no known form is refused.</summary>
    public static Outcome<IReadOnlyList<Goal>> Read(IEnumerable<string> texts)
    {
        var goals = new List<Goal>();
        foreach (var text in texts)
        {
            var (prefix, make) = Forms.FirstOrDefault(f => text.StartsWith(f.Prefix, StringComparison.Ordinal));
            if (prefix is null)
            {
                return new Refusal(
                    RefusalReason.Invalid,
                    $"\"{text}\" is no goal. A goal is written replace:ASSEMBLY, lift-out:PART, reseat:JOINT or clean:PART."
                );
            }

            goals.Add(make(text[prefix.Length..]));
        }

        return goals;
    }
}
