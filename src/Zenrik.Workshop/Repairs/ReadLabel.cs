using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.Parts;
using Zenrik.Core.Repairs;
using Zenrik.Core.Stock;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.BenchLedger;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Repairs;

/// <summary>
/// Records the number read at the bench. Where the part's own label is scanned instead, the workshop's or its maker's with the
/// serial, the book knows the number by it, and which item is in the hand: of two alike, the one that goes in is the one
/// promised, or, at a bench without a map, where nothing is promised, the one that is fitted when the repair is closed.
/// </summary>
public sealed class ReadLabel(WorkshopDb db, BenchOf benches, RecordEntry record, ChooseItem choose)
{
    /// <inheritdoc cref="RecordEntry.Run(long, Guid, int, Entry, Actor, CancellationToken)"/>
    public async Task<Outcome<BenchView>> Run(
        long repair,
        Guid request,
        int seen,
        Entry.NumberRead read,
        Actor by,
        CancellationToken stop = default
    )
    {
        if (await Scanned(repair, read.Number, stop) is not { } item)
        {
            // No maker's number looks so: taken for one it would stand in the catalogue.
            return Items.IsLabel(LabelCode.Of(read.Number))
                ? new Refusal(
                    RefusalReason.NotFound,
                    $"There is no item {LabelCode.Of(read.Number)}. "
                        + "Read its label once more, or give the number printed on the part itself."
                )
                : await record.Run(repair, request, seen, read, by, stop);
        }

        if (
            !(await benches.Run(repair, stop)).Try(out var bench, out _)
            || bench.Ledger.Current?.Act is not { Kind: ActKind.ReadRemoved or ActKind.ReadFitted } act
        )
        {
            return await record.Run(repair, request, seen, read, by, stop);
        }

        var slot = bench.Ledger.Plan.Map.Part(act.Part).Slot;
        var line = bench.Repair.Lines.Find(l => l.Slot == slot);
        if (act.Kind == ActKind.ReadRemoved && (item.UnitId != bench.Repair.UnitId || item.Slot != slot))
        {
            return new Refusal(
                RefusalReason.Conflict,
                $"By the book {item.Code} is in {item.Where()}, not the {slot} of {bench.Repair.Unit.Tag}. "
                    + "If its label is on what came out, give the number printed on the part itself."
            );
        }

        if (act.Kind == ActKind.ReadFitted && line is null && CloseRepair.MayFit(item, bench.Repair) is { } elsewhere)
        {
            return elsewhere;
        }

        var meant = read with { Number = item.Number.Number, Item = item.Code };
        return
            act.Kind == ActKind.ReadFitted
            && line is not null
            && item.Reservation?.LineId != line.Id
            && item.Number.Number == line.ExpectedIn
            ? await record.Run(
                repair,
                request,
                seen,
                meant,
                held => Take(held, line.Slot, item.Code, by, stop),
                by,
                stop
            )
            : await record.Run(repair, request, seen, meant, by, stop);
    }

    /// <summary>The item whose label was scanned; by its serial only one that this repair is about. Null: none.</summary>
    private async Task<Item?> Scanned(long repair, string scanned, CancellationToken stop)
    {
        var (code, serials) = (LabelCode.Of(scanned), SerialNumber.Readings(scanned));
        var found = await db
            .Items.AsNoTracking()
            .Include(i => i.Number)
            .Include(i => i.Bin)
            .Include(i => i.Unit)
            .Include(i => i.Reservation)
            .Where(i =>
                i.Code == code
                || (
                    serials.Contains(i.Serial!)
                    && db.Repairs.Any(r =>
                        r.Number == repair && (r.Id == i.Reservation!.RepairId || r.UnitId == i.UnitId)
                    )
                )
            )
            .Take(2)
            .ToListAsync(stop);
        return found is [var only] ? only : null;
    }

    /// <summary>Promises another of the same number in the place of the one promised; part of the line's transaction.</summary>
    private async Task<Refusal?> Take(Repair repair, string slot, string code, Actor by, CancellationToken stop)
    {
        var line = repair.Lines.Single(l => l.Slot == slot);
        var handedOut = await db
            .Items.Where(i => i.Reservation!.LineId == line.Id && i.BinKind == BinKind.Bench)
            .Select(i => i.Code)
            .FirstOrDefaultAsync(stop);
        return handedOut is null
            ? (await choose.Promise(repair, line, code, by, stop)).Refusal
            : new Refusal(
                RefusalReason.Conflict,
                $"{code} is another {line.ExpectedIn} than {handedOut}, which was handed out for {repair.Code}. "
                    + "Fit that one, or put it back into its bin first."
            );
    }
}
