namespace Zenrik.Core.Sourcing;

/// <summary>An order placed before it is sure that its part is what failed.</summary>
/// <param name="Chance">That the part is needed.</param>
/// <param name="Here">The day it is here when ordered now.</param>
/// <param name="HereLater">The day it is here when ordered once it is sure.</param>
/// <param name="Saves">What the user waits less, in expectation: chance × days × a loan's day.</param>
/// <param name="Risks">What a part that was not needed costs, in expectation: landed cost and its way back, less the refund.</param>
public sealed record AheadOrder(Bid Bid, double Chance, DateOnly Here, DateOnly HereLater, Money Saves, Money Risks)
{
    public int DaysSaved => HereLater.DayNumber - Here.DayNumber;

    /// <summary>In expectation; below nothing where it does not pay.</summary>
    public Money Gain => Saves - Risks;

    public bool Pays => Gain.Amount > 0;
}

/// <summary>
/// Whether ordering pays although the fault is not sure. Of two days to order on, the earlier one may catch a sailing that
/// the later one misses, so what is saved lies between nothing and a week.
/// </summary>
public static class OrderAhead
{
    /// <summary>The offer whose early order gains most; null when none can be counted.</summary>
    /// <param name="chance">That the part is needed; 0 to 1.</param>
    /// <param name="sureOn">The day it will be sure by, at the same hour.</param>
    /// <param name="loanPerDay">What a day without the machine costs, in the workshop's currency.</param>
    public static AheadOrder? Best(
        IReadOnlyList<Bid> bids,
        double chance,
        DateOnly today,
        TimeOnly now,
        DateOnly sureOn,
        Exchange exchange,
        decimal loanPerDay
    )
    {
        AheadOrder? best = null;
        foreach (var bid in bids.Where(b => b.Offer.InStock is not 0))
        {
            if (
                !LandedCost.Of(bid.Offer, bid.Freight, 1, today, exchange, now).Try(out var early, out _)
                || !LandedCost.Of(bid.Offer, bid.Freight, 1, sureOn, exchange, now).Try(out var late, out _)
                || !exchange.ToHome(bid.Offer.Returns.ReturnFreight).Try(out var back, out _)
            )
            {
                continue;
            }

            var days = Math.Max(0, late.Arrives.DayNumber - early.Arrives.DayNumber);
            var wrong = early.Total.Amount + back.Amount - (early.Goods.Amount * bid.Offer.Returns.RefundShare);
            // One that is likely not to work saves no more than the chance that it does.
            var needed = (decimal)(chance * bid.Chance.Mean);
            var order = new AheadOrder(
                bid,
                chance,
                early.Arrives,
                late.Arrives,
                new Money(needed * days * loanPerDay, exchange.Home).Rounded(),
                new Money((1 - (decimal)chance) * Math.Max(0, wrong), exchange.Home).Rounded()
            );
            best = best is null || order.Gain > best.Gain ? order : best;
        }

        return best;
    }
}
