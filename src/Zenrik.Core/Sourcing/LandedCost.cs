namespace Zenrik.Core.Sourcing;

/// <summary>What a part has cost when it lies on the bench, in the workshop's currency.</summary>
/// <param name="Quantity">How many must be taken; more than asked where the supplier sells no fewer.</param>
/// <param name="Total">Of everything taken.</param>
public sealed record LandedCost(
    int Quantity,
    Money Goods,
    Money Freight,
    Money Brokerage,
    Money Duty,
    Money Tax,
    Money Total,
    DateOnly Leaves,
    DateOnly Arrives
)
{
    /// <summary>
    /// Goods + freight + brokerage + duty + tax. Duty is on goods and freight, tax on goods, freight, brokerage and duty:
    /// the value at the border, and the value within it (common practice where value is counted with freight).
    /// </summary>
    public static Outcome<LandedCost> Of(
        Offer offer,
        FreightOption freight,
        int quantity,
        DateOnly orderedOn,
        Exchange exchange,
        TimeOnly? orderedAt = null
    )
    {
        if (Check(offer, freight, quantity) is { } wrong)
        {
            return wrong;
        }

        var taken = Math.Max(quantity, offer.MinimumQuantity);
        if (offer.MinimumOrder is { } least && offer.Price.Amount > 0 && offer.Price * taken < least)
        {
            taken = (int)Math.Ceiling(least.Amount / offer.Price.Amount);
        }

        if (
            !exchange.ToHome(offer.Price * taken).Try(out var goods, out var unknown)
            || !exchange
                .ToHome(freight.Base + (freight.PerKg * (offer.WeightKg * taken)))
                .Try(out var sending, out unknown)
            || !exchange.ToHome(freight.Brokerage).Try(out var brokerage, out unknown)
        )
        {
            return unknown;
        }

        if (!Sailing(offer, freight, orderedOn, orderedAt).Try(out var leaves, out var never))
        {
            return never;
        }

        if (freight.BrokerageIncluded)
        {
            brokerage = new Money(0, exchange.Home);
        }

        var duty = (goods + sending) * offer.DutyShare;
        var tax = offer.TaxIncluded
            ? new Money(0, exchange.Home)
            : (goods + sending + brokerage + duty) * offer.TaxShare;
        return new LandedCost(
            taken,
            goods.Rounded(),
            sending.Rounded(),
            brokerage.Rounded(),
            duty.Rounded(),
            tax.Rounded(),
            goods.Rounded() + sending.Rounded() + brokerage.Rounded() + duty.Rounded() + tax.Rounded(),
            leaves,
            leaves.AddDays(freight.Carrier.TransitDays)
        );
    }

    /// <summary>The day it leaves.</summary>
    /// <param name="orderedAt">Null: before the carrier's hour.</param>
    internal static Outcome<DateOnly> Sailing(
        Offer offer,
        FreightOption freight,
        DateOnly orderedOn,
        TimeOnly? orderedAt = null
    )
    {
        var begun = orderedAt > freight.Carrier.CutOff ? orderedOn.AddDays(1) : orderedOn;
        var ready = WorkingDays.After(begun, offer.HandlingDays, offer.DaysOff);
        var collecting = freight.Carrier with { NoSailing = [.. freight.Carrier.NoSailing ?? [], .. offer.DaysOff] };
        return collecting.Leaves(ready);
    }

    private const int MostDays = 1000;
    private const decimal MostMoney = 10_000_000;
    private const decimal MostKg = 10_000;
    private const int MostPieces = 100_000;
    private const decimal MostShare = 10;

    private static Refusal? Check(Offer offer, FreightOption freight, int quantity)
    {
        var who = $"{offer.Supplier}, {offer.Number}";
        return quantity < 1 ? Invalid($"{who}: order at least one.")
            : offer.Price.Amount < 0 ? Invalid($"{who}: a price of {offer.Price} is below nothing.")
            : offer.MinimumQuantity < 1 ? Invalid($"{who}: the least quantity is at least one.")
            : offer.WeightKg < 0 ? Invalid($"{who}: nothing weighs {offer.WeightKg} kg.")
            : offer.HandlingDays is < 0 or > MostDays
                ? Invalid($"{who}: it is ready between the day of the order and {MostDays} days later.")
            : freight.Carrier.TransitDays is < 0 or > MostDays
                ? Invalid($"{who}: {freight.Carrier.Name} takes between 0 and {MostDays} days.")
            : offer.Price.Amount > MostMoney
            || freight.Base.Amount > MostMoney
            || freight.PerKg.Amount > MostMoney
            || freight.Brokerage.Amount > MostMoney
            || offer.Returns.ReturnFreight.Amount > MostMoney
            || offer.WeightKg > MostKg
            || quantity > MostPieces
            || offer.MinimumQuantity > MostPieces
            || offer.DutyShare > MostShare
            || offer.TaxShare > MostShare
                ? Invalid($"{who}: figures that no part has. Look at the price list.")
            : offer.DutyShare < 0 || offer.TaxShare < 0 ? Invalid($"{who}: duty and tax are not negative.")
            : freight.Base.Amount < 0 || freight.PerKg.Amount < 0 || freight.Brokerage.Amount < 0
                ? Invalid($"{who}: sending by {freight.Name} cannot cost less than nothing.")
            : offer.Returns.RefundShare is < 0 or > 1
                ? Invalid($"{who}: a refund is between none and all of the price.")
            : null;
    }

    private static Refusal Invalid(string message) => new(RefusalReason.Invalid, message);
}
