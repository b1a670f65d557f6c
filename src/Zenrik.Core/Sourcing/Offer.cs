namespace Zenrik.Core.Sourcing;

/// <summary>Where a part comes from, as its chance to work is judged before anything is known of it.</summary>
public enum PartGrade
{
    /// <summary>The machine's maker.</summary>
    Brand,

    /// <summary>A known maker of spares.</summary>
    Compatible,
    Unbranded,

    /// <summary>Taken from another machine.</summary>
    Used,
}

/// <summary>One way of sending.</summary>
/// <param name="Base">For a shipment, whatever is in it.</param>
/// <param name="PerKg">For each kilogram, besides.</param>
/// <param name="Brokerage">What clearing the shipment costs besides; nil when the carrier's price includes it.</param>
/// <param name="BrokerageIncluded">True when clearing is in the price.</param>
public sealed record FreightOption(
    string Name,
    Money Base,
    Money PerKg,
    Money Brokerage,
    bool BrokerageIncluded,
    Carrier Carrier
);

/// <summary>What happens with a part that does not work.</summary>
/// <param name="RefundShare">Of the price that comes back; 0 to 1.</param>
/// <param name="ReturnFreight">What sending it back costs.</param>
public sealed record ReturnTerms(decimal RefundShare, Money ReturnFreight);

/// <summary>A part somebody sells, with everything that makes it cost what it costs.</summary>
public sealed record Offer
{
    public required string Supplier { get; init; }

    public required string Number { get; init; }

    public required PartGrade Grade { get; init; }

    /// <summary>For one, in the supplier's currency.</summary>
    public required Money Price { get; init; }

    /// <summary>Kilograms of one, packed.</summary>
    public required decimal WeightKg { get; init; }

    /// <summary>The least they sell; 1 or more.</summary>
    public int MinimumQuantity { get; init; } = 1;

    /// <summary>The least an order must come to, goods only.</summary>
    public Money? MinimumOrder { get; init; }

    /// <summary>How many they have; null when they do not say.</summary>
    public int? InStock { get; init; }

    /// <summary>Working days from the order to ready to leave; more when it must first come in to them.</summary>
    public required int HandlingDays { get; init; }

    /// <summary>Days off besides the weekend on which the supplier neither packs nor hands anything over.</summary>
    public IReadOnlyList<DateOnly> DaysOff { get; init; } = [];

    public required IReadOnlyList<FreightOption> Freight { get; init; }

    /// <summary>Customs duty on goods and freight; a share: 0.04.</summary>
    public decimal DutyShare { get; init; }

    /// <summary>Tax on goods, freight and duty; a share: 0.2.</summary>
    public decimal TaxShare { get; init; }

    /// <summary>True when the price is with tax already, so that none is added.</summary>
    public bool TaxIncluded { get; init; }

    public required ReturnTerms Returns { get; init; }

    /// <summary>Why so many cannot be had of it now; null: they can, as far as the supplier says.</summary>
    public Refusal? TooFew(int quantity) =>
        !(InStock < quantity)
            ? null
            : new Refusal(
                RefusalReason.Conflict,
                InStock == 0 ? "No supplier has it now." : $"{Supplier} has {InStock} of {Number}, not {quantity}."
            );
}
