using Microsoft.EntityFrameworkCore;

namespace Zenrik.Workshop.Sourcing;

/// <summary>What parts were last known to cost, without asking anybody.</summary>
internal static class Prices
{
    /// <summary>
    /// By slot of a model the least any number listed for it was last offered for, for one, in the workshop's currency;
    /// where nobody offered one, the least one was bought for. Slots of which no price is known are left out.
    /// </summary>
    public static async Task<Dictionary<string, decimal>> LastPrices(
        this WorkshopDb db,
        string modelCode,
        IReadOnlyList<string> slots,
        CancellationToken stop
    )
    {
        var fits = db.Set<CatalogueFit>().Where(f => f.ModelCode == modelCode && slots.Contains(f.Slot));
        var offered = await fits.Join(
                db.CatalogueNumbers,
                f => f.NumberId,
                n => n.Id,
                (f, n) => new { f.Slot, n.Canonical }
            )
            .Join(db.StoredOffers, n => n.Canonical, o => o.Canonical, (n, o) => new { n.Slot, o.Offer })
            .ToListAsync(stop);
        var bought = await fits.Join(
                db.Items.Where(i => i.Cost > 0),
                f => f.NumberId,
                i => i.NumberId,
                (f, i) => new { f.Slot, i.Cost }
            )
            .GroupBy(i => i.Slot)
            .Select(g => new { Slot = g.Key, Cost = g.Min(i => i.Cost) })
            .ToListAsync(stop);
        var exchange = (await db.Figures(stop)).Exchange;
        var known = bought.ToDictionary(b => b.Slot, b => b.Cost!.Value);
        foreach (var slot in offered.GroupBy(o => o.Slot))
        {
            var prices = slot.Select(o =>
                    exchange.ToHome(o.Offer.Price).Try(out var home, out _) ? home.Amount : (decimal?)null
                )
                .OfType<decimal>()
                .Where(p => p > 0)
                .ToList();
            if (prices.Count > 0)
            {
                known[slot.Key] = prices.Min();
            }
        }

        return known;
    }
}
