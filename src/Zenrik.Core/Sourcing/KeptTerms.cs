namespace Zenrik.Core.Sourcing;

/// <summary>One way a supplier sends, as a person has written it down.</summary>
/// <param name="Base">For a shipment, in the supplier's currency.</param>
/// <param name="PerKg">For each kilogram, besides.</param>
/// <param name="Leaves">Days of the week it leaves on; at least one.</param>
/// <param name="Days">From leaving to the workshop's door; 0 to 120.</param>
public sealed record KeptFreight(string Name, decimal Base, decimal PerKg, IReadOnlyList<DayOfWeek> Leaves, int Days);

/// <summary>What a supplier asks for a number, as a person has written it down.</summary>
/// <param name="Price">For one, in the supplier's currency.</param>
/// <param name="WeightKg">Of one, packed; 0 where nobody knows.</param>
/// <param name="Minimum">The least it sells.</param>
/// <param name="InStock">Null when it does not say.</param>
/// <param name="HandlingDays">Working days until it is packed; null: as usual with this supplier.</param>
public sealed record KeptPrice(
    string Number,
    PartGrade Grade,
    decimal Price,
    decimal WeightKg = 0,
    int Minimum = 1,
    int? InStock = null,
    int? HandlingDays = null
)
{
    /// <returns>Null when it can be so.</returns>
    public Refusal? Impossible() =>
        Price is < 0 or > 100_000 ? Invalid("A price is from 0 to 100,000.")
        : WeightKg is < 0 or > 50 ? Invalid("One weighs from 0 to 50 kg.")
        : Minimum is < 1 or > 1000 ? Invalid("The least it sells is from 1 to 1000.")
        : InStock is < 0 or > 1_000_000 ? Invalid("It has from 0 up.")
        : HandlingDays is < 0 or > 250 ? Invalid("Packing takes from 0 to 250 working days.")
        : null;

    private static Refusal Invalid(string message) => new(RefusalReason.Invalid, message);
}

/// <summary>The terms of a supplier that has no price list of its own to ask: kept by hand.</summary>
public sealed record KeptTerms
{
    /// <summary>ISO 4217.</summary>
    public required string Currency { get; init; }

    /// <summary>Customs duty on goods and freight; a share: 0.04.</summary>
    public decimal DutyShare { get; init; }

    /// <summary>Tax on goods, freight and duty; a share: 0.2.</summary>
    public decimal TaxShare { get; init; }

    /// <summary>True when prices are with tax already.</summary>
    public bool TaxIncluded { get; init; }

    /// <summary>The least an order must come to, goods only; null: nothing.</summary>
    public decimal? MinimumOrder { get; init; }

    /// <summary>Of the price that comes back for a part that does not work; 0 to 1.</summary>
    public decimal RefundShare { get; init; } = 1;

    /// <summary>What sending one back costs.</summary>
    public decimal ReturnFreight { get; init; }

    /// <summary>Working days from the order to packed.</summary>
    public int HandlingDays { get; init; } = 1;

    public required IReadOnlyList<KeptFreight> Freight { get; init; }

    /// <returns>Null when they can be so.</returns>
    public Refusal? Impossible() =>
        Currency.Length != 3 || !Currency.All(char.IsAsciiLetterUpper)
            ? Invalid($"“{Currency}” is no currency: three letters, as GBP.")
        : DutyShare is < 0 or > 1 || TaxShare is < 0 or > 1 ? Invalid("Duty and tax are from 0 to 100 per cent.")
        : MinimumOrder is < 0 or > 100_000 ? Invalid("The least order is from 0 to 100,000.")
        : RefundShare is < 0 or > 1 ? Invalid("What comes back is from 0 to 100 per cent of the price.")
        : ReturnFreight is < 0 or > 1000 ? Invalid("Sending one back costs from 0 to 1000.")
        : HandlingDays is < 0 or > 250 ? Invalid("Packing takes from 0 to 250 working days.")
        : Freight.Count == 0 ? Invalid("Say at least one way it sends: by post, on Mondays to Fridays, 2 days.")
        : Freight.Select(f => f.Name).Distinct().Count() != Freight.Count
            ? Invalid("Two ways of sending have the same name.")
        : Freight.Select(Impossible).FirstOrDefault(r => r is not null);

    private static Refusal? Impossible(KeptFreight freight) =>
        freight.Name.Length is < 1 or > 40 || freight.Name.Any(char.IsControl)
            ? Invalid("A way of sending has a name of 1 to 40 characters: post.")
        : freight.Base is < 0 or > 10_000 || freight.PerKg is < 0 or > 1000
            ? Invalid($"What {freight.Name} costs is from 0 up.")
        : freight.Leaves.Count == 0 ? Invalid($"Say on which days of the week {freight.Name} leaves.")
        : freight.Days is < 0 or > 120 ? Invalid($"{freight.Name} takes from 0 to 120 days.")
        : null;

    /// <summary>An offer as a supplier with a price list would make it.</summary>
    public Offer Offer(string supplier, KeptPrice price) =>
        new()
        {
            Supplier = supplier,
            Number = price.Number,
            Grade = price.Grade,
            Price = new Money(price.Price, Currency),
            WeightKg = price.WeightKg,
            MinimumQuantity = price.Minimum,
            MinimumOrder = MinimumOrder is { } least ? new Money(least, Currency) : null,
            InStock = price.InStock,
            HandlingDays = price.HandlingDays ?? HandlingDays,
            DutyShare = DutyShare,
            TaxShare = TaxShare,
            TaxIncluded = TaxIncluded,
            Returns = new ReturnTerms(RefundShare, new Money(ReturnFreight, Currency)),
            Freight =
            [
                .. Freight.Select(f => new FreightOption(
                    f.Name,
                    new Money(f.Base, Currency),
                    new Money(f.PerKg, Currency),
                    new Money(0, Currency),
                    BrokerageIncluded: true,
                    new Carrier(f.Name, f.Leaves, f.Days)
                )),
            ],
        };

    private static Refusal Invalid(string message) => new(RefusalReason.Invalid, message);
}
