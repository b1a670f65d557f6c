using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Repairs;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.BenchLedger;

/// <summary>
/// A new part proves faulty at the bench and no other of its number is there: its line waits for another, as lines do that
/// have no part, and the session for it. The faulty one stays in the machine until the other goes in.
/// </summary>
public sealed class AwaitAnother(WorkshopDb db, BenchOf benches, TimeProvider clock)
{
    /// <param name="request">Sent twice it changes nothing the second time.</param>
    /// <param name="slot">Of the new part.</param>
    /// <param name="seen">What is wrong with it, as long as a fault may be.</param>
    /// <returns>What is awaited, as a sentence.</returns>
    public Task<Outcome<string>> Run(
        Guid request,
        long repairNumber,
        string? slot,
        string? seen,
        Actor by,
        CancellationToken stop = default
    )
    {
        var now = clock.GetUtcNow();
        return db.WriteOnce(request, by, Repair.CodeOf(repairNumber), now, Work, stop);

        async Task<Outcome<string>> Work()
        {
            if ((FaultText.Check(seen) ?? Hazards.CheckExchange(seen)) is { } unusable)
            {
                return unusable;
            }

            if (!(await db.LockRepair(repairNumber, stop)).Try(out var repair, out var missing))
            {
                return missing;
            }

            if (
                repair.State != RepairState.OnBench
                || repair.Lines.Find(l => l.Slot == slot) is not { } line
                || await benches.Find(repair, stop) is not { } bench
                || bench.Ledger.MayBeFaulty.All(a => bench.Ledger.Plan.Map.Part(a.Part).Slot != slot)
            )
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"No new part was put in there at the bench of {Repair.CodeOf(repairNumber)} that another could take the place of."
                );
            }

            if (line.AwaitsAnother)
            {
                return new Refusal(RefusalReason.Conflict, $"Another {line.AssemblyName} is awaited already.");
            }

            await db.LockPromised(line.Id, stop);
            var faulty = await db
                .Items.Include(i => i.Bin)
                .Include(i => i.Reservation!.Repair)
                .SingleOrDefaultAsync(i => i.Reservation!.LineId == line.Id, stop);
            if (faulty is null)
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"No {line.AssemblyName} is promised to {repair.Code} any more."
                );
            }

            var said = seen!.Trim();
            if (faulty.BinKind == BinKind.Shelf)
            {
                // Nobody had scanned it; it is not on its shelf, and without a promise it would be taken for free.
                _ = db.Put(
                    faulty,
                    await db.TheBin(BinKind.Bench, stop),
                    MovementReason.Issued,
                    new Occasion(by, now, repair.Id)
                );
            }

            db.Reservations.Remove(faulty.Reservation!);
            line.AwaitAnother(faulty.Id, said, bench.Ledger.Current?.Act.ToString());
            db.Add(
                RepairNote.Of(
                    repair,
                    RepairNoteKind.Said,
                    $"The new {line.AssemblyName} ({faulty.Code}) is faulty: {said}. Another is awaited.",
                    by,
                    now
                )
            );
            return $"Another {line.ExpectedIn} is awaited for {repair.Code}. It stands on what is to be ordered; when it has come, the session goes on from here.";
        }
    }
}
