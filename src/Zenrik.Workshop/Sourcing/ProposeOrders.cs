using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
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

/// <summary>What is short, each by itself, and all of it in shipments.</summary>
/// <param name="Low">By number, what is under its level.</param>
/// <param name="Shipments">What is short and what waiting repairs need, of whom and together with what.</param>
/// <param name="Suppliers">Of the shipments, by their name.</param>
/// <param name="AtHand">Lines of repairs whose part lies on a shelf: it is promised there, not ordered.</param>
/// <param name="Notes">On suppliers that could not be asked.</param>
public sealed record OrderProposals(
    IReadOnlyList<OrderProposal> Low,
    ShipmentPlan Shipments,
    IReadOnlyDictionary<string, Guid> Suppliers,
    int AtHand,
    IReadOnlyList<string> Notes
);

/// <summary>Proposes what to order so that the shelf is at its levels again and every open repair gets its parts.</summary>
public sealed class ProposeOrders(WorkshopDb db, ViewStock stock, OffersFor offers, WantedLines wanted)
{
    /// <summary>What suppliers ask for one number, for the shelf, cheapest first; whoever has none of it now is left out.</summary>
    public async Task<IReadOnlyList<(Guid Supplier, ComparedBid Bid)>> For(
        string number,
        CancellationToken stop = default
    )
    {
        var canonical = PartNumber.Canonicalise(number);
        if (
            await db.CatalogueNumbers.AsNoTracking().SingleOrDefaultAsync(n => n.Canonical == canonical, stop)
            is not { } known
        )
        {
            return [];
        }

        var (stored, _) = await offers.Ask([known.Number], stop);
        var compared = await wanted.Compared([new Wanted(known, 1)], stored, await db.Figures(stop), stop);
        return compared[0].Offers.Try(out var offered, out _)
            ? [.. offered.Bids.Select(b => (SupplierOf(stored, b.Bid.Offer), b))]
            : [];
    }

    public async Task<OrderProposals> Run(CancellationToken stop = default)
    {
        var low = await Low(stop);
        var (waiting, atHand) = await wanted.OfRepairs(stop);
        var wants = waiting.Concat(low.Select(l => l.Wanted)).ToList();
        var (stored, notes) = await offers.Ask(
            [.. wants.SelectMany(w => w.Numbers).Select(n => n.Number).Distinct()],
            stop
        );
        var figures = await db.Figures(stop);
        var compared = await wanted.Compared(wants, stored, figures, stop);
        return new OrderProposals(
            [
                .. low.Zip(
                    compared.Skip(waiting.Count),
                    (l, c) => Alone(l.Line, l.OrderUpTo, c.Wanted.Quantity, c.Offers)
                ),
            ],
            wanted.InShipments(compared, figures, await wanted.HowOften(stop)),
            stored.GroupBy(o => o.Offer.Supplier).ToDictionary(g => g.Key, g => g.First().SupplierId),
            atHand,
            notes
        );

        OrderProposal Alone(StockLine line, int orderUpTo, int quantity, Outcome<Comparison> offered) =>
            offered.Try(out var compared, out var none)
                ? new OrderProposal(
                    line,
                    orderUpTo,
                    quantity,
                    compared.Bids[0],
                    SupplierOf(stored, compared.Bids[0].Bid.Offer),
                    null
                )
                : new OrderProposal(line, orderUpTo, quantity, null, null, none.Message);
    }

    private static Guid SupplierOf(IReadOnlyList<StoredOffer> stored, Offer offer) =>
        stored.First(o => o.Offer == offer).SupplierId;

    /// <summary>What the shelf should be given to be at its levels again.</summary>
    internal async Task<IReadOnlyList<Wanted>> ForShelf(CancellationToken stop) =>
        (await Low(stop)).ConvertAll(l => l.Wanted);

    private async Task<List<(StockLine Line, int OrderUpTo, Wanted Wanted)>> Low(CancellationToken stop)
    {
        var (low, _) = await stock.Run(new StockQuery(BelowLevel: true), stop);
        var texts = low.Select(l => l.Number).ToList();
        var levels = await db
            .CatalogueNumbers.AsNoTracking()
            .Where(n => texts.Contains(n.Number))
            .ToDictionaryAsync(n => n.Number, stop);
        return
        [
            .. low.Select(line =>
            {
                var number = levels[line.Number];
                var level = StockLevel.Of(number.MinimumLevel!.Value, number.OrderUpTo!.Value).Value;
                return (line, level.OrderUpTo, new Wanted(number, level.ToOrder(line.Free, line.Coming)));
            }),
        ];
    }
}
