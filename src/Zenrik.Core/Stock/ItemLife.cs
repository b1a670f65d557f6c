namespace Zenrik.Core.Stock;

/// <summary>Why an item moves, or some of a lot.</summary>
public enum MovementReason
{
    /// <summary>It was in the unit when the passport was begun.</summary>
    AsBuilt,
    Received,

    /// <summary>It lay on the shelf already and was not in the book.</summary>
    Entered,
    Fitted,
    Removed,
    UsedUp,

    /// <summary>Handed out: to the bench for a repair, or to somebody who uses it.</summary>
    Issued,

    /// <summary>Came back to its shelf unused.</summary>
    Returned,

    /// <summary>To another bin of the same kind.</summary>
    Moved,

    /// <summary>Set apart, with the reason in the note.</summary>
    SetApart,

    /// <summary>Out of quarantine: somebody found it good.</summary>
    Released,

    /// <summary>Taken out of a donor.</summary>
    Stripped,

    /// <summary>A count of the bin found it, or did not.</summary>
    Counted,

    /// <summary>Left the house as waste.</summary>
    Scrapped,

    /// <summary>The machine itself said so, and a person agreed.</summary>
    Reported,

    /// <summary>Takes back another movement, which it names.</summary>
    PutRight,
}

/// <summary>Where an item is, as far as the rules of moving ask.</summary>
public enum Whereabouts
{
    /// <summary>Just entered into the book; it has no place yet.</summary>
    New,
    Shelf,
    Bench,
    Quarantine,
    Outside,

    /// <summary>Built into a unit.</summary>
    Unit,
}

/// <summary>
/// What may happen to an item: one table of reasons, from where to where each goes, and which need to be said why; what
/// becomes of a promise; who may be promised and handed what. The book moves an item by this table and no other way.
/// </summary>
public static class ItemLife
{
    /// <param name="Ways">From each of the first to each of the second.</param>
    /// <param name="Said">True when whoever moves an item so has to say why.</param>
    private sealed record Rule((Whereabouts[] From, Whereabouts[] To)[] Ways, bool Said = false)
    {
        public Rule(Whereabouts[] from, Whereabouts[] to, bool said = false)
            : this([(from, to)], said) { }
    }

    private static readonly Dictionary<MovementReason, Rule> Table = new()
    {
        [MovementReason.AsBuilt] = new([Whereabouts.New], [Whereabouts.Unit]),
        // What arrives and is not what was ordered is set apart at once.
        [MovementReason.Received] = new([Whereabouts.New], [Whereabouts.Shelf, Whereabouts.Quarantine]),
        [MovementReason.Entered] = new([Whereabouts.New], [Whereabouts.Shelf]),
        [MovementReason.Fitted] = new([Whereabouts.Shelf, Whereabouts.Bench], [Whereabouts.Unit]),
        [MovementReason.Removed] = new([Whereabouts.Unit], [Whereabouts.Quarantine]),
        // Lots are used up; an item is fitted.
        [MovementReason.UsedUp] = new([], []),
        [MovementReason.Issued] = new([Whereabouts.Shelf], [Whereabouts.Bench, Whereabouts.Outside]),
        [MovementReason.Returned] = new([Whereabouts.Bench], [Whereabouts.Shelf]),
        [MovementReason.Moved] = new([Whereabouts.Shelf], [Whereabouts.Shelf]),
        [MovementReason.SetApart] = new([Whereabouts.Shelf, Whereabouts.Bench], [Whereabouts.Quarantine], said: true),
        [MovementReason.Released] = new([Whereabouts.Quarantine], [Whereabouts.Shelf], said: true),
        [MovementReason.Stripped] = new([Whereabouts.Unit], [Whereabouts.Shelf, Whereabouts.Quarantine]),
        // Missing things have left the house; found ones lie in the bin that was counted.
        [MovementReason.Counted] = new(
            [
                ([Whereabouts.Shelf, Whereabouts.Quarantine], [Whereabouts.Outside]),
                (
                    [Whereabouts.Shelf, Whereabouts.Bench, Whereabouts.Quarantine, Whereabouts.Outside],
                    [Whereabouts.Shelf, Whereabouts.Quarantine]
                ),
            ],
            Said: true
        ),
        // Out of a unit where it was destroyed there: a drive that was shredded.
        [MovementReason.Scrapped] = new([Whereabouts.Quarantine, Whereabouts.Unit], [Whereabouts.Outside], said: true),
        [MovementReason.Reported] = new([
            ([Whereabouts.New], [Whereabouts.Unit]),
            ([Whereabouts.Unit], [Whereabouts.Outside]),
        ]),
        // Not to a bench: the promise it was handed out for is gone.
        [MovementReason.PutRight] = new(
            [Whereabouts.Shelf, Whereabouts.Bench, Whereabouts.Quarantine, Whereabouts.Outside, Whereabouts.Unit],
            [Whereabouts.Shelf, Whereabouts.Quarantine, Whereabouts.Outside, Whereabouts.Unit],
            said: true
        ),
    };

    /// <summary>Where an item is that lies in a bin of a kind, or sits in a unit, or neither yet.</summary>
    public static Whereabouts At(BinKind? bin, UnitId? unit) =>
        (bin, unit) switch
        {
            (_, not null) => Whereabouts.Unit,
            (BinKind.Shelf, _) => Whereabouts.Shelf,
            (BinKind.Bench, _) => Whereabouts.Bench,
            (BinKind.Quarantine, _) => Whereabouts.Quarantine,
            (BinKind.Outside, _) => Whereabouts.Outside,
            _ => Whereabouts.New,
        };

    /// <summary>Whether a movement for this reason goes from there to there.</summary>
    /// <returns>Null when it may.</returns>
    public static Refusal? May(MovementReason reason, Whereabouts from, Whereabouts to) =>
        Table[reason].Ways.Any(w => w.From.Contains(from) && w.To.Contains(to))
            ? null
            : new Refusal(
                RefusalReason.Conflict,
                from == Whereabouts.Quarantine && to == Whereabouts.Unit
                    ? "An item in quarantine is never fitted. Release it to the shelf first."
                    : $"Nothing is {Word(reason)} {From(from)} {To(to)}."
            );

    /// <summary>Whether whoever moves an item so has to say why.</summary>
    public static bool IsSaid(MovementReason reason) => Table[reason].Said;

    /// <summary>Whether a promise outlives a move: from one shelf to another, and from the shelf to the bench.</summary>
    public static bool KeepsPromise(Whereabouts from, Whereabouts to) =>
        from == Whereabouts.Shelf && to is Whereabouts.Shelf or Whereabouts.Bench;

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

    private static string Word(MovementReason reason) =>
        string.Concat($"{reason}".Select((c, i) => i > 0 && char.IsUpper(c) ? $" {c}" : $"{c}")).ToLowerInvariant();

    private static string From(Whereabouts from) =>
        from switch
        {
            Whereabouts.New => "from nowhere",
            Whereabouts.Unit => "out of a unit",
            Whereabouts.Outside => "from outside the house",
            _ => $"from the {from}".ToLowerInvariant(),
        };

    private static string To(Whereabouts to) =>
        to switch
        {
            Whereabouts.New => "to nowhere",
            Whereabouts.Unit => "into a unit",
            Whereabouts.Outside => "out of the house",
            _ => $"to the {to}".ToLowerInvariant(),
        };
}
