using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fleet;
using Zenrik.Core.Repairs;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Parts;

namespace Zenrik.Workshop.Fleet;

/// <summary>How a unit's state changes: by the rules of Core, with its line in the timeline, in the caller's transaction.</summary>
internal static class UnitSteps
{
    /// <summary>Takes the step, or says why it cannot be taken.</summary>
    public static async Task<Refusal?> Step(
        this WorkshopDb db,
        UnitId id,
        UnitState to,
        string text,
        Occasion occasion,
        CancellationToken stop
    )
    {
        var unit = await db.LockUnit(id, stop);
        if (UnitLife.May(unit.Tag, unit.State, to) is { } refusal)
        {
            return refusal;
        }

        if (unit.State != to)
        {
            if (unit.State == UnitState.Loaned)
            {
                var loan = await db.Loans.SingleAsync(l => l.UnitId == id && l.BackAt == null, stop);
                (loan.BackAt, loan.BackById) = (occasion.At, occasion.By.Id);
            }

            if (unit.State == UnitState.Donor)
            {
                db.StripJobs.RemoveRange(await db.StripJobs.Where(s => s.UnitId == id).ToListAsync(stop));
            }

            unit.State = to;
            db.UnitEvents.Add(UnitEvent.Of(id, UnitEventKind.State, text, occasion));
        }

        return null;
    }

    /// <summary>Brings the unit to where its repair is.</summary>
    public static async Task Follow(this WorkshopDb db, Repair repair, Occasion occasion, CancellationToken stop)
    {
        var (to, text) = repair.State switch
        {
            RepairState.Open or RepairState.Stopped => (UnitState.AtCounter, $"{repair.Code}: at the counter"),
            RepairState.OnBench => (UnitState.OnBench, $"{repair.Code}: on the bench"),
            _ when repair.End == RepairEnd.SentAway => (UnitState.InUse, $"{repair.Code}: sent away"),
            _ => (UnitState.InUse, $"{repair.Code}: back in use"),
        };
        // Only a bug can ask for a step the rules do not have: a repair's own states are in this order.
        if (await db.Step(repair.UnitId, to, text, occasion with { Repair = repair.Id }, stop) is { } refusal)
        {
            throw new InvalidOperationException(refusal.Message);
        }
    }
}
