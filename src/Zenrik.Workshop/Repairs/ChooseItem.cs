using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fit;
using Zenrik.Core.Repairs;
using Zenrik.Core.Stock;
using Zenrik.Workshop.BenchLedger;
using Zenrik.Workshop.Fit;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Repairs;

/// <summary>Promises an item of the stores to a line of a repair, in place of one promised before.</summary>
public sealed class ChooseItem(WorkshopDb db, PassportOf passports, FitOf fits, BenchOf benches, TimeProvider clock)
{
    /// <returns>The item's code. Choosing the same item again is no fault.</returns>
    public Task<Outcome<string>> Run(
        long repairNumber,
        string slot,
        string itemCode,
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

            var line = repair.Lines.Find(l => l.Slot == slot);
            if (line is null)
            {
                return new Refusal(RefusalReason.NotFound, $"{repair.Code} does not exchange a {slot}.");
            }

            if (repair.State is not (RepairState.Open or RepairState.OnBench))
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"{repair.Code} is closed; nothing is fitted in it any more."
                );
            }

            if (
                repair.State == RepairState.OnBench
                && !line.AwaitsAnother
                && await NumberAlreadyRead(repair, slot, stop)
            )
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"The number of the new {line.AssemblyName} has been read at the bench. Take that act back first."
                );
            }

            return await Promise(repair, line, itemCode, by, stop);
        }
    }

    /// <summary>Promises an item to a line, if it fits there; part of the caller's transaction, under the repair's lock.</summary>
    /// <returns>The item's code.</returns>
    internal async Task<Outcome<string>> Promise(
        Repair repair,
        RepairLine line,
        string itemCode,
        Actor by,
        CancellationToken stop
    )
    {
        var slot = line.Slot;
        if (!(await db.LockItemFor(line.Id, itemCode, stop)).Try(out var item, out var missing))
        {
            return missing;
        }

        var code = item.Code;
        if (ItemLife.MayPromise(item.Place, item.Reservation?.RepairId, repair.Id) is { } refusal)
        {
            return refusal with { Message = $"{code}: {refusal.Message}" };
        }

        if (!line.MayBe(item.Number.Number))
        {
            return Promises.AnotherNumber(item, line);
        }

        var passport = (await passports.Run(repair.Unit.Tag, stop)).Value;
        var signed = await db.Waivers.Of(repair.Id, stop);
        if (!(await fits.One(passport, slot, item.Number, signed, stop)).Try(out var answer, out var unanswered))
        {
            return unanswered;
        }

        if (answer.Verdict is FitVerdict.DoesNotFit or FitVerdict.NotKnown)
        {
            var why = answer.Reasons.First(r => r.Weight is FitWeight.Against or FitWeight.Missing).Text;
            return new Refusal(
                RefusalReason.Conflict,
                $"{item.Number.Number} ({item.Number.Name}) {(answer.Verdict == FitVerdict.DoesNotFit ? "does not fit" : "is not known to fit")} the {slot} slot of the {repair.Unit.Model.Name}. {why}"
            );
        }

        if (item.Reservation is { } promised)
        {
            return promised.LineId == line.Id ? code : Promises.AnotherLine(code, repair);
        }

        var before = await db.Reservations.SingleOrDefaultAsync(r => r.LineId == line.Id, stop);
        if (before is not null)
        {
            db.Reservations.Remove(before);
            // Deleted before the new promise is stored: a line has one.
            await db.SaveChangesAsync(stop);
        }

        db.Promise(line, item, by, clock.GetUtcNow());
        line.ExpectedIn = item.Number.Number;
        try
        {
            await db.SaveChangesAsync(stop);
        }
        catch (DbUpdateException e) when (e.Broke("ix_reservations_item_id"))
        {
            db.ChangeTracker.Clear();
            return new Refusal(
                RefusalReason.Conflict,
                $"{code} has just been promised to another repair. Nothing was changed here; choose another one."
            );
        }

        return code;
    }

    private async Task<bool> NumberAlreadyRead(Repair repair, string slot, CancellationToken stop)
    {
        var bench = await benches.Find(repair, stop);
        return bench?.Ledger.Numbers.Any(n => n.Fitted && n.Slot == slot) == true;
    }
}
