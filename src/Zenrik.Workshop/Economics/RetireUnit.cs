using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Economics;
using Zenrik.Core.Fleet;
using Zenrik.Core.Repairs;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Economics;

/// <summary>Takes a unit out of use. Storage in it is erased first, by a method that is enough, and that is recorded.</summary>
public sealed class RetireUnit(WorkshopDb db, PassportOf passports, TimeProvider clock)
{
    /// <param name="asDonor">True when it is kept for its parts and does not leave the house; storage that was destroyed is no part of it any more.</param>
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

            if (asDonor && RepairLife.MayBecomeDonor(repair.Code, repair.State) is { } dangerous)
            {
                return dangerous;
            }

            var passport = (await passports.Run(repair.Unit.Tag, stop)).Value;
            var occasion = new Occasion(by, clock.GetUtcNow(), repair.Id);
            var reachable = repair.State != RepairState.Stopped;
            if (!Erasing.Of(passport, erased, !asDonor, occasion, reachable).Try(out var records, out var lacking))
            {
                return lacking;
            }

            db.Erasures.AddRange(records);
            if (asDonor)
            {
                await TakeOutDestroyed(passport, records, occasion, stop);
            }

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

    /// <summary>What was shredded is not there to be stripped; what is soldered went with what carries it.</summary>
    private async Task TakeOutDestroyed(
        Passport passport,
        IReadOnlyList<ErasureRecord> records,
        Occasion occasion,
        CancellationToken stop
    )
    {
        var slots = records
            .Where(r => r.Method == ErasureMethod.Destroy && passport.Fitted?.PartInSlot(r.Slot) is not { Fixed: true })
            .Select(r => r.Slot)
            .ToList();
        var outside = slots.Count == 0 ? null : await db.TheBin(BinKind.Outside, stop);
        foreach (
            var item in await db
                .Items.Include(i => i.Number)
                .Where(i => i.UnitId == passport.Unit.Id && slots.Contains(i.Slot!))
                .ToListAsync(stop)
        )
        {
            var why = occasion with { Note = $"destroyed when {passport.Unit.Tag} became a donor" };
            db.Movements.Add(item.MoveTo(outside!, MovementReason.Scrapped, why));
        }
    }
}
