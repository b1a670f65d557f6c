using Zenrik.Core.HouseRules;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Fit;

/// <summary>How often a number was fitted into a model, and how often it had to come out again.</summary>
public sealed record FitRecord(int Fitted, int Failed)
{
    public static FitRecord None { get; } = new(0, 0);

    /// <summary>What comes out again sooner counts as failed. Common practice, no published source: most early failures show within two months.</summary>
    public static TimeSpan Soon { get; } = TimeSpan.FromDays(60);
}

/// <summary>A person's word that a number goes into a slot of a model.</summary>
public sealed record Listing(string Name, DateOnly On);

/// <summary>Does this item fit this slot of this unit?</summary>
public sealed record FitQuestion
{
    /// <summary>The whole map of the model, optional parts included.</summary>
    public required ServiceMap Model { get; init; }

    public required string Slot { get; init; }

    /// <summary>What is known of the number; null: nothing but the number.</summary>
    public ItemSpecification? Item { get; init; }

    /// <summary>The number as printed; for lists that firmware keeps.</summary>
    public string? Number { get; init; }

    /// <summary>True when the number is listed for this slot of this model.</summary>
    public bool Listed { get; init; }

    /// <summary>Who listed it, where a person of this workshop did; null for a maker's list.</summary>
    public Listing? ListedBy { get; init; }

    /// <summary>True when what sits in the slot was found too small: no more of the same is no answer.</summary>
    public bool TooSmall { get; init; }

    /// <summary>Slots of the unit of which it is not known whether anything is in them.</summary>
    public IReadOnlySet<string> NotKnown { get; init; } = new HashSet<string>();

    /// <summary>What sits in the unit's slots, as far as it is known.</summary>
    public IReadOnlyDictionary<string, ItemSpecification> Inside { get; init; } =
        new Dictionary<string, ItemSpecification>();

    /// <summary>What was seen of the unit, by trait.</summary>
    public IReadOnlyDictionary<string, string> Looks { get; init; } = new Dictionary<string, string>();

    public FitRecord Record { get; init; } = FitRecord.None;

    public HousePractice Practice { get; init; } = HousePractice.Default;

    /// <summary>House rules under which somebody has signed for this item in this unit.</summary>
    public IReadOnlySet<string> Waived { get; init; } = new HashSet<string>();

    /// <summary>What the map says of the slot; null when it says nothing.</summary>
    internal Specification? Specification => Model.Specifications.FirstOrDefault(s => s.Slot == Slot);
}
