using Zenrik.Core;
using Zenrik.Core.Stock;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Teardown;

namespace Zenrik.Workshop.Repairs;

/// <summary>Makes the lines of a repair: assemblies of the unit's map that can be exchanged.</summary>
public sealed class RepairLines(PlanFor plans)
{
    /// <summary>One line a complaint, in order.</summary>
    /// <param name="freely">True when the fault is triage's own and need not be one of the assembly's.</param>
    /// <param name="first">Position of the first.</param>
    internal async Task<Outcome<List<RepairLine>>> Of(
        Passport passport,
        RepairId repair,
        IReadOnlyList<Complaint> complaints,
        CancellationToken stop,
        bool freely = false,
        int first = 0,
        bool atBench = false
    )
    {
        if (complaints.Count == 0)
        {
            return new List<RepairLine>();
        }

        if (passport.Fitted is not { } map)
        {
            return new Refusal(
                RefusalReason.Conflict,
                $"There is no service map for the {passport.Unit.Model.Name} yet, so nothing can be planned for it."
            );
        }

        if (complaints.Select(c => c.Assembly).Distinct().Count() < complaints.Count)
        {
            return new Refusal(RefusalReason.Invalid, "Tick one fault for each part; the others go into the note.");
        }

        var lines = new List<RepairLine>();
        foreach (var complaint in complaints)
        {
            var assembly = map.Assemblies.FirstOrDefault(a => a.Id.Value == complaint.Assembly);
            if (assembly is null || (!freely && !assembly.Faults.Contains(complaint.Fault)))
            {
                return new Refusal(
                    RefusalReason.NotFound,
                    $"The {map.Model.Name} has no \"{complaint.Fault}\" to repair. Choose from the list."
                );
            }

            if ((await plans.Of(map, [new Goal.Replace(assembly.Id)], stop)).Refusal is { } unplannable)
            {
                return unplannable;
            }

            lines.Add(
                new RepairLine
                {
                    Id = Guid.CreateVersion7(),
                    RepairId = repair,
                    Position = first + lines.Count,
                    Assembly = assembly.Id.Value,
                    AssemblyName = assembly.Name,
                    Slot = map.Part(assembly.Part).Slot!,
                    Fault = complaint.Fault,
                    JoinedAtBench = atBench,
                }
            );
        }

        return lines;
    }

    /// <summary>One line more, after those the repair has; refused where what is in its slot is exchanged already.</summary>
    internal async Task<Outcome<RepairLine>> OneMore(
        Passport passport,
        Repair repair,
        Complaint complaint,
        bool atBench,
        CancellationToken stop
    )
    {
        var first = repair.Lines.Count == 0 ? 0 : repair.Lines.Max(l => l.Position) + 1;
        return !(await Of(passport, repair.Id, [complaint], stop, freely: true, first, atBench)).Try(
                out var more,
                out var refusal
            )
                ? refusal
            : repair.Lines.Exists(l => l.Slot == more[0].Slot)
                ? new Refusal(
                    RefusalReason.Conflict,
                    $"{repair.Code} already exchanges what is in the {more[0].Slot} slot."
                )
            : more[0];
    }
}
