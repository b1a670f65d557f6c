using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Repairs;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.Shipped;

namespace Zenrik.Workshop.Repairs;

/// <summary>Puts an assembly on a repair, or takes it off again, before the machine is opened.</summary>
public sealed class ChooseAssembly(WorkshopDb db, PassportOf passports, RepairLines lines, TimeProvider clock)
{
    /// <returns>The assembly's name. Choosing it twice is no fault.</returns>
    public Task<Outcome<string>> Run(long repairNumber, string assemblyId, Actor by, CancellationToken stop = default)
    {
        return db.Write(by, Repair.CodeOf(repairNumber), clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await Open(repairNumber, stop)).Try(out var repair, out var refusal))
            {
                return refusal;
            }

            if (repair.Lines.Find(l => l.Assembly == assemblyId) is { } there)
            {
                return there.AssemblyName;
            }

            var passport = (await passports.Run(repair.Unit.Tag, stop)).Value;
            var fault = repair.FaultId is { } found
                ? ShippedTriage.Knowledge.Fault(found)?.Name
                : passport.Fitted?.Assemblies.FirstOrDefault(a => a.Id.Value == assemblyId)?.Faults[0];
            var complaint = new Complaint(assemblyId, fault ?? "to be exchanged");
            if (!(await lines.OneMore(passport, repair, complaint, false, stop)).Try(out var line, out refusal))
            {
                return refusal;
            }

            db.RepairLines.Add(line);
            return line.AssemblyName;
        }
    }

    /// <summary>Takes an assembly off; what was promised for it is free again. Orders stay, for the shelf.</summary>
    public Task<Outcome<string>> Remove(
        long repairNumber,
        string assemblyId,
        Actor by,
        CancellationToken stop = default
    )
    {
        return db.Write(by, Repair.CodeOf(repairNumber), clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await Open(repairNumber, stop)).Try(out var repair, out var refusal))
            {
                return refusal;
            }

            if (repair.Lines.Find(l => l.Assembly == assemblyId) is { } line)
            {
                if (repair.Lines.Count == 1 && repair.TriageEnd is null)
                {
                    return new Refusal(
                        RefusalReason.Conflict,
                        "It is all this repair is for. Withdraw the repair instead."
                    );
                }

                db.Reservations.RemoveRange(db.Reservations.Where(r => r.LineId == line.Id));
                await db.SaveChangesAsync(stop);
                db.RepairLines.Remove(line);
            }

            return assemblyId;
        }
    }

    private async Task<Outcome<Repair>> Open(long repairNumber, CancellationToken stop) =>
        !(await db.LockRepair(repairNumber, stop)).Try(out var repair, out var missing) ? missing
        : repair.State != RepairState.Open
            ? new Refusal(RefusalReason.Conflict, $"What {repair.Code} exchanges is not changed any more.")
        : repair.InTriage ? new Refusal(RefusalReason.Conflict, $"The triage of {repair.Code} goes on; end it first.")
        : repair;
}
