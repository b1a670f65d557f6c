using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Stock;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.Parts;

namespace Zenrik.Workshop.Stock;

/// <summary>The fullest lot of a consumable.</summary>
public sealed record ConsumableLot(int Free, string Bin);

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

    /// <summary>The number each consumable is ordered by.</summary>
    internal static async Task<Dictionary<Consumable, string>> Numbers(WorkshopDb db, CancellationToken stop) =>
        (
            await db
                .CatalogueNumbers.AsNoTracking()
                .Where(n => n.Consumable != null && n.SupersededById == null)
                .OrderBy(n => n.Number)
                .Select(n => new { n.Consumable, n.Number })
                .ToListAsync(stop)
        )
            .GroupBy(n => Enum.Parse<Consumable>(n.Consumable!))
            .ToDictionary(g => g.Key, g => g.First().Number);

    /// <summary>Of every consumable the lot with most free; a plan takes what it needs from one lot.</summary>
    internal static async Task<Dictionary<Consumable, ConsumableLot>> Free(WorkshopDb db, CancellationToken stop)
    {
        var lots = await db
            .Lots.AsNoTracking()
            .Where(l => l.Number.Consumable != null && l.Bin.Kind == BinKind.Shelf)
            .Select(l => new
            {
                l.Number.Consumable,
                Free = l.OnHand - l.Promised,
                Bin = l.Bin.Code,
            })
            .ToListAsync(stop);
        return lots.GroupBy(l => Enum.Parse<Consumable>(l.Consumable!))
            .ToDictionary(
                kind => kind.Key,
                kind => kind.OrderByDescending(l => l.Free).Select(l => new ConsumableLot(l.Free, l.Bin)).First()
            );
    }
}
