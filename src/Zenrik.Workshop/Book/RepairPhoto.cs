using Zenrik.Core.Stock;

namespace Zenrik.Workshop.Book;

/// <summary>A photograph, drawn anew from the one sent: a plain JPEG without the camera's notes.</summary>
public sealed class RepairPhoto
{
    public required Guid Id { get; init; }

    public required RepairId RepairId { get; init; }

    public required byte[] Jpeg { get; init; }

    /// <summary>The act it was taken at, as "kind:target"; null when it belongs to the repair as a whole.</summary>
    public string? Act { get; init; }

    public required DateTimeOffset At { get; init; }

    public required Guid ById { get; init; }

    public Technician By { get; init; } = null!;
}
