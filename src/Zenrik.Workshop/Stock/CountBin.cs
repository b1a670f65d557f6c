using System.Data;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Parts;

namespace Zenrik.Workshop.Stock;

/// <summary>One thing in which a count differs from the book, as read out.</summary>
/// <param name="Key">Names it in the form: the item's label, or the lot's number.</param>
/// <param name="Text">What differs, in a sentence.</param>
public sealed record VarianceLine(string Key, string Text);

/// <summary>A count of a bin as it stands.</summary>
/// <param name="Expected">Items the book has in the bin, and whether each has been found.</param>
/// <param name="Surplus">Items found that the book has elsewhere.</param>
/// <param name="Changed">What happened in the bin since the count began, in sentences; empty when nothing did.</param>
public sealed record CountView(
    Stocktake Count,
    IReadOnlyList<(Item Item, bool Found)> Expected,
    IReadOnlyList<Item> Surplus,
    IReadOnlyList<(Lot Lot, int? Counted)> Lots,
    IReadOnlyList<VarianceLine> Variances,
    IReadOnlyList<string> Changed
);

/// <summary>Counts a bin by scanning what lies in it; differences are explained and posted as movements.</summary>
public sealed class CountBin(WorkshopDb db, TimeProvider clock)
{
    /// <summary>Begins a count, or goes on with the one that is open.</summary>
    /// <returns>The bin's code.</returns>
    public async Task<Outcome<string>> Start(string binCode, Actor by, CancellationToken stop = default)
    {
        if (!(await db.FindBin(binCode, stop, BinKind.Shelf, BinKind.Quarantine)).Try(out var bin, out var none))
        {
            return none;
        }

        return await db.Write(by, bin.Code, clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            var (id, now, last) = (Guid.CreateVersion7(), clock.GetUtcNow(), await LastMovement(stop));
            // Two who begin at the same moment count together.
            var begun = await db.Database.ExecuteSqlAsync(
                $"""
                INSERT INTO stocktakes (id, bin_id, at, by_id, seen_movement, posted)
                VALUES ({id}, {bin.Id.Value}, {now}, {by.Id}, {last}, false)
                ON CONFLICT (bin_id) WHERE ended_at IS NULL DO NOTHING
                """,
                stop
            );
            if (begun == 1)
            {
                db.NoteChange(nameof(Stocktake), $"{id}");
            }

            return bin.Code;
        }
    }

    /// <summary>The open count of a bin, or null.</summary>
    public async Task<CountView?> Find(string binCode, CancellationToken stop = default)
    {
        var code = LabelCode.Of(binCode);
        // One look at everything: an item that leaves between two statements would be in neither list.
        await using var snapshot = await db.Database.BeginTransactionAsync(IsolationLevel.RepeatableRead, stop);
        var count = await db
            .Stocktakes.AsNoTracking()
            .Include(s => s.Bin)
            .Include(s => s.By)
            .Include(s => s.Scanned)
            .Include(s => s.Lots)
            .SingleOrDefaultAsync(s => s.Bin.Code == code && s.EndedAt == null, stop);
        return count is null ? null : await View(count, stop);
    }

    /// <summary>Notes what was scanned: an item, or the number of something without labels, of which one more was found.</summary>
    /// <returns>What was noted, as a sentence. Scanning an item twice is no fault.</returns>
    public Task<Outcome<string>> Scan(string binCode, string? scanned, Actor by, CancellationToken stop = default)
    {
        return db.Write(by, binCode, clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await Lock(binCode, stop)).Try(out var count, out var none))
            {
                return none;
            }

            if (!(await db.LockItem(scanned, stop)).Try(out var item, out var unknown))
            {
                return unknown.Reason == RefusalReason.NotFound
                    ? new Refusal(
                        RefusalReason.NotFound,
                        $"{unknown.Message} If it is a part without a label, take it in under an order or strip it from its donor; it is not counted before."
                    )
                    : unknown;
            }

            if (item.Unit is { } unit)
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"The book has {item.Code} inside {unit.Tag} ({item.Slot}). Look into that unit first: one of the two labels was misread, or its passport is wrong."
                );
            }

            if (count.Scanned.Exists(s => s.ItemId == item.Id))
            {
                return $"{item.Code} is counted already.";
            }

            count.Scanned.Add(new ScannedItem { StocktakeId = count.Id, ItemId = item.Id });
            return item.BinId == count.BinId
                ? $"{item.Code} is here, as the book says."
                : $"{item.Code} is here; the book has it in {item.Where()}.";
        }
    }

    /// <summary>Notes how many of something without labels there are.</summary>
    public async Task<Outcome<string>> Quantity(
        string binCode,
        string number,
        int counted,
        Actor by,
        CancellationToken stop = default
    )
    {
        if (counted is < 0 or > BinCount.MostCounted)
        {
            return new Refusal(
                RefusalReason.Invalid,
                $"{counted} is no count. Count again and type a whole number from 0 to {BinCount.MostCounted}."
            );
        }

        return await db.Write(by, binCode, clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await Lock(binCode, stop)).Try(out var count, out var none))
            {
                return none;
            }

            var lot = await db
                .Lots.Include(l => l.Number)
                .SingleOrDefaultAsync(l => l.BinId == count.BinId && l.Number.Number == number, stop);
            if (lot is null)
            {
                return new Refusal(RefusalReason.NotFound, $"Nothing of {number} is kept in {count.Bin.Code}.");
            }

            if (count.Lots.Find(l => l.LotId == lot.Id) is { } line)
            {
                line.Counted = counted;
            }
            else
            {
                count.Lots.Add(
                    new CountedLot
                    {
                        StocktakeId = count.Id,
                        LotId = lot.Id,
                        Counted = counted,
                    }
                );
            }

            return $"{counted} of {number} counted.";
        }
    }

    /// <summary>
    /// Posts the differences as movements, each with its explanation. When the bin changed while it was counted, nothing is
    /// posted: the count stays, and the person looks at it against the book as it is now.
    /// </summary>
    /// <param name="why">The explanation of each difference, by its key.</param>
    public Task<Outcome<string>> Post(
        Guid request,
        string binCode,
        IReadOnlyDictionary<string, string?> why,
        Actor by,
        CancellationToken stop = default
    )
    {
        var now = clock.GetUtcNow();
        return db.WriteOnce(request, by, binCode, now, Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await Lock(binCode, stop)).Try(out var count, out var none))
            {
                return none;
            }

            // Nothing moves in or out of the bin while the count is compared and posted.
            await db.LockContents(count.BinId, stop);
            var view = await View(count, stop);
            if (view.Changed.Count > 0)
            {
                return new Refusal(
                    RefusalReason.Stale,
                    $"The bin changed while it was counted. {string.Join(" ", view.Changed)} Nothing is posted and the count is kept: look once more, then go on against the book as it is now."
                );
            }

            var reasons = new Dictionary<string, string>(StringComparer.Ordinal);
            foreach (var variance in view.Variances)
            {
                if (!Keeping.Reason(why.GetValueOrDefault(variance.Key)).Try(out var reason, out _))
                {
                    return new Refusal(
                        RefusalReason.Invalid,
                        $"{variance.Text} Say what is known of it, in a few words; “not known” will do."
                    );
                }

                reasons[variance.Key] = reason;
            }

            var said = await Settle(count, view, reasons, new Occasion(by, now), stop);
            (count.EndedAt, count.Posted) = (now, true);
            return $"Bin {count.Bin.Code} is counted: {said}.";
        }
    }

    /// <summary>Takes the book as it is now as what the count is compared with.</summary>
    public Task<Outcome<string>> LookAgain(string binCode, Actor by, CancellationToken stop = default)
    {
        return db.Write(by, binCode, clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await Lock(binCode, stop)).Try(out var count, out var none))
            {
                return none;
            }

            count.SeenMovement = await LastMovement(stop);
            return "The count is compared with the book as it is now.";
        }
    }

    /// <summary>Gives the count up; the book stays as it is.</summary>
    public Task<Outcome<string>> GiveUp(string binCode, Actor by, CancellationToken stop = default)
    {
        return db.Write(by, binCode, clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await Lock(binCode, stop)).Try(out var count, out var none))
            {
                return none;
            }

            count.EndedAt = clock.GetUtcNow();
            return $"The count of bin {count.Bin.Code} is given up; the book is as it was.";
        }
    }

    private async Task<Outcome<Stocktake>> Lock(string binCode, CancellationToken stop)
    {
        var code = LabelCode.Of(binCode);
        // The bin's row and not the count's: who waited while a count was posted would find the next one unlocked. Movements
        // only look at the bin, which this lock lets them.
        await db.LockBin(code, stop);
        var count = await db
            .Stocktakes.Include(s => s.Bin)
            .Include(s => s.Scanned)
            .Include(s => s.Lots)
            .SingleOrDefaultAsync(s => s.Bin.Code == code && s.EndedAt == null, stop);
        return count is null
            ? new Refusal(
                RefusalReason.Conflict,
                $"Bin {code} is not being counted: it was posted or given up. Begin anew."
            )
            : count;
    }

    private Task<long> LastMovement(CancellationToken stop) =>
        db.Movements.OrderByDescending(m => m.Id).Select(m => m.Id).FirstOrDefaultAsync(stop);

    private async Task<CountView> View(Stocktake count, CancellationToken stop)
    {
        var expected = await db
            .Items.AsNoTracking()
            .Include(i => i.Number)
            .Include(i => i.Bin)
            .Include(i => i.Reservation!.Repair)
            .Where(i => i.BinId == count.BinId)
            .OrderBy(i => i.Code)
            .ToListAsync(stop);
        var found = count.Scanned.Select(s => s.ItemId).ToHashSet();
        var surplus = await db
            .Items.AsNoTracking()
            .Include(i => i.Number)
            .Include(i => i.Bin)
            .Include(i => i.Unit)
            .Where(i => found.Contains(i.Id) && i.BinId != count.BinId)
            .OrderBy(i => i.Code)
            .ToListAsync(stop);
        var lots = await db
            .Lots.AsNoTracking()
            .Include(l => l.Number)
            .Where(l => l.BinId == count.BinId)
            .OrderBy(l => l.Number.Number)
            .ToListAsync(stop);
        var counted = count.Lots.ToDictionary(l => l.LotId, l => l.Counted);
        var variances = new BinCount(
            count.Bin.Place,
            expected.Select(i => i.Id).ToHashSet(),
            found,
            surplus.ToDictionary(i => i.Id, i => i.Place),
            [.. lots.Select(l => (l.Id, l.OnHand, counted.TryGetValue(l.Id, out var n) ? (int?)n : null))]
        ).Variances;
        return new CountView(
            count,
            [.. expected.Select(i => (i, found.Contains(i.Id)))],
            surplus,
            [.. lots.Select(l => (l, counted.TryGetValue(l.Id, out var n) ? (int?)n : null))],
            [.. variances.Select(Line)],
            await Changed(count, stop)
        );

        VarianceLine Line(Variance variance)
        {
            switch (variance)
            {
                case Variance.Missing missing:
                    var gone = expected.Find(i => i.Id == missing.Item)!;
                    var promise = gone.Reservation is { } r ? $" It is promised to {r.Repair.Code}." : "";
                    return new VarianceLine(gone.Code, $"{gone.Code} ({gone.Number.Number}) is not here.{promise}");
                case Variance.Surplus more:
                    var extra = surplus.Find(i => i.Id == more.Item)!;
                    return new VarianceLine(
                        extra.Code,
                        $"{extra.Code} ({extra.Number.Number}) is here; the book has it in {extra.Where()}."
                    );
                case Variance.Quantity quantity:
                    var lot = lots.Find(l => l.Id == quantity.Lot)!;
                    return new VarianceLine(
                        lot.Number.Number,
                        $"{quantity.Counted} of {lot.Number.Number} counted; the book has {quantity.Book}."
                    );
                default:
                    throw new InvalidOperationException($"no words for {variance}");
            }
        }
    }

    private async Task<IReadOnlyList<string>> Changed(Stocktake count, CancellationToken stop)
    {
        var since = await db
            .Movements.AsNoTracking()
            .Where(m => m.Id > count.SeenMovement && (m.FromBinId == count.BinId || m.ToBinId == count.BinId))
            .OrderBy(m => m.Id)
            .Select(m => new
            {
                Code = m.Item!.Code,
                Number = db.Lots.Where(l => l.Id == m.LotId).Select(l => l.Number.Number).FirstOrDefault(),
                In = m.ToBinId == count.BinId,
                By = m.By.Name,
            })
            .Take(20)
            .ToListAsync(stop);
        return [.. since.Select(m => $"{m.Code ?? m.Number} {(m.In ? "came in" : "went out")} ({m.By}).")];
    }

    private async Task<string> Settle(
        Stocktake count,
        CountView view,
        Dictionary<string, string> reasons,
        Occasion occasion,
        CancellationToken stop
    )
    {
        var outside = await db.TheBin(BinKind.Outside, stop);
        var said = new List<string>();
        foreach (var (missing, _) in view.Expected.Where(e => !e.Found))
        {
            var item = await ById(missing.Id, stop);
            var lost = db.Put(item, outside, MovementReason.Counted, occasion with { Note = reasons[item.Code] });
            said.Add($"{item.Code} is gone{(lost is null ? "" : $", and {lost} has to choose another one")}");
        }

        foreach (var extra in view.Surplus)
        {
            // Its own row is locked now: it is not in the bin whose rows are.
            var item = (await db.LockItem(extra.Code, stop)).Value;
            _ = db.Put(item, count.Bin, MovementReason.Counted, occasion with { Note = reasons[item.Code] });
            said.Add($"{item.Code} is here now");
        }

        foreach (var (lot, counted) in view.Lots)
        {
            if (counted is not { } now || now == lot.OnHand)
            {
                continue;
            }

            var kept = await db.Lots.SingleAsync(l => l.Id == lot.Id, stop);
            kept.Promised = Math.Min(kept.Promised, now);
            kept.OnHand = now;
            db.Movements.Add(
                MovementRecord.Of(occasion with { Note = reasons[lot.Number.Number] }, MovementReason.Counted) with
                {
                    LotId = lot.Id,
                    Quantity = Math.Abs(now - lot.OnHand),
                    FromBinId = now < lot.OnHand ? count.BinId : outside.Id,
                    ToBinId = now < lot.OnHand ? outside.Id : count.BinId,
                }
            );
            said.Add($"{now} of {lot.Number.Number}");
        }

        return said.Count == 0 ? "everything is as the book says" : string.Join(", ", said);
    }

    private Task<Item> ById(ItemId id, CancellationToken stop) =>
        db
            .Items.Include(i => i.Bin)
            .Include(i => i.Number)
            .Include(i => i.Reservation!.Repair)
            .SingleAsync(i => i.Id == id, stop);
}
