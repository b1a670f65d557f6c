using Zenrik.Core;
using Zenrik.Core.BenchLedger;
using Zenrik.Workshop.People;
using Zenrik.Workshop.Repairs;

namespace Zenrik.Workshop.BenchLedger;

/// <summary>Adds one line to a session's ledger.</summary>
public sealed class RecordEntry(WorkshopDb db, BenchOf benches, TimeProvider clock)
{
    /// <param name="repairNumber">The repair on the bench.</param>
    /// <param name="request">Made once for the line; the same request sent again is answered, not repeated.</param>
    /// <param name="seen">How many lines the sender had seen; fewer than there are is refused as stale.</param>
    /// <param name="entry">The line.</param>
    /// <returns>The session after the line.</returns>
    public async Task<Outcome<BenchView>> Run(
        long repairNumber,
        Guid request,
        int seen,
        Entry entry,
        Actor by,
        CancellationToken stop = default
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync(stop);
        if (!(await db.LockRepair(repairNumber, stop)).Try(out var repair, out var missing))
        {
            return missing;
        }

        if (await benches.Find(repair, stop) is not { } bench)
        {
            return new Refusal(RefusalReason.Conflict, $"{repair.Code} is not on the bench.");
        }

        if (bench.Session.Entries.Exists(e => e.RequestId == request))
        {
            return bench;
        }

        if (repair.State != RepairState.OnBench)
        {
            return new Refusal(RefusalReason.Conflict, $"{repair.Code} is closed; its ledger takes no more lines.");
        }

        if (seen != bench.Sequence)
        {
            return new Refusal(
                RefusalReason.Stale,
                $"This page had not seen the last act, which {bench.LastBy ?? "somebody"} recorded. "
                    + "It shows the present state now; nothing was changed."
            );
        }

        if (!bench.Ledger.Add(entry).Try(out var ledger, out var refusal))
        {
            return refusal;
        }

        var row = BenchEntry.Of(bench.Session.Id, bench.Sequence + 1, request, entry, by, clock.GetUtcNow());
        db.BenchEntries.Add(row);
        await db.SaveChangesAsync(stop);
        await transaction.CommitAsync(stop);
        bench.Session.Entries.Add(row);
        return bench with
        {
            Ledger = ledger,
            Sequence = row.Sequence,
            Worked = WorkingTime.Of(bench.Session.StartedAt, bench.Session.Entries.Select(e => e.At)),
            LastBy = by.Name,
        };
    }
}
