using Zenrik.Core.BenchLedger;
using Zenrik.Core.Stock;

namespace Zenrik.Workshop.Book;

/// <summary>A stop-gap a unit was handed back with: kept on the Counter until somebody says it was put right.</summary>
public sealed class FollowUp
{
    public required Guid Id { get; init; }

    public required UnitId UnitId { get; init; }

    public Unit Unit { get; init; } = null!;

    /// <summary>The repair it was left in.</summary>
    public required RepairId RepairId { get; init; }

    public Repair Repair { get; init; } = null!;

    /// <summary>What is not as it should be.</summary>
    public required string What { get; init; }

    public required string Reason { get; init; }

    public required DateTimeOffset At { get; init; }

    public required Guid ById { get; init; }

    public Technician By { get; init; } = null!;

    public DateTimeOffset? PutRightAt { get; set; }

    public Guid? PutRightById { get; set; }

    /// <summary>How it was put right.</summary>
    public string? PutRight { get; set; }

    internal static FollowUp Of(Repair repair, StopGap gap, Occasion occasion) =>
        new()
        {
            Id = Guid.CreateVersion7(),
            UnitId = repair.UnitId,
            RepairId = repair.Id,
            What = gap.What,
            Reason = gap.Reason,
            At = occasion.At,
            ById = occasion.By.Id,
        };
}
