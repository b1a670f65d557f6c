using Zenrik.Core.Stock;

namespace Zenrik.Workshop.Book;

public sealed class Bin
{
    public required BinId Id { get; init; }

    public required string Code { get; init; }

    public required BinKind Kind { get; init; }

    internal Place.InBin Place => new(Id, Kind);
}

/// <summary>One physical part. It is in a bin or in a unit's slot, never in both and never in neither.</summary>
public sealed class Item
{
    public required ItemId Id { get; init; }

    /// <summary>The workshop's own label: "IT-00031".</summary>
    public required string Code { get; init; }

    public required Guid NumberId { get; init; }

    public CatalogueNumber Number { get; init; } = null!;

    public string? Serial { get; set; }

    /// <summary>The maker's lot, where the label carries one: parts of one lot fail alike.</summary>
    public string? Batch { get; set; }

    /// <summary>What it cost landed, in the workshop's currency; null when nobody entered it.</summary>
    public decimal? Cost { get; set; }

    /// <summary>The order it came by: from whom, and in which grade; null where that is not known.</summary>
    public Guid? OrderId { get; set; }

    public PartOrder? Order { get; init; }

    public BinId? BinId { get; private set; }

    /// <summary>Its bin's kind, kept beside the bin so that the shelves have an index of their own; the database keeps them equal.</summary>
    public BinKind? BinKind { get; private set; }

    public Bin? Bin { get; private set; }

    public UnitId? UnitId { get; private set; }

    public Unit? Unit { get; private set; }

    public string? Slot { get; private set; }

    public Reservation? Reservation { get; init; }

    public Place Place =>
        UnitId is { } unit ? new Place.InUnit(unit, Slot!) : new Place.InBin(BinId!.Value, BinKind!.Value);

    /// <summary>Puts it somewhere else and gives the movement that says so; the only way an item moves.</summary>
    public MovementRecord MoveTo(Bin bin, MovementReason reason, Occasion occasion) =>
        Move(bin, null, null, reason, occasion);

    /// <summary>Builds it into a unit.</summary>
    public MovementRecord MoveTo(UnitId unit, string slot, MovementReason reason, Occasion occasion) =>
        Move(null, unit, slot, reason, occasion);

    /// <exception cref="InvalidOperationException">The rules have no such movement; whoever asks has refused it before.</exception>
    private MovementRecord Move(Bin? bin, UnitId? unit, string? slot, MovementReason reason, Occasion occasion)
    {
        var (from, to) = (ItemLife.At(BinKind, UnitId), ItemLife.At(bin?.Kind, unit));
        if (ItemLife.May(reason, from, to) is { } refusal)
        {
            throw new InvalidOperationException($"{Code}: {refusal.Message}");
        }

        if (ItemLife.IsSaid(reason) && string.IsNullOrWhiteSpace(occasion.Note))
        {
            throw new InvalidOperationException($"{Code}: nobody has said why it is {reason}.");
        }

        var movement = MovementRecord.Of(occasion, reason) with
        {
            ItemId = Id,
            Quantity = 1,
            FromBinId = BinId,
            FromUnitId = UnitId,
            FromSlot = Slot,
            ToBinId = bin?.Id,
            ToUnitId = unit,
            ToSlot = slot,
        };
        (BinId, BinKind, Bin, UnitId, Slot) = (bin?.Id, bin?.Kind, bin, unit, slot);
        return movement;
    }
}

/// <summary>Countable stock without identities: paste, screws. One line a number and bin.</summary>
public sealed class Lot
{
    public required Guid Id { get; init; }

    public required Guid NumberId { get; init; }

    public CatalogueNumber Number { get; init; } = null!;

    public required BinId BinId { get; init; }

    public Bin Bin { get; init; } = null!;

    public int OnHand { get; set; }

    /// <summary>Of those on hand, how many are promised to repairs.</summary>
    public int Promised { get; set; }
}

/// <summary>Who, when and for which repair something was moved.</summary>
/// <param name="Note">Why, in their words.</param>
public sealed record Occasion(Actor By, DateTimeOffset At, RepairId? Repair = null, string? Note = null);

/// <summary>One change of stock. Rows are never changed or deleted; the database refuses it.</summary>
public sealed record MovementRecord
{
    /// <summary>Longest note.</summary>
    public const int MaxNote = 200;

    public long Id { get; init; }

    public required DateTimeOffset At { get; init; }

    public required Guid ById { get; init; }

    public Technician By { get; init; } = null!;

    public required MovementReason Reason { get; init; }

    /// <summary>Why, in the words of whoever did it.</summary>
    public string? Note { get; init; }

    /// <summary>The movement this one takes back; no two take back the same.</summary>
    public long? RightsId { get; init; }

    public RepairId? RepairId { get; init; }

    public Repair? Repair { get; init; }

    public ItemId? ItemId { get; init; }

    public Item? Item { get; init; }

    public Guid? LotId { get; init; }

    public int Quantity { get; init; }

    public BinId? FromBinId { get; init; }

    public UnitId? FromUnitId { get; init; }

    public string? FromSlot { get; init; }

    public BinId? ToBinId { get; init; }

    public UnitId? ToUnitId { get; init; }

    public string? ToSlot { get; init; }

    internal static MovementRecord Of(Occasion occasion, MovementReason reason) =>
        new()
        {
            At = occasion.At,
            ById = occasion.By.Id,
            Reason = reason,
            RepairId = occasion.Repair,
            Note = occasion.Note,
        };
}

/// <summary>A promise of one item, or of some of a lot, to a repair. Gone once kept or taken back.</summary>
public sealed class Reservation
{
    public required Guid Id { get; init; }

    public required RepairId RepairId { get; init; }

    public Repair Repair { get; init; } = null!;

    /// <summary>The line an item is promised to; null for consumables, which the whole repair uses.</summary>
    public Guid? LineId { get; init; }

    public ItemId? ItemId { get; init; }

    public Item? Item { get; init; }

    public Guid? LotId { get; init; }

    public Lot? Lot { get; init; }

    public required int Quantity { get; init; }

    public required DateTimeOffset At { get; init; }

    public required Guid ById { get; init; }
}
