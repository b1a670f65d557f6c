using Zenrik.Core.BenchLedger;
using Zenrik.Core.Stock;
using Zenrik.Workshop.BenchLedger;
using Zenrik.Workshop.People;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.ServiceMaps;

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

    /// <summary>What a finished session counted differently and blamed on the map: once a group, as it came out.</summary>
    internal static IEnumerable<MapFinding> Of(BenchView bench, Occasion occasion) =>
        bench.Session.MapRevision is not { } revision
            ? []
            : bench
                .Ledger.Counts.Where(c => c is { Why: Difference.MapWrong, Back: false })
                .GroupBy(c => c.Group.Id)
                .Select(g => new MapFinding
                {
                    Id = Guid.CreateVersion7(),
                    ModelCode = bench.Session.ModelCode,
                    MapRevision = revision,
                    Kind = FindingKind.Count,
                    Target = g.Key.Value,
                    Found = g.Last().Count,
                    Note = g.Last().Note,
                    RepairId = bench.Repair.Id,
                    At = occasion.At,
                    ById = occasion.By.Id,
                });
}
