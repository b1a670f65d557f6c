namespace Zenrik.Core.Sourcing;

/// <summary>An offer as one would order it, and the chance that it works.</summary>
public sealed record Bid(Offer Offer, FreightOption Freight, WorkingChance Chance);

/// <summary>What an offer comes to.</summary>
/// <param name="Expected">Money until a working part is in the machine.</param>
/// <param name="ExpectedDays">Days from the order until then.</param>
/// <param name="BreakEvenChance">The chance to work from which on it is cheaper than the surest offer; null for that one.</param>
/// <param name="BreakEvenPrice">The price for one below which it is cheaper than the surest offer; null for that one, or when no price is.</param>
public sealed record ComparedBid(
    Bid Bid,
    LandedCost Landed,
    Money Expected,
    double ExpectedDays,
    double? BreakEvenChance,
    Money? BreakEvenPrice
)
{
    /// <summary>True for the offer that is ordered when another one fails.</summary>
    public bool IsSurest => BreakEvenChance is null;
}

/// <summary>An offer that could not be counted, and why.</summary>
public sealed record UncountedBid(Bid Bid, string Reason);

/// <summary>All offers side by side.</summary>
/// <param name="Bids">Cheapest first, by expected cost.</param>
public sealed record Comparison(IReadOnlyList<ComparedBid> Bids, IReadOnlyList<UncountedBid> Uncounted);

/// <summary>
/// Expected cost until working. An offer that fails is sent back as its terms say, the exchange is done once more, and
/// then the surest offer is ordered; that one is ordered again until one works. With landed cost C, chance p, cost of a
/// failure x = fitting anew + return freight − refund, and S the expected cost of the surest:
/// E = C + (1 − p)(x + S); for the surest itself S = C + (1 − p)(x + S), so S = (C + (1 − p) x) / p.
/// </summary>
public static class Offers
{
    /// <param name="bids">At least one.</param>
    /// <param name="quantity">How many are needed.</param>
    /// <param name="orderedOn">The day of the order.</param>
    /// <param name="exchange">Rates to the workshop's currency.</param>
    /// <param name="refitting">What opening the machine and fitting once more costs.</param>
    /// <returns>Offers with something wrong in them are not counted and say why.</returns>
    public static Outcome<Comparison> Compare(
        IReadOnlyList<Bid> bids,
        int quantity,
        DateOnly orderedOn,
        Exchange exchange,
        Money refitting,
        TimeOnly? orderedAt = null
    )
    {
        if (bids.Count == 0)
        {
            return new Refusal(RefusalReason.Invalid, "There is no offer to compare.");
        }

        if (refitting.Currency != exchange.Home || refitting.Amount < 0)
        {
            return new Refusal(
                RefusalReason.Invalid,
                $"Fitting anew is counted in {exchange.Home} and not below nothing."
            );
        }

        var counted = new List<(Bid Bid, LandedCost Landed, decimal Failure)>();
        var uncounted = new List<UncountedBid>();
        foreach (var bid in bids)
        {
            if (
                LandedCost
                    .Of(bid.Offer, bid.Freight, quantity, orderedOn, exchange, orderedAt)
                    .Try(out var landed, out var why)
                && exchange.ToHome(bid.Offer.Returns.ReturnFreight).Try(out var back, out why)
            )
            {
                // All that was bought goes back, not only the piece that was tried.
                var refund = landed.Goods.Amount * bid.Offer.Returns.RefundShare;
                counted.Add((bid, landed, refitting.Amount + back.Amount - refund));
            }
            else
            {
                uncounted.Add(new UncountedBid(bid, why!.Message));
            }
        }

        if (counted.Count == 0)
        {
            return new Refusal(RefusalReason.Invalid, string.Join(" ", uncounted.Select(u => u.Reason).Distinct()));
        }

        decimal Alone((Bid Bid, LandedCost Landed, decimal Failure) c)
        {
            var p = (decimal)c.Bid.Chance.Mean;
            return (c.Landed.Total.Amount + ((1 - p) * c.Failure)) / p;
        }

        var surest = counted.OrderByDescending(c => c.Bid.Chance.Mean).ThenBy(Alone).First();
        var sure = Alone(surest);
        var sureDays = Days(surest.Landed) / surest.Bid.Chance.Mean;
        var home = exchange.Home;
        return new Comparison(
            [
                .. counted
                    .Select(c =>
                    {
                        var p = (decimal)c.Bid.Chance.Mean;
                        var isSurest = ReferenceEquals(c.Bid, surest.Bid);
                        var expected = isSurest ? sure : c.Landed.Total.Amount + ((1 - p) * (c.Failure + sure));
                        return new ComparedBid(
                            c.Bid,
                            c.Landed,
                            new Money(expected, home).Rounded(),
                            isSurest ? sureDays : Days(c.Landed) + ((1 - c.Bid.Chance.Mean) * sureDays),
                            isSurest ? null : BreakEvenChance(c.Landed.Total.Amount, c.Failure, sure),
                            isSurest ? null : BreakEvenPrice(c, quantity, orderedOn, exchange, refitting, sure)
                        );
                    })
                    .OrderBy(c => c.Expected.Amount)
                    .ThenBy(c => c.Landed.Arrives),
            ],
            uncounted
        );

        double Days(LandedCost landed) => landed.Arrives.DayNumber - orderedOn.DayNumber;
    }

    /// <summary>p at which C + (1 − p)(x + S) = S; 0 when it is cheaper even if it never works, 1 when never.</summary>
    private static double BreakEvenChance(decimal cost, decimal failure, decimal sure) =>
        failure + sure <= 0 ? (cost <= sure ? 0 : 1) : (double)Math.Clamp(1 - ((sure - cost) / (failure + sure)), 0, 1);

    /// <summary>
    /// The price for one at which it costs as much as the surest offer. Where an order must come to a least sum, fewer are
    /// taken the dearer one is: the price is looked for between the sums at which one piece more or less is taken, from
    /// the dearest on, and found there by halving.
    /// </summary>
    private static Money? BreakEvenPrice(
        (Bid Bid, LandedCost Landed, decimal Failure) counted,
        int quantity,
        DateOnly orderedOn,
        Exchange exchange,
        Money refitting,
        decimal sure
    )
    {
        var p = (decimal)counted.Bid.Chance.Mean;
        var offer = counted.Bid.Offer;

        decimal Excess(decimal price)
        {
            var at = offer with { Price = offer.Price with { Amount = price } };
            var landed = LandedCost.Of(at, counted.Bid.Freight, quantity, orderedOn, exchange).Value;
            var back = exchange.ToHome(offer.Returns.ReturnFreight).Value.Amount;
            var failure = refitting.Amount + back - (landed.Goods.Amount * offer.Returns.RefundShare);
            return landed.Total.Amount + ((1 - p) * (failure + sure)) - sure;
        }

        var pieces = Math.Max(quantity, offer.MinimumQuantity);
        var (low, high) = (0.01m, Math.Max(offer.Price.Amount, 1) * 64);
        var least = offer.MinimumOrder?.Amount ?? 0;
        for (var n = pieces; n < pieces + MostSteps; n++)
        {
            // From this price on n pieces reach the least sum.
            var from = n == 0 || least == 0 ? low : Math.Max(low, Math.Ceiling(least / n * 100) / 100);
            if (from <= high && Excess(from) <= 0)
            {
                return Between(from, high);
            }

            if (from <= low)
            {
                return null;
            }

            high = from - 0.01m;
        }

        return null;

        Money Between(decimal below, decimal above)
        {
            while (above - below > 0.005m)
            {
                var middle = (below + above) / 2;
                if (Excess(middle) > 0)
                {
                    above = middle;
                }
                else
                {
                    below = middle;
                }
            }

            return new Money(below, offer.Price.Currency).Rounded();
        }
    }

    /// <summary>No order of so many pieces is placed to reach a least sum.</summary>
    private const int MostSteps = 200;
}
