using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Stock;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.People;
using Zenrik.Workshop.Teardown;

namespace Zenrik.Workshop.Repairs;

/// <summary>An assembly to exchange and why.</summary>
public sealed record Complaint(string Assembly, string Fault);

/// <summary>Takes a unit in for a repair.</summary>
public sealed class OpenRepair(WorkshopDb db, PassportOf passports, PlanFor plans, TimeProvider clock)
{
    /// <returns>The new repair's code.</returns>
    public async Task<Outcome<string>> Run(
        string tag,
        IReadOnlyList<Complaint> complaints,
        string? note,
        DateOnly? promisedOn,
        Actor by,
        CancellationToken stop = default
    )
    {
        if (!(await passports.Run(tag, stop)).Try(out var passport, out var unknown))
        {
            return unknown;
        }

        if (passport.OpenRepair is { } open)
        {
            return AlreadyOpen(tag, open.Code);
        }

        if (passport.Fitted is not { } map)
        {
            return new Refusal(
                RefusalReason.Conflict,
                $"There is no service map for the {passport.Unit.Model.Name} yet, so nothing can be planned for it."
            );
        }

        if (note?.Length > Ledger.MaxNote)
        {
            return new Refusal(
                RefusalReason.Invalid,
                $"A note has at most {Ledger.MaxNote} characters; this one has {note.Length}."
            );
        }

        if (complaints.Count == 0)
        {
            return new Refusal(RefusalReason.Invalid, "Say what is wrong: tick at least one fault.");
        }

        if (complaints.Select(c => c.Assembly).Distinct().Count() < complaints.Count)
        {
            return new Refusal(RefusalReason.Invalid, "Tick one fault for each part; the others go into the note.");
        }

        var lines = new List<RepairLine>();
        var id = new RepairId(Guid.CreateVersion7());
        foreach (var complaint in complaints)
        {
            var assembly = map.Assemblies.FirstOrDefault(a => a.Id.Value == complaint.Assembly);
            if (assembly is null || !assembly.Faults.Contains(complaint.Fault))
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
                    RepairId = id,
                    Position = lines.Count,
                    Assembly = assembly.Id.Value,
                    AssemblyName = assembly.Name,
                    Slot = map.Part(assembly.Part).Slot!,
                    Fault = complaint.Fault,
                }
            );
        }

        var repair = new Repair
        {
            Id = id,
            UnitId = passport.Unit.Id,
            Note = string.IsNullOrWhiteSpace(note) ? null : note.Trim(),
            State = RepairState.Open,
            PromisedOn = promisedOn,
            OpenedAt = clock.GetUtcNow(),
            OpenedById = by.Id,
            Lines = lines,
        };
        db.Repairs.Add(repair);
        try
        {
            await db.SaveChangesAsync(stop);
        }
        catch (DbUpdateException e) when (e.Broke("ix_repairs_one_open_per_unit"))
        {
            db.ChangeTracker.Clear();
            var other = await db.Repairs.SingleAsync(
                r => r.UnitId == repair.UnitId && (r.State == RepairState.Open || r.State == RepairState.OnBench),
                stop
            );
            return AlreadyOpen(tag, other.Code);
        }

        return repair.Code;
    }

    private static Refusal AlreadyOpen(string tag, string code) =>
        new(RefusalReason.Conflict, $"{tag.Trim().ToUpperInvariant()} is already in repair {code}. Go on there.");
}
