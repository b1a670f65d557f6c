using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.BenchLedger;

/// <summary>A new part that may prove faulty, and what could take its place.</summary>
/// <param name="Number">Of the part, and of what takes its place.</param>
/// <param name="Items">Labels and bins: what has come for it, then what is free, in the order of the bins.</param>
/// <param name="Seen">What is wrong with it, once it was said and another is awaited; null: it was not.</param>
/// <param name="Due">When what was ordered in its place is due; null: nothing was.</param>
public sealed record MayProveFaulty(
    string Slot,
    string Name,
    string Number,
    IReadOnlyList<(string Code, string Bin)> Items,
    string? Seen,
    DateOnly? Due
);

/// <summary>Where a new part proves faulty at the bench: sets it apart, and promises another of its number in its place.</summary>
public sealed class PromiseAnother(WorkshopDb db, TimeProvider clock)
{
    /// <summary>The new parts that are in now, each with what is free in its place; none when no part of a line is in.</summary>
    public async Task<IReadOnlyList<MayProveFaulty>> Of(BenchView bench, CancellationToken stop = default)
    {
        var slots = bench.Ledger.MayBeFaulty.Select(a => bench.Ledger.Plan.Map.Part(a.Part).Slot!).ToHashSet();
        var lines = bench.Repair.Lines.Where(l => slots.Contains(l.Slot) && l.ExpectedIn is not null).ToList();
        if (lines.Count == 0)
        {
            return [];
        }

        var numbers = lines.ConvertAll(l => l.ExpectedIn!);
        List<Guid> awaiting = [.. lines.Where(l => l.AwaitsAnother).Select(l => l.Id)];
        var items = await db
            .Items.Where(i => numbers.Contains(i.Number.Number))
            .Where(i =>
                (i.BinKind == BinKind.Shelf && i.Reservation == null) || awaiting.Contains(i.Reservation!.LineId!.Value)
            )
            .OrderBy(i => i.Bin!.Code)
            .ThenBy(i => i.Code)
            .Select(i => new
            {
                i.Number.Number,
                i.Code,
                Bin = i.Bin!.Code,
                For = i.Reservation!.LineId,
            })
            .ToListAsync(stop);
        return
        [
            .. lines.Select(l => new MayProveFaulty(
                l.Slot,
                l.AssemblyName,
                l.ExpectedIn!,
                [
                    .. items
                        .Where(i => i.Number == l.ExpectedIn && (i.For is null || i.For == l.Id))
                        .OrderBy(i => i.For is null)
                        .Select(i => (i.Code, i.Bin)),
                ],
                l.FaultySeen,
                bench.Awaited.FirstOrDefault(p => p.Slot == l.Slot)?.Due
            )),
        ];
    }

    /// <summary>Part of the caller's transaction, under the repair's lock.</summary>
    /// <param name="label">Of the item that goes in now.</param>
    /// <param name="seen">What is wrong with the one that is in.</param>
    /// <returns>Null when it is promised.</returns>
    internal async Task<Refusal?> Run(
        Repair repair,
        string slot,
        string label,
        string seen,
        Actor by,
        CancellationToken stop
    )
    {
        if (repair.Lines.Find(l => l.Slot == slot) is not { } line)
        {
            return new Refusal(RefusalReason.NotFound, $"{repair.Code} does not exchange a {slot}.");
        }

        if (!(await db.LockItemFor(line.Id, label, stop)).Try(out var other, out var missing))
        {
            return missing;
        }

        if (other.Number.Number != line.ExpectedIn)
        {
            return Promises.AnotherNumber(other, line);
        }

        var promised = await db
            .Items.Include(i => i.Bin)
            .Include(i => i.Number)
            .Include(i => i.Reservation!.Repair)
            .Where(i => i.Reservation!.LineId == line.Id || i.Id == line.FaultyItemId)
            .ToListAsync(stop);
        var faulty = promised.Find(i => line.FaultyItemId is null || i.Id == line.FaultyItemId);
        if (other.Id == faulty?.Id)
        {
            return new Refusal(RefusalReason.Conflict, $"{other.Code} is the one that is in. Choose another.");
        }

        if (ItemLife.MayPromise(other.Place, other.Reservation?.RepairId, repair.Id) is { } refusal)
        {
            return refusal with { Message = $"{other.Code}: {refusal.Message}" };
        }

        if (other.Reservation is { } already && already.LineId != line.Id)
        {
            return Promises.AnotherLine(other.Code, repair);
        }

        var now = clock.GetUtcNow();
        if (faulty is not null)
        {
            // With the repair on it: it was tried there, and counts in how its number does.
            var occasion = new Occasion(by, now, repair.Id, $"faulty when fitted: {seen}");
            _ = db.Put(faulty, await db.TheBin(BinKind.Quarantine, stop), MovementReason.SetApart, occasion);
        }

        line.AwaitNoMore();
        if (other.Reservation is null)
        {
            // What was awaited and is not taken after all is free; gone before the new promise is stored: a line has one.
            db.Reservations.RemoveRange(promised.Select(i => i.Reservation).OfType<Reservation>());
            await db.SaveChangesAsync(stop);
            db.Promise(line, other, by, now);
        }

        return null;
    }
}
