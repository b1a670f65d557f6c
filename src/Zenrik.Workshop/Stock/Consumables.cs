using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Stock;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.Parts;

namespace Zenrik.Workshop.Stock;

/// <summary>What there is of a consumable.</summary>
/// <param name="Free">In the lot with most free; a plan takes what it needs from one lot.</param>
/// <param name="Bin">Where that lot is; null when there is none.</param>
/// <param name="Number">The number it is ordered by; null when none is known.</param>
public sealed record ConsumableLot(int Free, string? Bin, string? Number);

public static class Consumables
{
    /// <summary>"thermal paste".</summary>
    public static string Name(this Consumable kind) =>
        kind switch
        {
            Consumable.ThermalPaste => "thermal paste",
            Consumable.ThermalPads => "thermal pads",
            _ => throw new ArgumentOutOfRangeException(nameof(kind)),
        };

    /// <summary>Every consumable the book knows a number for.</summary>
    internal static async Task<Dictionary<Consumable, ConsumableLot>> AtHand(WorkshopDb db, CancellationToken stop)
    {
        var rows = await db
            .CatalogueNumbers.AsNoTracking()
            .Where(n => n.Consumable != null)
            .OrderBy(n => n.Number)
            .SelectMany(
                n => db.Lots.Where(l => l.NumberId == n.Id && l.Bin.Kind == BinKind.Shelf).DefaultIfEmpty(),
                (n, l) =>
                    new
                    {
                        n.Consumable,
                        Number = n.SupersededById == null ? n.Number : null,
                        Free = l == null ? 0 : l.OnHand - l.Promised,
                        Bin = l == null ? null : l.Bin.Code,
                    }
            )
            .ToListAsync(stop);
        return rows.GroupBy(r => Enum.Parse<Consumable>(r.Consumable!))
            .ToDictionary(
                kind => kind.Key,
                kind =>
                {
                    var fullest = kind.OrderByDescending(r => r.Bin is not null).ThenByDescending(r => r.Free).First();
                    return new ConsumableLot(
                        fullest.Free,
                        fullest.Bin,
                        kind.Select(r => r.Number).FirstOrDefault(n => n is not null)
                    );
                }
            );
    }
}
