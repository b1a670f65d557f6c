using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.MapMaking;
using Zenrik.Core.Parts;
using Zenrik.Core.Repairs;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Stock;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.BenchLedger;
using Zenrik.Workshop.Fit;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.MapMaking;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.ServiceMaps;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Repairs;

/// <summary>
/// Closes a repair whose bench session is finished: what came out goes to quarantine, what was promised is now in the
/// unit, consumables are used up, and the numbers read are kept. All of it or nothing.
/// </summary>
public sealed class CloseRepair(WorkshopDb db, BenchOf benches, ServiceMapShelf maps, TimeProvider clock)
{
    /// <returns>The repair's code. Closing twice changes nothing the second time.</returns>
    public Task<Outcome<string>> Run(long repairNumber, Actor by, CancellationToken stop = default)
    {
        return db.Write(by, Repair.CodeOf(repairNumber), clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await db.LockRepair(repairNumber, stop)).Try(out var repair, out var missing))
            {
                return missing;
            }

            if (repair.State == RepairState.Closed)
            {
                return repair.Code;
            }

            if (repair.State != RepairState.OnBench || await benches.Find(repair, stop) is not { } bench)
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"{repair.Code} is not on the bench; there is nothing to close."
                );
            }

            if (!bench.Ledger.IsFinished)
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"{repair.Code} cannot be closed yet. Still open: {string.Join("; ", bench.Ledger.Open)}."
                );
            }

            var occasion = new Occasion(by, clock.GetUtcNow(), repair.Id);
            foreach (var line in repair.Lines)
            {
                if (await Exchange(repair, line, bench.Ledger, occasion, stop) is { } refusal)
                {
                    return refusal;
                }
            }

            if (bench.Session.IsFree && await KeepNamed(repair, bench.Ledger, occasion, stop) is { } taken)
            {
                return taken;
            }

            await LeaveWithTheOld(repair, bench.Ledger.Plan, occasion, stop);
            await UseUp(repair, bench.Ledger, occasion, stop);
            db.FollowUps.AddRange(bench.Ledger.StopGaps.Select(gap => FollowUp.Of(repair, gap, occasion)));
            if (bench.Session.IsFree || await maps.IsDraft(bench.Session.ModelCode, stop))
            {
                var session = bench.Session;
                await db.Keep(session.ModelCode, session.Id, session.StartedById, bench.Ledger, occasion, stop);
            }
            else
            {
                db.MapFindings.AddRange(Counted(bench, occasion));
            }

            var exchanged = repair.Lines.Count > 0 || bench.Ledger.Plan.Replaced.Count > 0 || bench.Session.IsFree;
            repair.EndAs(exchanged ? RepairEnd.Exchanged : RepairEnd.Serviced, occasion);
            await db.EndMark(repair, occasion, stop);
            repair.MinutesTaken = bench.Worked.TotalMinutes;
            await db.Follow(repair, occasion, stop);
            await db.SaveChangesAsync(stop);
            await db.CountFits(repair.Id, stop);
            return repair.Code;
        }
    }

    private async Task<Refusal?> Exchange(
        Repair repair,
        RepairLine line,
        Ledger ledger,
        Occasion occasion,
        CancellationToken stop
    )
    {
        var quarantine = await db.Bins.FirstAsync(b => b.Kind == BinKind.Quarantine, stop);
        await db.LockPromised(line.Id, stop);
        var promise = await db
            .Reservations.Include(r => r.Item!.Bin)
            .SingleOrDefaultAsync(r => r.LineId == line.Id, stop);
        // Where another was awaited that did not go in, the one thought faulty is in the machine.
        var incoming = line.AwaitsAnother
            ? await db.Items.Include(i => i.Bin).SingleAsync(i => i.Id == line.FaultyItemId, stop)
            : promise?.Item;
        if (incoming is null)
        {
            return new Refusal(
                RefusalReason.Conflict,
                $"No {line.AssemblyName} is promised to {repair.Code} any more. Choose the fitted one on its page."
            );
        }

        var read = ledger.Numbers.Where(n => n.Slot == line.Slot).ToList();
        // The old one's label may have been illegible; what goes in is always read, each time where one proved faulty.
        var (removed, fitted) = (read.SingleOrDefault(n => !n.Fitted), read.Last(n => n.Fitted));
        var outgoing = await db.Items.SingleOrDefaultAsync(i => i.UnitId == repair.UnitId && i.Slot == line.Slot, stop);
        if (outgoing is null && removed is not null)
        {
            outgoing = await NotRecordedBefore(repair, line.Slot, line.AssemblyName, removed.Number, occasion, stop);
        }

        if (outgoing is not null)
        {
            db.Movements.Add(outgoing.MoveTo(quarantine, MovementReason.Removed, occasion));
            // Written before the successor arrives: a slot holds one item at every moment.
            await db.SaveChangesAsync(stop);
        }

        var stillFaulty = line.AwaitsAnother && !(Act.TryParse(line.FaultyAt, out var failed) && ledger.Worked(failed));
        if (line.AwaitsAnother && !stillFaulty)
        {
            db.Add(
                RepairNote.Of(
                    repair,
                    RepairNoteKind.Said,
                    $"The new {line.AssemblyName} ({incoming.Code}) works after all.",
                    occasion.By,
                    occasion.At
                )
            );
        }

        db.Movements.Add(
            incoming.MoveTo(
                repair.UnitId,
                line.Slot,
                MovementReason.Fitted,
                stillFaulty ? occasion with { Note = $"faulty when fitted: {line.FaultySeen}" } : occasion
            )
        );
        if (promise is not null)
        {
            db.Reservations.Remove(promise);
        }

        line.ItemOutId = outgoing?.Id;
        line.ItemInId = incoming.Id;
        line.AwaitNoMore();
        line.NumberOut = removed?.Number.Text;
        line.NumberIn = fitted.Number.Text;
        line.Surprise = removed?.Likeness == Likeness.Different;
        return null;
    }

    /// <summary>The passport knew nothing of what came out: it enters the book now, as built into this unit.</summary>
    private async Task<Item> NotRecordedBefore(
        Repair repair,
        string slot,
        string name,
        PartNumber number,
        Occasion occasion,
        CancellationToken stop
    )
    {
        var canonical = number.Canonical;
        var known = await db.CatalogueNumbers.SingleOrDefaultAsync(n => n.Canonical == canonical, stop);
        if (known is null)
        {
            known = CatalogueNumber.Of(number, name);
            db.CatalogueNumbers.Add(known);
        }

        var item = await Items.Create(db, known, null, stop);
        db.Items.Add(item);
        db.Movements.Add(item.MoveTo(repair.UnitId, slot, MovementReason.AsBuilt, occasion));
        await db.SaveChangesAsync(stop);
        return item;
    }

    /// <summary>
    /// What was exchanged in a machine without a map: the old one to quarantine, and into the unit the item whose label was
    /// read, or one of that number from the shelf, or, where the stores have none, one that enters the book now.
    /// </summary>
    /// <returns>Why not, where somebody was promised or given the item meanwhile.</returns>
    private async Task<Refusal?> KeepNamed(Repair repair, Ledger ledger, Occasion occasion, CancellationToken stop)
    {
        var quarantine = await db.Bins.FirstAsync(b => b.Kind == BinKind.Quarantine, stop);
        foreach (var assembly in ledger.Plan.Replaced)
        {
            var slot = ledger.Plan.Map.Part(assembly.Part).Slot!;
            var read = ledger.Numbers.Where(n => n.Slot == slot).ToList();
            var outgoing = await db.Items.SingleOrDefaultAsync(i => i.UnitId == repair.UnitId && i.Slot == slot, stop);
            if (outgoing is null && read.Find(n => !n.Fitted) is { } removed)
            {
                outgoing = await NotRecordedBefore(repair, slot, assembly.Name, removed.Number, occasion, stop);
            }

            if (outgoing is not null)
            {
                db.Movements.Add(outgoing.MoveTo(quarantine, MovementReason.Removed, occasion));
                await db.SaveChangesAsync(stop);
            }

            var fitted = read.Single(n => n.Fitted);
            if (!(await InTheHand(repair, fitted, stop)).Try(out var shelf, out var refusal))
            {
                return refusal;
            }

            if (shelf is null)
            {
                await NotRecordedBefore(repair, slot, assembly.Name, fitted.Number, occasion, stop);
            }
            else
            {
                db.Movements.Add(shelf.MoveTo(repair.UnitId, slot, MovementReason.Fitted, occasion));
                await db.SaveChangesAsync(stop);
            }

            foreach (var number in read.Select(n => n.Number.Canonical).Distinct())
            {
                await List(number, slot);
            }
        }

        return null;

        // What came out of the slot and what went in and was checked there belong into it.
        async Task List(string number, string slot)
        {
            var model = repair.Unit.ModelCode;
            var known = await db.CatalogueNumbers.Include(n => n.Fits).SingleAsync(n => n.Canonical == number, stop);
            if (!known.Fits.Exists(f => f.ModelCode == model && f.Slot == slot))
            {
                known.Fits.Add(
                    new CatalogueFit
                    {
                        NumberId = known.Id,
                        ModelCode = model,
                        Slot = slot,
                        ListedBy = occasion.By.Name,
                        ListedAt = occasion.At,
                    }
                );
                await db.SaveChangesAsync(stop);
            }
        }
    }

    /// <summary>The item that was read going in: by its label, or the first free one of its number. Null: none is on a shelf.</summary>
    private async Task<Outcome<Item?>> InTheHand(Repair repair, ReadNumber fitted, CancellationToken stop)
    {
        if (fitted.Item is not null)
        {
            return !(await db.LockItem(fitted.Item, stop)).Try(out var item, out var missing) ? missing
                : MayFit(item, repair) is { } refusal
                    ? refusal with
                    {
                        Message = $"{refusal.Message} Its label was read at the bench: free it, or take that act back.",
                    }
                : item;
        }

        var canonical = fitted.Number.Canonical;
        return await db
            .Items.Include(i => i.Bin)
            .Where(i => i.Number.Canonical == canonical && i.BinKind == BinKind.Shelf && i.Reservation == null)
            .OrderBy(i => i.Code)
            .FirstOrDefaultAsync(stop);
    }

    /// <summary>Whether an item that nobody promised may go into a machine: it is on a shelf, and nobody else's.</summary>
    /// <param name="item">With its bin, its unit and its promise.</param>
    /// <returns>Null when it may.</returns>
    internal static Refusal? MayFit(Item item, Repair repair) =>
        item.UnitId == repair.UnitId
            ? new Refusal(
                RefusalReason.Conflict,
                $"By the book {item.Code} is what was in the {item.Slot} of {repair.Unit.Tag} before. "
                    + "If its label is on what goes in, give the number printed on the part itself."
            )
        : ItemLife.MayPromise(item.Place, item.Reservation?.RepairId, repair.Id) is { } refusal
            ? refusal with
            {
                Message = $"{item.Code}: {refusal.Message}",
            }
        : null;

    /// <summary>What a new part brought is in the unit by no number anybody has read; what was there left on the old one.</summary>
    private async Task LeaveWithTheOld(Repair repair, Plan plan, Occasion occasion, CancellationToken stop)
    {
        string? SlotOf(PartId part) => plan.Map.Part(part).Slot;
        // What is exchanged by itself besides has a number of its own, read on the new one.
        var exchanged = plan.Replaced.Select(a => SlotOf(a.Part)).ToHashSet();
        var brought = plan
            .Replaced.SelectMany(a => a.Brings.Select(p => (Slot: SlotOf(p), On: a.Name)))
            .Where(b => b.Slot is not null && !exchanged.Contains(b.Slot))
            .DistinctBy(b => b.Slot)
            .ToDictionary(b => b.Slot!, b => b.On);
        if (brought.Count == 0)
        {
            return;
        }

        var quarantine = await db.Bins.FirstAsync(b => b.Kind == BinKind.Quarantine, stop);
        var left = await db
            .Items.Where(i => i.UnitId == repair.UnitId && brought.Keys.Contains(i.Slot!))
            .ToListAsync(stop);
        db.Movements.AddRange(
            left.Select(i =>
                i.MoveTo(quarantine, MovementReason.Removed, occasion with { Note = $"on the old {brought[i.Slot!]}" })
            )
        );
    }

    private async Task UseUp(Repair repair, Ledger ledger, Occasion occasion, CancellationToken stop)
    {
        var used = ledger.Used.ToDictionary(u => u.Key.ToString(), u => u.Value);
        var gone = await db.Bins.FirstAsync(b => b.Kind == BinKind.Outside, stop);
        var promised = await db
            .Reservations.Include(r => r.Lot!.Number)
            .Where(r => r.RepairId == repair.Id && r.LotId != null)
            .ToListAsync(stop);
        foreach (var use in promised)
        {
            // What was promised and not needed after all is free again.
            var kind = use.Lot!.Number.Consumable ?? "";
            var taken = Math.Min(use.Quantity, used.GetValueOrDefault(kind));
            used[kind] = used.GetValueOrDefault(kind) - taken;
            // Counted down in the database, not from what was read: other benches use the same lot.
            await db
                .Lots.Where(l => l.Id == use.LotId)
                .ExecuteUpdateAsync(
                    l =>
                        l.SetProperty(x => x.OnHand, x => x.OnHand - taken)
                            .SetProperty(x => x.Promised, x => x.Promised - use.Quantity),
                    stop
                );
            db.Reservations.Remove(use);
            if (taken == 0)
            {
                continue;
            }

            db.Movements.Add(
                MovementRecord.Of(occasion, MovementReason.UsedUp) with
                {
                    LotId = use.LotId,
                    Quantity = taken,
                    FromBinId = use.Lot.BinId,
                    ToBinId = gone.Id,
                }
            );
        }
    }

    /// <summary>What a finished session counted differently and blamed on the map: once a group, as it came out.</summary>
    private static IEnumerable<MapFinding> Counted(BenchView bench, Occasion occasion) =>
        bench.Session.MapRevision is not { } revision
            ? []
            : bench
                .Ledger.Counts.Where(c => c is { Why: Difference.MapWrong, Back: false })
                .GroupBy(c => c.Group.Id)
                .Select(g => new MapFinding
                {
                    Id = Guid.CreateVersion7(),
                    ModelCode = bench.Session.ModelCode,
                    MapRevision = revision,
                    Kind = FindingKind.Count,
                    Target = g.Key.Value,
                    Found = g.Last().Count,
                    Note = g.Last().Note,
                    RepairId = bench.Repair.Id,
                    At = occasion.At,
                    ById = occasion.By.Id,
                });
}
