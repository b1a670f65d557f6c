using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Teardown;

/// <summary>What a plan is for. Several goals in one opening are merged.</summary>
public abstract record Goal
{
    private Goal() { }

    /// <summary>Take one part out and put it back.</summary>
    public sealed record LiftOut(PartId Part) : Goal;

    /// <summary>Exchange an assembly; what the new one does not bring moves over.</summary>
    public sealed record Replace(AssemblyId Assembly) : Goal;

    /// <summary>Open a joint and close it again: the first cure when what it carries fails after a repair.</summary>
    public sealed record Reseat(JointId Joint) : Goal;

    /// <summary>Reach a part that gathers dust and blow it clean.</summary>
    public sealed record Clean(PartId Part) : Goal;
}

public static class Goals
{
    /// <summary>What a new assembly does not bring and must therefore come off the old one, in the order of the map.</summary>
    public static IReadOnlyList<Part> TransferList(this ServiceMap map, Assembly assembly)
    {
        var brought = assembly.Brings.Append(assembly.Part).ToHashSet();
        return
        [
            .. map
                .Parts.Where(p => !map.Vacant.Contains(p.Id))
                .Where(p =>
                    assembly.MovesOver.Contains(p.Id)
                    || (p.MountedOn is { } on && brought.Contains(on) && !brought.Contains(p.Id))
                ),
        ];
    }

    /// <summary>What must be done for a goal: a part out, what moves over off its carrier, and loose leads out of its sockets.</summary>
    public static IReadOnlyList<Requirement> Needs(this ServiceMap map, Goal goal)
    {
        switch (goal)
        {
            case Goal.LiftOut lift:
                return [new Requirement(TeardownGraph.Lifting(map.Part(lift.Part)))];
            case Goal.Replace replace:
                var assembly = map.Assembly(replace.Assembly);
                return
                [
                    new Requirement(TeardownGraph.Lifting(map.Part(assembly.Part))),
                    // What moves over may stay on its leads while the old carrier leaves.
                    .. map.TransferList(assembly).Select(p => new Requirement(TeardownGraph.Removing(p))),
                    // A lead that left with the old one belongs to the machine.
                    .. map
                        .Joints.Where(j => map.OtherEnd(j.Id) is not null && IsNew(j.Socket) && !IsNew(j.Plug))
                        .Select(j => new Requirement([TeardownGraph.Opening(map, j.Id)])),
                ];
            case Goal.Reseat reseat:
                return [new Requirement([TeardownGraph.Opening(map, reseat.Joint)])];
            case Goal.Clean clean:
                var dusty = map.Part(clean.Part);
                var removed = TeardownGraph.Removing(dusty);
                return
                [
                    .. dusty.BlockedBy.Count == 0
                        ? [new Requirement(removed)]
                        : dusty.BlockedBy.Select(b => new Requirement([
                            .. map.Part(b).Fixed ? [] : TeardownGraph.Removing(map.Part(b)),
                            .. removed,
                        ])),
                    new Requirement([Act.Isolate(map.Isolation)]),
                ];
            default:
                throw new ArgumentOutOfRangeException(nameof(goal));
        }

        bool IsNew(PartId part) =>
            goal is Goal.Replace { Assembly: var id }
            && map.Assembly(id) is var brought
            && (brought.Part == part || brought.Brings.Contains(part));
    }

    /// <summary>The assemblies a set of goals exchanges, each once.</summary>
    public static IEnumerable<Assembly> Replaced(this ServiceMap map, IEnumerable<Goal> goals) =>
        goals.OfType<Goal.Replace>().Distinct().Select(r => map.Assembly(r.Assembly));
}
