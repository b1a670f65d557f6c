using System.ComponentModel;
using System.Text.Json;
using Zenrik.Core.Economics;
using Zenrik.Core.Fit;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Sourcing;

namespace Zenrik.Web.Api;

/// <summary>A complaint and what has been tried; or a stored repair.</summary>
public sealed record TriageRequest(
    [property: Description("A stored repair, as R-1010. Give this, or symptoms.")] string? Repair,
    [property: Description("laptop or chromebook; needed without a repair.")] DeviceClass? Class,
    [property: Description("A stored model's code: only what it has is suspected.")] string? Model,
    IReadOnlyList<string>? Symptoms,
    IReadOnlyList<string>? Circumstances,
    [property: Description("What was done so far, in its order: what was forbidden at its place is refused.")]
        IReadOnlyList<TriageStepRequest>? Steps,
    [property: Description("Triage files to use instead of the shipped ones; checked and not stored.")]
        IReadOnlyList<JsonElement>? Knowledge
);

/// <summary>A test with the outcome seen (null: could not be told), or a remedy and whether it cured.</summary>
public sealed record TriageStepRequest(string? Test, string? Outcome, string? Remedy, bool Cured);

public sealed record TriageAnswer(
    string Standing,
    TriageActAnswer? Best,
    TriageActAnswer? RunnerUp,
    string Reason,
    IReadOnlyList<FaultAnswer> Faults
);

/// <summary>
/// Minutes: what it costs by itself; total: expected minutes in all if it is done next. Estimated: the figures are those
/// of the files, no plan's or supplier's.
/// </summary>
public sealed record TriageActAnswer(
    string Id,
    string Kind,
    string Title,
    double Minutes,
    double Total,
    bool Estimated,
    IReadOnlyList<string> Cautions
);

public sealed record FaultAnswer(string Id, string Name, string? Component, double Chance, double Before);

/// <summary>Does this fit? Of a stored unit and number, or of a stored model and what is said here.</summary>
public sealed record FitRequest(
    [property: Description("Asset tag of a stored unit. Give this or a model.")] string? Unit,
    string? Model,
    string? Slot,
    [property: Description("A part number known here; or describe the item.")] string? Number,
    ItemSpecification? Item,
    [property: Description("What sits in the unit's slots, by slot; with a model only.")]
        IReadOnlyDictionary<string, ItemSpecification>? Inside,
    [property: Description("What was seen of the unit, by trait; with a model only.")]
        IReadOnlyDictionary<string, string>? Looks
);

public sealed record FitResponse(
    string Verdict,
    IReadOnlyList<FitReasonAnswer> Reasons,
    IReadOnlyList<string> Waivable
);

public sealed record FitReasonAnswer(string Weight, string Text, string Evidence, string? Waiver);

/// <summary>Offers to compare; or a stored repair and slot.</summary>
public sealed record CompareRequest(
    string? Repair,
    string? Slot,
    IReadOnlyList<OfferRequest>? Offers,
    int? Quantity,
    DateOnly? OrderedOn,
    [property: Description("Home currency and what one unit of others costs in it; left out: the house's.")]
        ExchangeRequest? Exchange,
    [property: Description("What opening the machine and fitting once more costs, in the home currency.")]
        decimal? Refitting
);

public sealed record ExchangeRequest(string Home, IReadOnlyDictionary<string, decimal> Rates);

public sealed record OfferRequest(
    string Supplier,
    string Number,
    PartGrade Grade,
    Money Price,
    decimal WeightKg,
    int? MinimumQuantity,
    int? HandlingDays,
    decimal? DutyShare,
    decimal? TaxShare,
    bool? TaxIncluded,
    decimal? RefundShare,
    Money? ReturnFreight,
    [property: Description("How many of it worked and failed here; added to what its grade is worth.")] int? Worked,
    int? Failed,
    IReadOnlyList<FreightRequest> Freight
);

public sealed record FreightRequest(
    string Name,
    Money Base,
    Money? PerKg,
    Money? Brokerage,
    bool BrokerageIncluded,
    IReadOnlyList<DayOfWeek> Sails,
    int TransitDays,
    IReadOnlyList<DateOnly>? NoSailing
);

public sealed record CompareAnswer(IReadOnlyList<BidAnswer> Bids, IReadOnlyList<string> Uncounted);

public sealed record BidAnswer(
    string Supplier,
    string Number,
    string Freight,
    LandedCost Landed,
    double Chance,
    double ExpectedPurchases,
    Money ExpectedUntilWorking,
    double ExpectedDays,
    double? BreakEvenChance,
    Money? BreakEvenPrice
);

/// <summary>What is to be ordered, as the page "What to order" has it.</summary>
public sealed record ShipmentsAnswer(
    IReadOnlyList<ShipmentAnswer> Shipments,
    [property: Description("What is wanted and cannot be ordered now.")] IReadOnlyList<NotOrderedAnswer> Left,
    Money Total,
    [property: Description("Against each line ordered by itself: money, waiting and parts that do not work together.")]
        Money Saves,
    [property: Description("No other choice costs less; else it is the best that was found.")] bool Best,
    [property: Description("Lines of open repairs whose part lies free on a shelf.")] int AtHand,
    [property: Description("Suppliers that could not be asked.")] IReadOnlyList<string> Notes
);

public sealed record ShipmentAnswer(
    string Supplier,
    [property: Description("What it is ordered by.")] Guid SupplierId,
    string Freight,
    DateOnly Leaves,
    DateOnly Arrives,
    [property: Description("The last day to order it on that still leaves then; waiting until then costs nothing.")]
        DateOnly LastDay,
    [property: Description("The hour it is ordered by on that day; left out: any.")] TimeOnly? Before,
    Money Total,
    [property: Description("What is missing to the least the supplier sells for.")] Money? Missing,
    IReadOnlyList<ShippedLineAnswer> Lines,
    [property: Description("The least dear way to have all of it earlier.")] OtherShipment? Sooner,
    [property: Description("The least dear way that comes later.")] OtherShipment? Later,
    [property: Description("Letting this sailing go, so that what is needed meanwhile goes along with the next.")]
        NextSailing? Next
);

public sealed record ShippedLineAnswer(
    [property: Description("What it is ordered by.")] string Key,
    [property: Description("Left out: for the shelf.")] string? Repair,
    string What,
    string Number,
    int Quantity,
    Money Goods,
    [property: Description("Its share of freight and clearing.")] Money Sending,
    [property: Description("Duty and tax.")] Money AtBorder,
    Money Landed
);

/// <summary>Lines of a proposed shipment to order: all of them or none.</summary>
public sealed record OrderShipmentRequest(
    [property: Description("A number of its own: sent again, it orders nothing a second time.")] Guid Request,
    Guid SupplierId,
    string Freight,
    IReadOnlyList<OrderedLine> Lines
);

public sealed record OrderedLine(string Key, string Number);

public sealed record NotOrderedAnswer(string? Repair, string What, string Why);

/// <summary>Ways out to weigh; or a stored repair.</summary>
public sealed record DecideRequest(
    string? Repair,
    IReadOnlyList<WayOut>? Ways,
    decimal? LabourPerHour,
    decimal? LoanPerDay
);

public sealed record KitPartAnswer(
    int Take,
    string Part,
    string Model,
    string? Number,
    [property: Description("Free on a shelf, or promised to one of these repairs.")] int Here,
    [property: Description("The chance that the last of them is wanted.")] double Last
);

public sealed record KitAnswer(
    string Site,
    int Machines,
    [property: Description("Cured on the spot, on the average.")] double Cured,
    IReadOnlyList<KitPartAnswer> Parts,
    [property: Description("Repairs of which nothing can be said.")] IReadOnlyList<string> LeftOut
);
