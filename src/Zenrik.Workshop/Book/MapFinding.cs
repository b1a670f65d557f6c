using Zenrik.Core.BenchLedger;
using Zenrik.Core.Stock;

namespace Zenrik.Workshop.Book;

public enum FindingKind
{
    /// <summary>A group has another number of screws.</summary>
    Count,

    /// <summary>An act need not wait for a part.</summary>
    Order,
}

public enum FindingState
{
    Open,
    Accepted,
    Rejected,
}

/// <summary>Something a bench found to be other than a map says: proposed to the lead with its evidence.</summary>
public sealed class MapFinding
{
    public required Guid Id { get; init; }

    public required string ModelCode { get; init; }

    /// <summary>The edition the session worked by.</summary>
    public required int MapRevision { get; init; }

    public required FindingKind Kind { get; init; }

    /// <summary>The screw group's id, or the act as "kind:target".</summary>
    public required string Target { get; init; }

    /// <summary>Count: how many there are.</summary>
    public int? Found { get; init; }

    /// <summary>Order: the part that need not be out of the way.</summary>
    public string? Cover { get; init; }

    public string? Note { get; init; }

    public required RepairId RepairId { get; init; }

    public Repair Repair { get; init; } = null!;

    public required DateTimeOffset At { get; init; }

    public required Guid ById { get; init; }

    public Technician By { get; init; } = null!;

    public FindingState State { get; set; }

    public DateTimeOffset? DecidedAt { get; set; }

    public Guid? DecidedById { get; set; }

    public Technician? DecidedBy { get; set; }

    /// <summary>Why it was rejected.</summary>
    public string? Decision { get; set; }

    /// <summary>The edition that took it in.</summary>
    public int? AcceptedRevision { get; set; }
}
