using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.Repairs;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Shipped;

namespace Zenrik.Workshop.Repairs;

/// <summary>
/// Says that a unit set apart as dangerous is safe to work on, by whom and why; that stays in the repair's notes, whatever is
/// decided later.
/// </summary>
public sealed class ReleaseStopped(WorkshopDb db, TimeProvider clock)
{
    public async Task<Outcome<string>> Run(long repairNumber, string? why, Actor by, CancellationToken stop = default)
    {
        var reason = why?.Trim() ?? "";
        if (reason.Length is < 5 or > 200)
        {
            return new Refusal(RefusalReason.Invalid, "Say in 5 to 200 characters what was done that makes it safe.");
        }

        return await db.Write(by, Repair.CodeOf(repairNumber), clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await db.LockRepair(repairNumber, stop)).Try(out var repair, out var missing))
            {
                return missing;
            }

            if (repair.State != RepairState.Stopped)
            {
                return new Refusal(RefusalReason.Conflict, $"{repair.Code} is not set apart.");
            }

            var onBench = await db.BenchSessions.AnyAsync(s => s.RepairId == repair.Id, stop);
            db.Add(RepairNote.Of(repair, RepairNoteKind.Said, $"Safe to work on: {reason}", by, clock.GetUtcNow()));
            repair.MadeSafeAt = clock.GetUtcNow();
            repair.Go(RepairLife.Released(onBench));
            repair.Decided =
                $"Safe to work on, says {by.Name} on {clock.GetLocalNow().ToString("d MMM yyyy", CultureInfo.InvariantCulture)}: {reason}";
            // What was dangerous is known now; the rest of the complaint can be looked into.
            repair.Symptoms.RemoveAll(s => ShippedTriage.Knowledge.Symptom(s)?.Stop is not null);
            if (repair.Symptoms.Count == 0 && !onBench)
            {
                repair.TriageEnd = Core.Triage.TriageStanding.SureEnough;
            }

            await db.Follow(repair, new Occasion(by, clock.GetUtcNow()), stop);
            return $"{repair.Code} is released.";
        }
    }
}
