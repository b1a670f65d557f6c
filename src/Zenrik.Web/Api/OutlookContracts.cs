using System.ComponentModel;
using Zenrik.Core.Batteries;
using Zenrik.Core.Economics;
using Zenrik.Core.Repairs;
using Zenrik.Workshop.Economics;

namespace Zenrik.Web.Api;

public sealed record BatteryAnswer(
    string Tag,
    string Site,
    string Model,
    string? Number,
    double? Wh,
    [property: Description("As it is likely today, 0 to 1.")] double Health,
    [property: Description("Health lost a year, below 0 for one that wears.")] double PerYear,
    [property: Description("One in ten is under the limit before.")] DateOnly? Earliest,
    [property: Description("As likely under the limit as not; null: not within twelve years.")] DateOnly? Due,
    [property: Description("Nine in ten are under the limit by then.")] DateOnly? Latest
)
{
    internal static BatteryAnswer Of(FleetBattery b) =>
        new(
            b.Tag,
            b.Site,
            b.ModelCode,
            b.Number,
            b.Wh,
            Math.Round(b.Forecast.Now, 4),
            Math.Round(b.Forecast.PerDay * 365.25, 4),
            b.Forecast.Earliest,
            b.Forecast.Due,
            b.Forecast.Latest
        );
}

public sealed record WatchAnswer(
    string By,
    string Value,
    string Model,
    string Slot,
    int Parts,
    int Failed,
    double Expected,
    [property: Description("Failures a year against those of its peers; null where these had none.")] double? Ratio,
    [property: Description("The chance of so many failures or more if it lived as its peers do.")] double Chance,
    [property: Description("A lot that is only suspected may well be chance: worth a look.")] bool Suspected,
    DateOnly Since,
    [property: Description("Units that still carry it.")] IReadOnlyList<string> Units
);

public sealed record SlotOfModelAnswer(string Model, string Slot);

public sealed record DemandAnswer(
    string Model,
    string Slot,
    [property: Description("All slots that take the same numbers and are counted together here, the one above first.")]
        IReadOnlyList<SlotOfModelAnswer> Slots,
    IReadOnlyList<string> Numbers,
    int InService,
    double Expected,
    int Low,
    int High,
    int Enough,
    [property: Description("The share of repairs that took two of them, 0 to 1.")] double InPairs,
    int Free,
    int Coming,
    int ToOrder
);

public sealed record JobAnswer(
    [property: Description("What pins it: the repair's code, or \"strip\" and the donor's tag.")] string Code,
    [property: Description("Null where a donor is to be stripped.")] string? Repair,
    string What,
    string Tag,
    string Hand,
    Guid HandId,
    DateTimeOffset Begins,
    DateTimeOffset Ends,
    DateOnly? PromisedOn,
    [property: Description(
        "Minutes after the promised day, or after the day the house would have it done by, at which anybody works."
    )]
        int MinutesLate,
    [property: Description("That it is done too late, 0 to 1, by how far the jobs before it vary.")] double ChanceLate,
    bool Pinned,
    [property: Description("True when it is laid longer, for somebody who has not practised the model.")]
        bool Unpractised
);

/// <summary>A job of the calendar that somebody is to do, and when among what is theirs.</summary>
public sealed record PinRequest(
    string Code,
    [property: Description("As \"handId\" has it in the calendar.")] Guid Who,
    [property: Description("The job it is done after; left out: first of all.")] string? Behind
);

/// <summary>A donor to strip, as a job of the calendar.</summary>
public sealed record StripRequest(
    [property: Description("A number of its own: sent again, it asks for nothing a second time.")] Guid Request,
    [property: Description("Of the donor.")] string Tag,
    [property: Description("What is to come out.")] IReadOnlyList<string> Slots,
    [property: Description("Codes of the repairs that wait for it; may be left out.")] IReadOnlyList<string>? Repairs
);

public sealed record UnplacedAnswer(string? Repair, string Tag, string Why);

public sealed record CalendarAnswer(
    [property: Description("Minutes late, each by its weight.")] long Late,
    [property: Description("No order has less, as far as has been proved.")] long Bound,
    IReadOnlyList<JobAnswer> Jobs,
    [property: Description("What could not be laid.")] IReadOnlyList<UnplacedAnswer> Unplaced
);

public sealed record FrontierPartAnswer(
    string Assembly,
    string Number,
    decimal Cost,
    [property: Description("Months of use left from which on exchanging it costs less a month than another unit.")]
        double WorthFrom,
    double Low,
    double High,
    [property: Description("Units in use that have fewer months left.")] int Below,
    [property: Description("Those that will have in a year.")] int BelowInAYear
);

public sealed record FrontierAnswer(
    string Model,
    int Units,
    [property: Description("What another unit costs, set up and with a loan unit meanwhile.")] decimal Retiring,
    [property: Description("Empty where the model has no map, or nobody knows what a new one costs.")]
        IReadOnlyList<FrontierPartAnswer> Parts
);

public sealed record OpenPartAnswer(
    string Assembly,
    string Number,
    [property: Description("The chance that it fails while the unit is of use, 0 to 1.")] double Fails,
    [property: Description("How often it is exchanged by then when it is left now, in expectation.")] double Left,
    [property: Description("How often from now on when a new one goes in now.")] double Exchanged,
    double AloneMinutes,
    double MoreMinutes,
    decimal Price,
    [property: Description("Saved by exchanging it now, in the house's currency; below 0 where it does not pay.")]
        decimal Gain
);

public sealed record BudgetLineAnswer(
    string What,
    double Count,
    [property: Description("What one costs; null where nobody knows, and then it is not in the sum.")] decimal? Each,
    decimal? Expected
)
{
    internal static BudgetLineAnswer Of(BudgetLine line) =>
        new(line.What, Math.Round(line.Count, 3), line.Each, line.Expected is { } sum ? Math.Round(sum, 2) : null);
}

public sealed record PastCostAnswer(
    string Name,
    double UnitYears,
    int Repairs,
    decimal Parts,
    decimal Labour,
    [property: Description("What one unit cost a month; null where none is in use.")] decimal? UnitMonth,
    [property: Description("In one year of ten less, by chance alone.")] decimal? Low,
    [property: Description("In one of ten more.")] decimal? High
)
{
    internal static PastCostAnswer Of(PastCost cost) =>
        new(
            cost.Name,
            Math.Round(cost.UnitYears, 2),
            cost.Repairs,
            Math.Round(cost.Parts, 2),
            Math.Round(cost.Labour, 2),
            Rounded(cost.UnitMonth?.Sum),
            Rounded(cost.UnitMonth?.Low),
            Rounded(cost.UnitMonth?.High)
        );

    private static decimal? Rounded(decimal? sum) => sum is { } money ? Math.Round(money, 4) : null;
}

public sealed record MoneyAnswer(
    string Currency,
    [property: Description("In the next twelve months: parts and machines, work not among it.")] decimal Expected,
    decimal Low,
    decimal High,
    IReadOnlyList<BudgetLineAnswer> Batteries,
    IReadOnlyList<BudgetLineAnswer> Spares,
    IReadOnlyList<BudgetLineAnswer> Replacements,
    [property: Description("The last twelve months, as are the lists after it.")] IReadOnlyList<PastCostAnswer> Models,
    IReadOnlyList<PastCostAnswer> Sites,
    IReadOnlyList<PastCostAnswer> Ages,
    IReadOnlyList<PastCostAnswer> Causes
);

public sealed record HarvestTakeAnswer(
    string Slot,
    string Number,
    [property: Description("A repair that waits, or the slot something is expected to fail in.")] string For,
    bool Waits
);

public sealed record HarvestDonorAnswer(
    string Tag,
    IReadOnlyList<HarvestTakeAnswer> Take,
    double Minutes,
    [property: Description("In minutes of work, those to take it out not taken off.")] double Worth,
    bool OnCalendar
);

public sealed record HarvestAnswer(
    IReadOnlyList<HarvestDonorAnswer> Strip,
    [property: Description("Donors in which nothing is worth the opening now.")] IReadOnlyList<string> Leave,
    [property: Description("In minutes of work.")] double Value,
    [property: Description("What stripping for one repair at a time would give.")] double AsNeeded,
    [property: Description("True when it is proved that nothing gives more.")] bool Proved
);

public sealed record CampaignAnswer(
    string Name,
    [property: Description("What its units are taken in for; null: not said yet.")] RepairPurpose? Purpose,
    [property: Description("The assembly that is exchanged, by its id in the maps.")] string? Part,
    DateOnly? EndsOn,
    DateTimeOffset? EndedAt,
    int Marked,
    int InRepair,
    int Done
);

public sealed record WaveAnswer(
    string Site,
    int Units,
    [property: Description("True when they are at the workshop already.")] bool Here,
    DateOnly Leaves,
    DateOnly Begins,
    DateOnly Ready,
    DateOnly Back
);

public sealed record WaveWayAnswer(
    [property: Description("Of the bench's hours, in hundredths.")] int Share,
    [property: Description("Units each site would do without besides.")] int More,
    DateOnly Done
);

public sealed record WavePartsAnswer(
    [property: Description("Names of the models.")] IReadOnlyList<string> For,
    [property: Description("Any of them will do.")] IReadOnlyList<string> Numbers,
    [property: Description("Units still to do that take one and have none of their own yet.")] int Wanted,
    int Free,
    [property: Description("On order for the shelf.")] int Coming,
    [property: Description("Neither on the shelf nor on order.")] int Missing
);

public sealed record WavesAnswer(
    [property: Description("All units in waves are back; null: not within the days hours are known for.")]
        DateOnly? Done,
    [property: Description("No order of the waves is done before.")] DateOnly? Soonest,
    int Unplaced,
    [property: Description("In no wave, because what they take is neither on the shelf nor on order.")] int Without,
    [property: Description("Days without a unit, summed over units.")] int UnitDays,
    [property: Description("Of work left at the bench.")] double Hours,
    IReadOnlyList<WaveAnswer> Waves,
    [property: Description("What would have it done by its day; empty when it is in time, has none, or nothing would.")]
        IReadOnlyList<WaveWayAnswer> Ways,
    [property: Description("What its units take; empty where nothing is exchanged, or nothing is known to fit.")]
        IReadOnlyList<WavePartsAnswer> Parts
);

public sealed record LastOrderAnswer(
    [property: Description("Other slots that take the same numbers; what they will want is in all figures.")]
        IReadOnlyList<string> Also,
    int InService,
    [property: Description("Of its kind by themselves, so far; 0: nothing can be said.")] int Failed,
    [property: Description("Failures until every unit is out of use.")] double Expected,
    [property: Description("In one case of ten fewer.")] int Low,
    [property: Description("In one case of ten more.")] int High,
    int Enough,
    int Free,
    int Coming,
    [property: Description("Of one part with its freight; null: nobody knows one.")] decimal? Price,
    [property: Description("What a missing part costs.")] decimal Missing,
    [property: Description("Up to which chance another part pays, 0 to 1.")] double? Pays,
    [property: Description("How many parts that is.")] int? PaysFor,
    [property: Description("The last unit's end of use, as planned.")] DateOnly LastLeaves
);
