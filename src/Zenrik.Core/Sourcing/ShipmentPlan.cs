namespace Zenrik.Core.Sourcing;

/// <summary>Something to order, and the ways it can be had.</summary>
/// <param name="For">A repair or the shelf, as it is shown.</param>
/// <param name="What">What it is, as it is shown.</param>
/// <param name="Quantity">1 or more.</param>
/// <param name="Ways">Each way of ordering it, and what it costs besides in expectation because it may not work; in the workshop's currency.</param>
/// <param name="Waits">The machine that waits until the last line for it is here; null: nobody waits.</param>
/// <param name="Key">What the caller knows the line by.</param>
/// <param name="Without">Why there is no way, where the caller knows.</param>
public sealed record WantedLine(
    string For,
    string What,
    int Quantity,
    IReadOnlyList<(Bid Bid, decimal Risk)> Ways,
    string? Waits = null,
    string Key = "",
    string? Without = null
);

/// <summary>A line in a shipment, with its part of what the shipment costs; all in the workshop's currency.</summary>
/// <param name="Quantity">How many are taken; more than wanted where the supplier sells no fewer.</param>
/// <param name="Sending">Its share of freight and clearing.</param>
/// <param name="AtBorder">Duty and tax.</param>
public sealed record ShippedLine(
    WantedLine Line,
    Bid Bid,
    int Quantity,
    Money Goods,
    Money Sending,
    Money AtBorder,
    Money Landed
);

/// <summary>Another way to send all that is in a shipment.</summary>
/// <param name="Dearer">What it costs more; below nothing where it costs less.</param>
/// <param name="WaitsMore">What machines wait longer, in money; below nothing where they wait less.</param>
public sealed record OtherShipment(
    string Supplier,
    string Freight,
    DateOnly Leaves,
    DateOnly Arrives,
    Money Dearer,
    Money WaitsMore
);

/// <summary>What goes off together.</summary>
/// <param name="Arrives">The day all of it is here.</param>
/// <param name="LastDay">
/// The last day on which all of it can be ordered and still leaves then: until then waiting for what else is needed costs nothing.
/// </param>
/// <param name="Before">The hour it is ordered by on that day; null: any.</param>
/// <param name="Total">Landed cost of all lines.</param>
/// <param name="Missing">What is missing to the least the supplier sells for, in its currency; null: nothing.</param>
/// <param name="Sooner">The least dear way to have all of it earlier; null where there is none.</param>
/// <param name="Later">The least dear of the ways that lines go by and that comes later; null where there is none.</param>
/// <param name="Next">Waiting past this sailing; null where none follows, or it is not known how often its supplier is ordered of.</param>
public sealed record Shipment(
    string Supplier,
    FreightOption By,
    DateOnly Leaves,
    DateOnly Arrives,
    DateOnly LastDay,
    TimeOnly? Before,
    IReadOnlyList<ShippedLine> Lines,
    Money Total,
    Money? Missing,
    OtherShipment? Sooner,
    OtherShipment? Later,
    NextSailing? Next
);

/// <summary>What to order of whom, and what goes together.</summary>
/// <param name="Left">Lines nobody can send, and why.</param>
/// <param name="Total">Landed cost of all shipments.</param>
/// <param name="Saves">Against every line ordered by itself in its own best way: money, waiting and parts that do not work together.</param>
/// <param name="IsBest">True where no other choice costs less; else it is the best that was found.</param>
public sealed record ShipmentPlan(
    IReadOnlyList<Shipment> Shipments,
    IReadOnlyList<(WantedLine Line, string Why)> Left,
    Money Total,
    Money Saves,
    bool IsBest
)
{
    /// <summary>Lines that take from what a supplier has of a number, by whichever way of sending.</summary>
    internal IEnumerable<ShippedLine> LinesOf(Offer offer) =>
        Shipments
            .SelectMany(s => s.Lines)
            .Where(l => l.Bid.Offer.Supplier == offer.Supplier && l.Bid.Offer.Number == offer.Number);
}
