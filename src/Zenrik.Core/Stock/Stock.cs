using System.Collections.Immutable;

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
/// Where every item is and which are promised: the projection of all movements so far. Immutable. The database keeps
/// the same rules as constraints; this is where they are stated and explained.
/// </summary>
public sealed class StockBook
{
    private ImmutableDictionary<ItemId, Place> places = ImmutableDictionary<ItemId, Place>.Empty;
    private ImmutableDictionary<(UnitId, string), ItemId> slots = ImmutableDictionary<(UnitId, string), ItemId>.Empty;
    private ImmutableDictionary<ItemId, RepairId> promised = ImmutableDictionary<ItemId, RepairId>.Empty;

    private StockBook() { }

    public static StockBook Empty { get; } = new();

    public IReadOnlyDictionary<ItemId, Place> Places => places;

    public IReadOnlyDictionary<ItemId, RepairId> Promised => promised;

    /// <summary>
    /// Rebuilds the book from nothing but movements; the proof that a projection is right. What may be done is not asked
    /// again, only whether it can have happened: an item leaves from where it is, and a slot holds one.
    /// </summary>
    /// <exception cref="InvalidOperationException">A movement contradicts those before it.</exception>
    public static StockBook From(IEnumerable<Movement> movements) =>
        movements.Aggregate(
            Empty,
            (book, m) => book.places.ContainsKey(m.Item) ? book.Leave(m).Value : book.Receive(m).Value
        );

    /// <summary>Takes in an item that is new to the book.</summary>
    public Outcome<StockBook> Receive(Movement movement) =>
        places.ContainsKey(movement.Item) ? Refuse("This item is in the book already; it cannot be received twice.")
        : movement.From is not Place.InBin { Kind: BinKind.Outside }
            ? Refuse("A new item comes from outside the house.")
        : Put(movement);

    /// <summary>Moves an item the book knows, if it may go there.</summary>
    public Outcome<StockBook> Move(Movement movement) =>
        movement is { From: Place.InBin { Kind: BinKind.Quarantine }, To: Place.InUnit }
            ? Refuse("An item in quarantine is never fitted. Release it to the shelf first.")
        : movement.To is Place.InBin { Kind: BinKind.Bench } && !Promised.ContainsKey(movement.Item)
            ? Refuse("Only what is promised to a repair is handed out. Promise it first.")
        : Leave(movement);

    private Outcome<StockBook> Leave(Movement movement)
    {
        if (!places.TryGetValue(movement.Item, out var at))
        {
            return new Refusal(RefusalReason.NotFound, "The book does not know this item.");
        }

        if (at != movement.From)
        {
            return Refuse("The item is no longer where it is to be taken from. Look again where it is now.");
        }

        return movement.From == movement.To ? Refuse("The item is there already.") : Put(movement);
    }

    /// <summary>Promises an item on the shelf to a repair.</summary>
    public Outcome<StockBook> Promise(ItemId item, RepairId repair) =>
        StockRules.MayPromise(
            places.GetValueOrDefault(item),
            promised.TryGetValue(item, out var to) ? to : null,
            repair
        )
            is { } refusal
            ? refusal
            : With(promised: promised.SetItem(item, repair));

    /// <summary>Hands a promised item out from the shelf; it stays promised to the repair it is handed out for.</summary>
    /// <param name="bench">Where it lies from now on.</param>
    public Outcome<StockBook> Issue(ItemId item, RepairId repair, Place.InBin bench) =>
        StockRules.MayIssue(places.GetValueOrDefault(item), promised.TryGetValue(item, out var to) ? to : null, repair)
            is { } refusal
            ? refusal
            : Move(new Movement(item, places[item], bench));

    /// <summary>Takes a promise back; no promise is no fault.</summary>
    public StockBook Release(ItemId item) => With(promised: promised.Remove(item));

    private Outcome<StockBook> Put(Movement m)
    {
        if (m.To is Place.InUnit to && slots.ContainsKey((to.Unit, to.Slot)))
        {
            return Refuse($"There is an item in the {to.Slot} slot already. Take it out first.");
        }

        var stays = StockRules.KeepsPromise((m.From as Place.InBin)?.Kind, (m.To as Place.InBin)?.Kind);
        var taken = m.From is Place.InUnit left ? slots.Remove((left.Unit, left.Slot)) : slots;
        return With(
            places: places.SetItem(m.Item, m.To),
            slots: m.To is Place.InUnit fitted ? taken.SetItem((fitted.Unit, fitted.Slot), m.Item) : taken,
            promised: stays ? promised : promised.Remove(m.Item)
        );
    }

    private StockBook With(
        ImmutableDictionary<ItemId, Place>? places = null,
        ImmutableDictionary<(UnitId, string), ItemId>? slots = null,
        ImmutableDictionary<ItemId, RepairId>? promised = null
    ) =>
        new()
        {
            places = places ?? this.places,
            slots = slots ?? this.slots,
            promised = promised ?? this.promised,
        };

    private static Refusal Refuse(string message) => new(RefusalReason.Conflict, message);
}

/// <summary>The single decisions, for callers that hold one item rather than the whole book.</summary>
public static class StockRules
{
    /// <summary>Whether a promise outlives a move: from one shelf to another, and from the shelf to the bench.</summary>
    public static bool KeepsPromise(BinKind? from, BinKind? to) =>
        from == BinKind.Shelf && to is BinKind.Shelf or BinKind.Bench;

    /// <summary>Whether an item may be handed out for a repair: on a shelf, and promised to that repair.</summary>
    /// <returns>Null when it may.</returns>
    public static Refusal? MayIssue(Place? at, RepairId? promisedTo, RepairId repair) =>
        at is Place.InBin { Kind: BinKind.Bench } && promisedTo == repair
            ? new Refusal(RefusalReason.Conflict, "This item has been handed out for the repair already.")
        : MayPromise(at, promisedTo, repair) is { } refusal ? refusal
        : promisedTo is null
            ? new Refusal(RefusalReason.Conflict, "This item is not promised to the repair. Promise it first.")
        : null;

    /// <summary>Whether an item may be promised to a repair: on a shelf, and promised to nobody else.</summary>
    /// <param name="at">Where the item is; null when it is unknown.</param>
    /// <param name="promisedTo">The repair it is promised to now.</param>
    /// <returns>Null when it may.</returns>
    public static Refusal? MayPromise(Place? at, RepairId? promisedTo, RepairId repair) =>
        at switch
        {
            null => new Refusal(RefusalReason.NotFound, "The book does not know this item."),
            Place.InUnit u => new Refusal(
                RefusalReason.Conflict,
                $"This item is fitted in another unit's {u.Slot} slot; it is not on the shelf."
            ),
            Place.InBin { Kind: BinKind.Quarantine } => new Refusal(
                RefusalReason.Conflict,
                "This item is in quarantine and is not fitted from there."
            ),
            Place.InBin { Kind: BinKind.Bench } when promisedTo != repair => new Refusal(
                RefusalReason.Conflict,
                "This item has been handed out for another repair. It has to come back to its shelf first."
            ),
            Place.InBin { Kind: BinKind.Outside } => new Refusal(
                RefusalReason.Conflict,
                "This item has left the house."
            ),
            _ when promisedTo is { } other && other != repair => new Refusal(
                RefusalReason.Conflict,
                "This item has just been promised to another repair. Choose another one."
            ),
            _ => null,
        };
}
