using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fleet;
using Zenrik.Core.Repairs;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Parts;

namespace Zenrik.Workshop.Repairs;

/// <summary>Takes an ended repair up again where it ended, with what was found; that and why stays in its notes.</summary>
public sealed class ReopenRepair(WorkshopDb db, TimeProvider clock)
{
    /// <param name="why">At least three characters.</param>
    public Task<Outcome<string>> Run(
        Guid request,
        long repairNumber,
        string? why,
        Actor by,
        CancellationToken stop = default
    )
    {
        var now = clock.GetUtcNow();
        return db.WriteOnce(request, by, Repair.CodeOf(repairNumber), now, Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await db.LockRepair(repairNumber, stop)).Try(out var repair, out var missing))
            {
                return missing;
            }

            var opened = await db.BenchSessions.AnyAsync(s => s.RepairId == repair.Id, stop);
            if (RepairLife.MayReopen(repair.Code, repair.State, repair.End, opened) is { } never)
            {
                return never;
            }

            if (
                !RepairNotes
                    .Read(repair.Code, RepairNoteKind.Reopened, repair.State, [], why)
                    .Try(out var reason, out var wrong)
            )
            {
                return wrong;
            }

            if (
                await db
                    .Repairs.Where(Repair.Underway)
                    .Where(r => r.UnitId == repair.UnitId)
                    .Select(r => (long?)r.Number)
                    .FirstOrDefaultAsync(stop) is
                { } other
            )
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"{repair.Unit.Tag} is in repair {Repair.CodeOf(other)} already. Go on there."
                );
            }

            var occasion = new Occasion(by, now, repair.Id);
            if (
                await db.Step(
                    repair.UnitId,
                    UnitState.AtCounter,
                    $"{repair.Code}: at the counter again",
                    occasion,
                    stop
                ) is
                { } elsewhere
            )
            {
                return elsewhere;
            }

            repair.Reopen(opened);
            db.Add(RepairNote.Of(repair, RepairNoteKind.Reopened, reason, by, now));
            return $"{repair.Code} is taken up again.";
        }
    }
}
