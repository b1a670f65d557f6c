using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Parts;

namespace Zenrik.Workshop.Economics;

internal static class KnownPrices
{
    /// <summary>By number what it was last bought for, on the average; else the least it is offered for. What nobody knows is left out.</summary>
    public static async Task<Dictionary<string, decimal>> PricesOf(
        this WorkshopDb db,
        IReadOnlyCollection<string> numbers,
        HouseFigures figures,
        CancellationToken stop
    )
    {
        var known = await db
            .Items.Where(i => i.Cost > 0 && numbers.Contains(i.Number.Number))
            .GroupBy(i => i.Number.Number)
            .Select(g => new { g.Key, Cost = g.Average(i => i.Cost!.Value) })
            .ToDictionaryAsync(g => g.Key, g => g.Cost, stop);
        var asked = numbers.Where(n => !known.ContainsKey(n)).ToDictionary(PartNumber.Canonicalise, n => n);
        var offers = await db
            .StoredOffers.Where(o => asked.Keys.Contains(o.Canonical))
            .Select(o => new { o.Canonical, o.Offer })
            .ToListAsync(stop);
        foreach (var offer in offers)
        {
            if (
                figures.Exchange.ToHome(offer.Offer.Price).Try(out var home, out _)
                && home.Amount > 0
                && (!known.TryGetValue(asked[offer.Canonical], out var least) || home.Amount < least)
            )
            {
                known[asked[offer.Canonical]] = home.Amount;
            }
        }

        return known;
    }
}
