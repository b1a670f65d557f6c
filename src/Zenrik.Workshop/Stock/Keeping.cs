using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Parts;

namespace Zenrik.Workshop.Stock;

/// <summary>What everything that keeps the stores needs: the item behind a label, a bin, a reason.</summary>
internal static class Keeping
{
    /// <summary>Longest name of somebody who gets something.</summary>
    private const int MaxWhom = 80;

    private const int LeastReason = 3;

    /// <summary>The bin of a code and one of the kinds.</summary>
    public static async Task<Outcome<Bin>> FindBin(
        this WorkshopDb db,
        string? label,
        CancellationToken stop,
        params BinKind[] kinds
    )
    {
        var code = LabelCode.Of(label);
        var bin = await db.Bins.SingleOrDefaultAsync(b => b.Code == code, stop);
        return bin is null ? new Refusal(RefusalReason.NotFound, $"There is no bin {code}.")
            : kinds.Contains(bin.Kind) ? bin
            : new Refusal(
                RefusalReason.Conflict,
                bin.Kind == BinKind.Quarantine
                    ? $"{code} is for what is set apart. Use a shelf bin, or set the item apart with a reason."
                    : $"{code} is not a shelf bin."
            );
    }

    /// <summary>Where everything of a kind goes: the one bench, quarantine or outside.</summary>
    public static Task<Bin> TheBin(this WorkshopDb db, BinKind kind, CancellationToken stop) =>
        db.Bins.Where(b => b.Kind == kind).OrderBy(b => b.Code).FirstAsync(stop);

    /// <summary>More of what is counted without labels into a bin, from outside.</summary>
    public static async Task IntoLot(
        this WorkshopDb db,
        CatalogueNumber number,
        Bin bin,
        int quantity,
        MovementReason reason,
        Occasion occasion,
        CancellationToken stop
    )
    {
        var outside = await db.TheBin(BinKind.Outside, stop);
        var fresh = Guid.CreateVersion7();
        await db.Database.ExecuteSqlAsync(
            $"""
            INSERT INTO lots (id, number_id, bin_id, on_hand, promised) VALUES ({fresh}, {number.Id}, {bin.Id.Value}, {quantity}, 0)
            ON CONFLICT (number_id, bin_id) DO UPDATE SET on_hand = lots.on_hand + {quantity}
            """,
            stop
        );
        var lot = await db
            .Lots.Where(l => l.NumberId == number.Id && l.BinId == bin.Id)
            .Select(l => l.Id)
            .SingleAsync(stop);
        db.Movements.Add(
            MovementRecord.Of(occasion, reason) with
            {
                LotId = lot,
                Quantity = quantity,
                FromBinId = outside.Id,
                ToBinId = bin.Id,
            }
        );
    }

    /// <summary>A reason a person gave, trimmed; a refusal when it says nothing or too much.</summary>
    public static Outcome<string> Reason(string? typed)
    {
        var said = typed?.Trim() ?? "";
        return said.Length is >= LeastReason and <= MovementRecord.MaxNote && !said.Any(char.IsControl)
            ? said
            : new Refusal(
                RefusalReason.Invalid,
                $"Say why, in {LeastReason} to {MovementRecord.MaxNote} characters. Whoever finds it later needs it."
            );
    }

    /// <summary>Who gets something, trimmed; a refusal when that says nothing or too much.</summary>
    public static Outcome<string> Whom(string? typed)
    {
        var whom = typed?.Trim() ?? "";
        return whom.Length is >= 2 and <= MaxWhom && !whom.Any(char.IsControl)
            ? whom
            : new Refusal(RefusalReason.Invalid, $"Say who gets it, in 2 to {MaxWhom} characters.");
    }

    /// <summary>Moves an item into a bin; a promise that does not outlive the move is taken back.</summary>
    /// <returns>The repair that lost its part, or null.</returns>
    public static string? Put(this WorkshopDb db, Item item, Bin bin, MovementReason reason, Occasion occasion)
    {
        var keeps = ItemLife.KeepsPromise(ItemLife.At(item.BinKind, item.UnitId), ItemLife.At(bin.Kind, null));
        var promise = item.Reservation;
        db.Movements.Add(
            item.MoveTo(
                bin,
                reason,
                keeps && promise is not null ? occasion with { Repair = promise.RepairId } : occasion
            )
        );
        if (promise is null || keeps)
        {
            return null;
        }

        db.Reservations.Remove(promise);
        return promise.Repair.Code;
    }

    /// <summary>Where an item is, within a sentence.</summary>
    public static string Where(this Item item) =>
        item.Unit is { } unit ? $"the {item.Slot} slot of {unit.Tag}" : Where(item.Bin!);

    public static string Where(this Bin bin) =>
        bin.Kind switch
        {
            BinKind.Shelf => $"bin {bin.Code}",
            BinKind.Quarantine => "quarantine",
            BinKind.Bench => "the bench",
            _ => "outside the house",
        };
}
