namespace Zenrik.Core.Stock;

public readonly record struct ItemId(Guid Value)
{
    public override string ToString() => Value.ToString();
}

public readonly record struct BinId(Guid Value)
{
    public override string ToString() => Value.ToString();
}

public readonly record struct UnitId(Guid Value)
{
    public override string ToString() => Value.ToString();
}

public readonly record struct RepairId(Guid Value)
{
    public override string ToString() => Value.ToString();
}

/// <summary>What a bin is for.</summary>
public enum BinKind
{
    /// <summary>Good stock: may be promised and fitted.</summary>
    Shelf,

    /// <summary>Removed or doubtful parts: never fitted.</summary>
    Quarantine,

    /// <summary>Not in the house: a supplier, a skip. Where items come from and end up.</summary>
    Outside,

    /// <summary>Handed out for a repair and not fitted yet: it lies with the machine.</summary>
    Bench,
}

/// <summary>Where an item is. It is in exactly one place.</summary>
public abstract record Place
{
    private Place() { }

    public sealed record InBin(BinId Bin, BinKind Kind) : Place;

    /// <summary>Built into a unit, in the named slot.</summary>
    public sealed record InUnit(UnitId Unit, string Slot) : Place;
}

/// <summary>One item going from one place to another.</summary>
public sealed record Movement(ItemId Item, Place From, Place To);

/// <summary>
/// Where every item is: the projection of nothing but movements, and the proof that what the database says of its places is
/// right. What may be done is not asked again (<see cref="ItemLife"/>), only whether it can have happened.
/// </summary>
public sealed class StockBook
{
    private readonly Dictionary<ItemId, Place> places = [];
    private readonly Dictionary<Place.InUnit, ItemId> slots = [];

    private StockBook() { }

    public IReadOnlyDictionary<ItemId, Place> Places => places;

    /// <summary>Follows movements: an item comes from outside first, leaves from where it is, and a slot holds one.</summary>
    /// <exception cref="InvalidOperationException">A movement contradicts those before it.</exception>
    public static StockBook From(IEnumerable<Movement> movements)
    {
        var book = new StockBook();
        foreach (var movement in movements)
        {
            book.Follow(movement);
        }

        return book;
    }

    private void Follow(Movement m)
    {
        if (places.TryGetValue(m.Item, out var at) ? at != m.From : m.From is not Place.InBin { Kind: BinKind.Outside })
        {
            throw new InvalidOperationException($"{m.Item} cannot have left from {m.From}; it was in {at}.");
        }

        if (m.From == m.To || (m.To is Place.InUnit to && !slots.TryAdd(to, m.Item)))
        {
            throw new InvalidOperationException($"{m.Item} cannot have come to {m.To}.");
        }

        if (m.From is Place.InUnit left)
        {
            slots.Remove(left);
        }

        places[m.Item] = m.To;
    }
}
