using Zenrik.Core.Fit;
using Zenrik.Core.Parts;

namespace Zenrik.Workshop.Book;

/// <summary>A part number the workshop knows, and what it is.</summary>
public sealed class CatalogueNumber
{
    public required Guid Id { get; init; }

    /// <summary>As printed.</summary>
    public required string Number { get; init; }

    /// <summary><see cref="PartNumber.Canonical"/> of the number; unique.</summary>
    public required string Canonical { get; init; }

    /// <summary>"battery 54 Wh".</summary>
    public required string Name { get; set; }

    /// <summary>The maker's type code, where the label carries one.</summary>
    public string? TypeCode { get; set; }

    /// <summary>The consumable this number is, in the names of Core; null for parts.</summary>
    public string? Consumable { get; init; }

    /// <summary>What is known of it for judging fit; null: only that it exists.</summary>
    public ItemSpecification? Specification { get; set; }

    public ItemKind Kind { get; set; }

    /// <summary>The number the maker sells in its place; the old one still fits where it fitted.</summary>
    public Guid? SupersededById { get; set; }

    public CatalogueNumber? SupersededBy { get; set; }

    /// <summary>Kilograms of one, packed; for freight.</summary>
    public decimal? WeightKg { get; set; }

    /// <summary>Fewer than this free and coming is too few; null: not kept on the shelf. See <see cref="Core.Stock.StockLevel"/>.</summary>
    public int? MinimumLevel { get; set; }

    public int? OrderUpTo { get; set; }

    public List<CatalogueFit> Fits { get; init; } = [];

    public static CatalogueNumber Of(
        PartNumber number,
        string name,
        string? typeCode = null,
        string? consumable = null,
        ItemSpecification? specification = null
    ) =>
        new()
        {
            Specification = specification,
            Kind = specification?.Kind ?? ItemKind.Other,
            Id = Guid.CreateVersion7(),
            Number = number.Text,
            Canonical = number.Canonical,
            Name = name,
            TypeCode = typeCode,
            Consumable = consumable,
        };
}

/// <summary>A slot of a model that a number is known to fit.</summary>
public sealed class CatalogueFit
{
    public required Guid NumberId { get; init; }

    public required string ModelCode { get; init; }

    public required string Slot { get; init; }

    /// <summary>Who of this workshop listed it, by name; null for a maker's list.</summary>
    public string? ListedBy { get; init; }

    public DateTimeOffset? ListedAt { get; init; }

    public Listing? Listing =>
        ListedBy is { } name && ListedAt is { } at ? new Listing(name, DateOnly.FromDateTime(at.LocalDateTime)) : null;
}
