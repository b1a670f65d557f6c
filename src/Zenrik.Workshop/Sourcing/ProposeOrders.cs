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
public sealed class ProposeOrders(
    WorkshopDb db,
    ViewStock stock,
    OffersFor offers,
    WantedLines wanted,
    TimeProvider clock
)
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
                    DateOnly.FromDateTime(Now),
                    figures.Exchange,
                    new Money(0, figures.Currency),
                    TimeOnly.FromDateTime(Now)
                )
                .Try(out var compared, out _)
            ? [.. compared.Bids.Select(b => (mine.First(o => o.Offer == b.Bid.Offer).SupplierId, b, b.Landed.Total))]
            : [];
    }

    public async Task<OrderProposals> Run(CancellationToken stop = default)
    {
        var wants = await Low(stop);
        var (waiting, atHand) = await wanted.OfRepairs(stop);
        var (stored, notes) = await offers.Ask(
            [
                .. wants
                    .Select(w => w.Number.Number)
                    .Concat(waiting.SelectMany(w => w.Numbers).Select(n => n.Number))
                    .Distinct(),
            ],
            stop
        );
        var figures = await db.Figures(stop);
        var lines = await wanted.Offered(
            [.. waiting, .. wants.Select(w => new Wanted(w.Number, w.Quantity))],
            stored,
            figures,
            stop
        );
        var (today, now) = (DateOnly.FromDateTime(Now), TimeOnly.FromDateTime(Now));
        return new OrderProposals(
            [.. wants.Select(w => Alone(w.Line, w.OrderUpTo, w.Quantity))],
            Shipments.Best(lines, today, now, figures.Exchange, figures.LoanPerDay),
            stored.GroupBy(o => o.Offer.Supplier).ToDictionary(g => g.Key, g => g.First().SupplierId),
            atHand,
            notes
        );

        OrderProposal Alone(StockLine line, int orderUpTo, int quantity)
        {
            var mine = stored
                .Where(o => o.Canonical == PartNumber.Canonicalise(line.Number) && o.Offer.InStock != 0)
                .ToList();
            if (mine.Count == 0)
            {
                return new OrderProposal(line, orderUpTo, quantity, null, null, "No supplier has it now.");
            }

            var bids = mine.SelectMany(o =>
                o.Offer.Freight.Select(f => new Bid(o.Offer, f, WorkingChance.With(o.Offer.Grade, 0, 0)))
            );
            return
                Offers
                    .Compare([.. bids], quantity, today, figures.Exchange, new Money(0, figures.Currency), now)
                    .Try(out var compared, out var why) && compared.Bids is [var best, ..]
                ? new OrderProposal(
                    line,
                    orderUpTo,
                    quantity,
                    best,
                    mine.First(o => o.Offer == best.Bid.Offer).SupplierId,
                    null
                )
                : new OrderProposal(line, orderUpTo, quantity, null, null, why?.Message ?? "No offer can be counted.");
        }
    }

    /// <summary>What the shelf should be given to be at its levels again.</summary>
    internal async Task<IReadOnlyList<Wanted>> ForShelf(CancellationToken stop) =>
        (await Low(stop)).ConvertAll(w => new Wanted(w.Number, w.Quantity));

    private async Task<List<(StockLine Line, int OrderUpTo, int Quantity, CatalogueNumber Number)>> Low(
        CancellationToken stop
    )
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
                return (line, level.OrderUpTo, level.ToOrder(line.Free, line.Coming), number);
            }),
        ];
    }

    private DateTime Now => clock.GetLocalNow().DateTime;
}
