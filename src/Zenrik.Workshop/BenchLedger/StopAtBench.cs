using Zenrik.Core;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.Repairs;
using Zenrik.Workshop.Fleet;

namespace Zenrik.Workshop.BenchLedger;

/// <summary>
/// Stops a session at a danger found inside, a swollen cell above all: the repair is set apart as it lies, its ledger kept,
/// and goes on only after a lead says by name what made it safe.
/// </summary>
public sealed class StopAtBench(WorkshopDb db, BenchOf benches, TimeProvider clock)
{
    public async Task<Outcome<string>> Run(long repairNumber, string? what, Actor by, CancellationToken stop = default)
    {
        var said = what?.Trim() ?? "";
        if (said.Length is < 3 or > 200)
        {
            return new Refusal(RefusalReason.Invalid, "Say in 3 to 200 characters what you see.");
        }

        return await db.Write(by, Repair.CodeOf(repairNumber), clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await db.LockRepair(repairNumber, stop)).Try(out var repair, out var missing))
            {
                return missing;
            }

            if (repair.State == RepairState.Stopped)
            {
                return $"{repair.Code} is set apart already.";
            }

            if (repair.State != RepairState.OnBench || await benches.Find(repair, stop) is not { } bench)
            {
                return new Refusal(RefusalReason.Conflict, $"{repair.Code} is not on the bench.");
            }

            if (bench.Ledger.Current is { } step)
            {
                var note = new Entry.Noted(step.Number, $"Stopped: {said}");
                db.BenchEntries.Add(
                    BenchEntry.Of(
                        bench.Session.Id,
                        bench.Sequence + 1,
                        Guid.CreateVersion7(),
                        note,
                        by,
                        clock.GetUtcNow()
                    )
                );
            }

            repair.Go(RepairState.Stopped);
            repair.Decided = $"Stopped at the bench by {by.Name}: {said}";
            await db.Follow(repair, new Occasion(by, clock.GetUtcNow()), stop);
            return $"{repair.Code} is set apart.";
        }
    }
}
