using Zenrik.Core.ServiceMaps;

namespace Zenrik.Workshop.Book;

/// <summary>A model the organisation owns units of; it may be without a service map yet.</summary>
public sealed class Model
{
    public required string Code { get; init; }

    public required string Name { get; set; }

    public required string Maker { get; set; }

    public DeviceClass Class { get; set; }

    /// <summary>The same as maps say it.</summary>
    internal Core.ServiceMaps.Model ToCore() =>
        new()
        {
            Code = Code,
            Name = Name,
            Maker = Maker,
            Class = Class,
        };

    /// <summary>When updates for it end; null when not known.</summary>
    public DateOnly? SupportEnds { get; set; }

    /// <summary>Months the house uses such units from the day they are bought.</summary>
    public int LifeMonths { get; set; } = 60;

    /// <summary>What one that takes its place costs, in the workshop's currency.</summary>
    public decimal NewPrice { get; set; }

    /// <summary>Months of the maker's warranty from the day a unit is bought; null when not known.</summary>
    public int? WarrantyMonths { get; set; }

    /// <summary>True when none is bought any more: no new unit is entered, those there are stay.</summary>
    public bool IsRetired { get; set; }

    /// <summary>The model this one turned out to be, entered twice; null: it is itself. Kept for what refers to it.</summary>
    public string? MergedInto { get; set; }
}

/// <summary>One accepted edition of a model's map, kept as long as a session refers to it.</summary>
public sealed class ServiceMapRevision
{
    public required string ModelCode { get; init; }

    public required int Revision { get; init; }

    public required string Json { get; init; }

    /// <summary>True for the draft a session began with; nobody has published it.</summary>
    public bool IsDraft { get; init; }

    public required DateTimeOffset AcceptedAt { get; init; }
}
