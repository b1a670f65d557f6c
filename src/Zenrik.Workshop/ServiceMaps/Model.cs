namespace Zenrik.Workshop.ServiceMaps;

/// <summary>A model the organisation owns units of; it may be without a service map yet.</summary>
public sealed class Model
{
    public required string Code { get; init; }

    public required string Name { get; set; }

    public required string Maker { get; set; }
}

/// <summary>One accepted edition of a model's map, kept as long as a session refers to it.</summary>
public sealed class ServiceMapRevision
{
    public required string ModelCode { get; init; }

    public required int Revision { get; init; }

    public required string Json { get; init; }

    public required DateTimeOffset AcceptedAt { get; init; }
}
