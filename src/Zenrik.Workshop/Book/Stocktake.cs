using Zenrik.Core.Stock;

namespace Zenrik.Workshop.Book;

/// <summary>A count of one bin, from the first scan until it is posted or given up.</summary>
public sealed class Stocktake
{
    public required Guid Id { get; init; }

    public required BinId BinId { get; init; }

    public Bin Bin { get; init; } = null!;

    public required DateTimeOffset At { get; init; }

    public required Guid ById { get; init; }

    public Technician By { get; init; } = null!;

    /// <summary>The last movement in the book when the counting person last looked at it.</summary>
    public required long SeenMovement { get; set; }

    /// <summary>When it was posted or given up; null while it goes on.</summary>
    public DateTimeOffset? EndedAt { get; set; }

    public bool Posted { get; set; }

    public List<ScannedItem> Scanned { get; init; } = [];

    public List<CountedLot> Lots { get; init; } = [];
}

/// <summary>An item found in the bin.</summary>
public sealed class ScannedItem
{
    public required Guid StocktakeId { get; init; }

    public required ItemId ItemId { get; init; }

    public Item Item { get; init; } = null!;
}

/// <summary>How many of a lot were counted.</summary>
public sealed class CountedLot
{
    public required Guid StocktakeId { get; init; }

    public required Guid LotId { get; init; }

    public Lot Lot { get; init; } = null!;

    public required int Counted { get; set; }
}
