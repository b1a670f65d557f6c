using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fleet;
using Zenrik.Core.Repairs;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Economics;

/// <summary>Takes a unit out of use. Storage in it is erased first, by a method that is enough, and that is recorded.</summary>
public sealed class RetireUnit(WorkshopDb db, PassportOf passports, TimeProvider clock)
{
    /// <param name="asDonor">True when it is kept for its parts and does not leave the house.</param>
    /// <returns>What was done, as a sentence.</returns>
    public Task<Outcome<string>> Run(
        long repairNumber,
        IReadOnlyList<Erased> erased,
        bool asDonor,
        Actor by,
        CancellationToken stop = default
    )
    {
        return db.Write(by, Repair.CodeOf(repairNumber), clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await db.LockRepair(repairNumber, stop)).Try(out var repair, out var missing))
            {
                return missing;
            }

            if (repair is { State: RepairState.Closed, End: RepairEnd.Retired })
            {
                return $"{repair.Unit.Tag} is out of use already.";
            }

            if (repair.State is not (RepairState.Open or RepairState.Stopped))
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    repair.State == RepairState.OnBench
                        ? $"{repair.Code} is on the bench. Finish there first: every screw has its place."
                        : $"{repair.Code} is closed."
                );
            }

            var passport = (await passports.Run(repair.Unit.Tag, stop)).Value;
            var occasion = new Occasion(by, clock.GetUtcNow(), repair.Id);
            if (!Erasing.Of(passport, erased, leavesHouse: !asDonor, occasion).Try(out var records, out var lacking))
            {
                return lacking;
            }

            db.Erasures.AddRange(records);
            await db.Release(repair.Id, stop);
            var text = $"{repair.Code}: {(asDonor ? "kept for its parts" : "retired")}";
            if (
                await db.Step(repair.UnitId, asDonor ? UnitState.Donor : UnitState.Retired, text, occasion, stop) is
                { } step
            )
            {
                return step;
            }

            repair.EndAs(RepairEnd.Retired, occasion);
            return $"{repair.Unit.Tag} is {(asDonor ? "a donor now" : "retired")}, {records.Count} {(records.Count == 1 ? "drive" : "drives")} erased.";
        }
    }
}
