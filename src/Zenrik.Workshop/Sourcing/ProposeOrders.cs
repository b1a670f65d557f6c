using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Parts;
using Zenrik.Core.Sourcing;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Sourcing;

/// <summary>A number to order for the shelf.</summary>
/// <param name="Quantity">What the level asks for; a supplier may sell no fewer than more.</param>
/// <param name="Best">The cheapest way to have it, by expected cost; null when nobody offers it.</param>
/// <param name="Note">Why there is no offer, or what stands in for one.</param>
public sealed record OrderProposal(
    StockLine Line,
    int OrderUpTo,
    int Quantity,
    ComparedBid? Best,
    Guid? SupplierId,
    string? Note
);

/// <summary>Proposes what to order so that the shelf is at its levels again.</summary>
public sealed class ProposeOrders(WorkshopDb db, ViewStock stock, OffersFor offers, TimeProvider clock)
{
    /// <summary>What suppliers ask for one number, for the shelf, cheapest first; whoever has none of it now is left out.</summary>
    public async Task<IReadOnlyList<(Guid Supplier, ComparedBid Bid, Money Landed)>> For(
        string number,
        CancellationToken stop = default
    )
    {
        if (!PartNumber.Read(number).Try(out var read, out _))
        {
            return [];
        }

        var (stored, _) = await offers.Ask([read.Text], stop);
        var mine = stored.Where(o => o.Canonical == read.Canonical && o.Offer.InStock != 0).ToList();
        var figures = await db.Figures(stop);
        var now = clock.GetLocalNow().DateTime;
        return
            mine.Count > 0
            && Offers
                .Compare(
                    [
                        .. mine.SelectMany(o =>
                            o.Offer.Freight.Select(f => new Bid(o.Offer, f, WorkingChance.Before(o.Offer.Grade)))
                        ),
                    ],
                    1,
                    DateOnly.FromDateTime(now),
                    figures.Exchange,
                    new Money(0, figures.Currency),
                    TimeOnly.FromDateTime(now)
                )
                .Try(out var compared, out _)
            ? [.. compared.Bids.Select(b => (mine.First(o => o.Offer == b.Bid.Offer).SupplierId, b, b.Landed.Total))]
            : [];
    }

    /// <returns>The proposals by number, and notes on suppliers that could not be asked.</returns>
    public async Task<(IReadOnlyList<OrderProposal> Proposals, IReadOnlyList<string> Notes)> Run(
        CancellationToken stop = default
    )
    {
        var (low, _) = await stock.Run(new StockQuery(BelowLevel: true), stop);
        var texts = low.Select(l => l.Number).ToList();
        var levels = await db
            .CatalogueNumbers.AsNoTracking()
            .Where(n => texts.Contains(n.Number))
            .ToDictionaryAsync(n => n.Number, stop);
        var (stored, notes) = await offers.Ask(texts, stop);
        var figures = await db.Figures(stop);
        var today = DateOnly.FromDateTime(clock.GetLocalNow().DateTime);
        return (
            [
                .. low.Select(line =>
                {
                    var (number, mine) = (
                        levels[line.Number],
                        stored
                            .Where(o => o.Canonical == PartNumber.Canonicalise(line.Number) && o.Offer.InStock != 0)
                            .ToList()
                    );
                    var level = StockLevel.Of(number.MinimumLevel!.Value, number.OrderUpTo!.Value).Value;
                    var quantity = level.ToOrder(line.Free, line.Coming);
                    if (mine.Count == 0)
                    {
                        return new OrderProposal(
                            line,
                            level.OrderUpTo,
                            quantity,
                            null,
                            null,
                            "No supplier has it now."
                        );
                    }

                    var bids = mine.SelectMany(o =>
                        o.Offer.Freight.Select(f => new Bid(o.Offer, f, WorkingChance.With(o.Offer.Grade, 0, 0)))
                    );
                    return
                        Offers
                            .Compare([.. bids], quantity, today, figures.Exchange, new Money(0, figures.Currency))
                            .Try(out var compared, out var why) && compared.Bids is [var best, ..]
                        ? new OrderProposal(
                            line,
                            level.OrderUpTo,
                            quantity,
                            best,
                            mine.First(o => o.Offer == best.Bid.Offer).SupplierId,
                            null
                        )
                        : new OrderProposal(
                            line,
                            level.OrderUpTo,
                            quantity,
                            null,
                            null,
                            why?.Message ?? "No offer can be counted."
                        );
                }),
            ],
            notes
        );
    }
}
