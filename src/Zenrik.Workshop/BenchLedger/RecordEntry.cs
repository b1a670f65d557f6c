using Microsoft.EntityFrameworkCore;
using Npgsql;
using Zenrik.Core;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.Parts;
using Zenrik.Core.Repairs;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.Parts;

namespace Zenrik.Workshop.BenchLedger;

/// <summary>
/// Adds one line to a session's ledger. Usually one statement: this instance has the session as it stood at the line the
/// page has seen, and PostgreSQL lets the next line in only if it is the next, the repair is still on the bench, and the
/// numbers expected are still those. Otherwise the session is read again under the repair's lock.
/// </summary>
public sealed class RecordEntry(
    WorkshopDb db,
    BenchOf benches,
    KeptBenches kept,
    PromiseConsumables consumables,
    TimeProvider clock
)
{
    /// <param name="repairNumber">The repair on the bench.</param>
    /// <param name="request">Made once for the line; the same request sent again is answered, not repeated.</param>
    /// <param name="seen">How many lines the sender had seen; fewer than there are is refused as stale.</param>
    /// <param name="entry">The line.</param>
    /// <returns>The session after the line.</returns>
    public Task<Outcome<BenchView>> Run(
        long repairNumber,
        Guid request,
        int seen,
        Entry entry,
        Actor by,
        CancellationToken stop = default
    ) => Run(repairNumber, request, seen, entry, null, by, stop);

    /// <param name="with">What is written together with the line, under the repair's lock; what it refuses refuses the line.</param>
    internal async Task<Outcome<BenchView>> Run(
        long repairNumber,
        Guid request,
        int seen,
        Entry entry,
        Func<Repair, Task<Refusal?>>? with,
        Actor by,
        CancellationToken stop
    )
    {
        if (Writing.Missing(request) is { } nameless)
        {
            return nameless;
        }

        entry = await Meant(entry, stop);
        // What is planned anew may use up more, and that is promised in the same transaction.
        if (
            entry is not Entry.Replanned
            && with is null
            && kept.Find(repairNumber) is { } bench
            && bench.Sequence == seen
            && await AtOnce(bench, request, entry, by, stop) is { } after
        )
        {
            return after;
        }

        return (await UnderLock(repairNumber, request, seen, entry, with, by, stop)).Try(
            out var stored,
            out var refused
        )
            ? kept.Keep(IsAsBegun(stored) ? stored : (await benches.Run(repairNumber, stop)).Value)
            : refused;

        // With a line more or less, or another item promised, it is read anew: other numbers are expected.
        bool IsAsBegun(BenchView view) =>
            with is null && !(entry is Entry.TakenBack && view.Repair.Lines.Exists(l => l.JoinedAtBench));
    }

    /// <summary>A number is noted as printed, without what its bar code or its label says besides.</summary>
    private async Task<Entry> Meant(Entry entry, CancellationToken stop) =>
        entry is Entry.NumberRead read && PartNumber.Read(read.Number).Try(out var number, out _)
            ? read with
            {
                Number = (await db.Meant(number, stop)).Text,
            }
            : entry;

    /// <returns>Null when what this instance remembers is not what is stored; nothing has been changed then.</returns>
    private async Task<BenchView?> AtOnce(BenchView bench, Guid request, Entry entry, Actor by, CancellationToken stop)
    {
        // What the ledger refuses is answered from what is stored.
        if (!bench.Ledger.AddNew(entry, await Real(bench, entry, stop)).Try(out var ledger, out _))
        {
            return null;
        }

        // What joined the job leaves it with its line and its promise; what proved faulty stays in.
        if (
            entry is Entry.TakenBack
            && (ledger.Goals.Count < bench.Ledger.Goals.Count || Awaited(bench.Repair, ledger) is not null)
        )
        {
            return null;
        }

        var row = BenchEntry.Of(bench.Session.Id, bench.Sequence + 1, request, entry, by, clock.GetUtcNow());
        var (kind, difference) = (row.Kind.ToString(), row.Difference?.ToString());
        var expected = KeptBenches.Expectation(bench.Repair);
        var repair = bench.Repair.Id.Value;
        try
        {
            // FOR SHARE waits for whoever closes the repair, and then finds it closed.
            var added = await db.Database.ExecuteSqlAsync(
                $"""
                INSERT INTO bench_entries
                    (session_id, sequence, request_id, kind, step, count, difference, text, cause, goal, item, rest,
                    confirmed, at, by_id)
                SELECT {row.SessionId}, {row.Sequence}, {row.RequestId}, {kind}, {row.Step}, {row.Count}, {difference},
                    {row.Text}, {row.Cause}, {row.Goal}, {row.Item}, {row.Rest}, {row.Confirmed}, {row.At}, {row.ById}
                FROM repairs r
                WHERE r.id = {repair} AND r.state = 'OnBench'
                    AND {row.Sequence} = 1 + coalesce(
                        (SELECT max(e.sequence) FROM bench_entries e WHERE e.session_id = {row.SessionId}), 0)
                    AND {expected} = coalesce((
                        SELECT string_agg(
                            concat(l.expected_out, '>', l.expected_in, CASE WHEN l.faulty_item_id IS NOT NULL THEN '!' END),
                            '|' ORDER BY l.position)
                        FROM repair_lines l WHERE l.repair_id = r.id), '')
                FOR SHARE OF r
                """,
                stop
            );
            return added == 1 ? kept.Keep(bench.After(row, ledger, by)) : null;
        }
        catch (PostgresException e) when (e.SqlState == PostgresErrorCodes.UniqueViolation)
        {
            // Somebody was quicker, or the line is here already.
            return null;
        }
    }

    /// <summary>Of the number read and those expected the ones the book knows; null where no number is read.</summary>
    private async Task<IReadOnlySet<string>?> Real(BenchView bench, Entry entry, CancellationToken stop)
    {
        if (entry is not Entry.NumberRead read)
        {
            return null;
        }

        var brief = bench.Ledger.Brief;
        var wanted = brief
            .Removed.Values.Concat(brief.Fitted.Values)
            .Select(n => n.Canonical)
            .Append(PartNumber.Canonicalise(read.Number))
            .Distinct()
            .ToList();
        return (
            await db
                .CatalogueNumbers.Where(n => wanted.Contains(n.Canonical))
                .Select(n => n.Canonical)
                .ToListAsync(stop)
        ).ToHashSet();
    }

    private Task<Outcome<BenchView>> UnderLock(
        long repairNumber,
        Guid request,
        int seen,
        Entry entry,
        Func<Repair, Task<Refusal?>>? with,
        Actor by,
        CancellationToken stop
    )
    {
        return db.Write(by, Repair.CodeOf(repairNumber), clock.GetUtcNow(), Work, stop, nameof(Run));

        async Task<Outcome<BenchView>> Work()
        {
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
                return new Refusal(
                    RefusalReason.Conflict,
                    repair.State == RepairState.Stopped
                        ? $"{repair.Code} is set apart as dangerous; nothing more is done before somebody says it is safe."
                        : $"{repair.Code} is closed; its ledger takes no more lines."
                );
            }

            if (seen != bench.Sequence)
            {
                return new Refusal(
                    RefusalReason.Stale,
                    $"This page had not seen the last act, which {bench.LastBy ?? "somebody"} recorded. "
                        + "It shows the present state now; nothing was changed."
                );
            }

            if (!bench.Ledger.AddNew(entry, await Real(bench, entry, stop)).Try(out var ledger, out var refusal))
            {
                return refusal;
            }

            if (entry is Entry.TakenBack)
            {
                if (Awaited(repair, ledger) is { } stays)
                {
                    return stays;
                }

                await TakeOff(repair, bench.Ledger, ledger, stop);
            }

            if (with is not null && await with(repair) is { } refused)
            {
                return refused;
            }

            if (entry is Entry.Replanned && await consumables.For(repair, ledger.Plan, by, stop) is { } lacking)
            {
                return lacking;
            }

            var row = BenchEntry.Of(bench.Session.Id, bench.Sequence + 1, request, entry, by, clock.GetUtcNow());
            db.BenchEntries.Add(row);
            return bench.After(row, ledger, by);
        }
    }

    /// <summary>Why a line is not taken back by which a part went in that proved faulty: its own comes out by another's going in.</summary>
    private static Refusal? Awaited(Repair repair, Ledger after)
    {
        var inside = after.MayBeFaulty.Select(a => after.Plan.Map.Part(a.Part).Slot).ToHashSet();
        return repair.Lines.Find(l => l.AwaitsAnother && !inside.Contains(l.Slot)) is { } line
            ? new Refusal(
                RefusalReason.Conflict,
                $"The new {line.AssemblyName} is faulty and another is awaited; that it went in is not taken back any more."
            )
            : null;
    }

    /// <summary>What joined by lines that are taken back leaves the repair; what was promised to it is free.</summary>
    private async Task TakeOff(Repair repair, Ledger before, Ledger after, CancellationToken stop)
    {
        var gone = before
            .Goals.Except(after.Goals)
            .Select(g => (g.Goal as Goal.Replace)?.Assembly.Value)
            .OfType<string>()
            .ToHashSet();
        foreach (var line in repair.Lines.Where(l => l.JoinedAtBench && gone.Contains(l.Assembly)).ToList())
        {
            await db.Reservations.Where(r => r.LineId == line.Id).ExecuteDeleteAsync(stop);
            db.RepairLines.Remove(line);
        }
    }
}
