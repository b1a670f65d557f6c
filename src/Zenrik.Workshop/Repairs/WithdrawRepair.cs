using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Repairs;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Shipped;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Repairs;

/// <summary>
/// Gives a repair up before anything was opened; what was promised to it is free again. A unit set apart as dangerous is not
/// given back so, and of one that must not get power it is said why it goes.
/// </summary>
public sealed class WithdrawRepair(WorkshopDb db, TimeProvider clock)
{
    /// <param name="why">Why it goes back although it must not get power; nobody asks otherwise.</param>
    /// <returns>The repair's code. Withdrawing twice is no fault.</returns>
    public Task<Outcome<string>> Run(long repairNumber, string? why, Actor by, CancellationToken stop = default)
    {
        var said = why?.Trim() ?? "";
        return db.Write(by, Repair.CodeOf(repairNumber), clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await db.LockRepair(repairNumber, stop)).Try(out var repair, out var missing))
            {
                return missing;
            }

            switch (repair.State)
            {
                case RepairState.Withdrawn:
                    return repair.Code;
                case RepairState.OnBench:
                case RepairState.Stopped when await db.BenchSessions.AnyAsync(s => s.RepairId == repair.Id, stop):
                    return new Refusal(
                        RefusalReason.Conflict,
                        $"{repair.Code} is on the bench, and the machine is open. Put it back together first."
                    );
                case RepairState.Stopped:
                    return new Refusal(
                        RefusalReason.Conflict,
                        $"{repair.Code} is set apart as dangerous and is not given back so. First a lead says what made it safe."
                    );
                case RepairState.Closed:
                    return new Refusal(RefusalReason.Conflict, $"{repair.Code} is closed and stays in the history.");
            }

            var found = await db.StepsOf([repair.Id]).AsNoTracking().ToListAsync(stop);
            if (ShippedTriage.NotBack(repair, found, said) is { } notYet)
            {
                return notYet;
            }

            if (ShippedTriage.IsWithoutPower(repair, found))
            {
                repair.Decided = $"Given back by {by.Name} although it must not get power: {said}";
            }

            await db.Release(repair.Id, stop);
            var occasion = new Occasion(by, clock.GetUtcNow());
            repair.Withdraw(occasion);
            await db.Follow(repair, occasion, stop);
            return repair.Code;
        }
    }
}
