using System.ComponentModel;
using Microsoft.AspNetCore.Http.HttpResults;
using Zenrik.Core;
using Zenrik.Core.Batteries;
using Zenrik.Core.Reliability;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Batteries;
using Zenrik.Workshop.Book;
using Zenrik.Workshop.Economics;
using Zenrik.Workshop.Reliability;
using Zenrik.Workshop.Scheduling;
using static Zenrik.Web.Api.Answers;

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
    DateOnly Since,
    [property: Description("Units that still carry it.")] IReadOnlyList<string> Units
);

public sealed record DemandAnswer(
    string Model,
    string Slot,
    IReadOnlyList<string> Numbers,
    int InService,
    double Expected,
    int Low,
    int High,
    int Enough,
    int Free,
    int Coming,
    int ToOrder
);

public sealed record JobAnswer(
    [property: Description("Null where a donor is to be stripped.")] string? Repair,
    string What,
    string Tag,
    string Hand,
    DateTimeOffset Begins,
    DateTimeOffset Ends,
    DateOnly? PromisedOn,
    [property: Description(
        "Minutes after the promised day, or after the day the house would have it done by, at which anybody works."
    )]
        int MinutesLate,
    [property: Description("That it is done too late, 0 to 1, by how far the jobs before it vary.")] double ChanceLate,
    bool Pinned
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

/// <summary>What lies ahead, for programs.</summary>
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

internal static class OutlookApi
{
    public static void MapOutlook(this IEndpointRouteBuilder api)
    {
        api.MapGet("/outlook/batteries", Batteries)
            .WithSummary("When each battery that has spoken comes under the limit, the first due first")
            .WithTags("Outlook");
        api.MapGet("/outlook/calendar", Bench).WithSummary("Who does what when at the bench").WithTags("Outlook");
        api.MapGet("/outlook/watch", Watched)
            .WithSummary("Lots, numbers and sites whose parts live shorter than their peers")
            .WithTags("Outlook");
        api.MapGet("/outlook/spares", Spares)
            .WithSummary("How many parts of each slot will fail within some days, and how many are enough")
            .WithTags("Outlook");
        api.MapGet("/outlook/replace/{model}", Frontier)
            .WithSummary("From how many months of use left each part of a model is worth exchanging")
            .WithTags("Outlook");
        api.MapGet("/repairs/{code}/while-open", WhileOpen)
            .WithSummary("What else of a repair's unit pays to exchange while it is open")
            .WithTags("Outlook");
    }

    private static async Task<Results<Ok<IReadOnlyList<OpenPartAnswer>>, ProblemHttpResult>> WhileOpen(
        string code,
        WhileItIsOpen open,
        CancellationToken stop
    ) =>
        Repair.NumberOf(code) is not { } number || await open.Run(number, stop) is not { } view
            ? Problem(
                new Refusal(RefusalReason.NotFound, $"There is no repair {code} that is planned and not begun yet.")
            )
            : TypedResults.Ok<IReadOnlyList<OpenPartAnswer>>([
                .. view.Parts.Select(p => new OpenPartAnswer(
                    p.Assembly.Id.Value,
                    p.Number,
                    Math.Round(p.Worth.Fails, 4),
                    Math.Round(p.Worth.Left, 3),
                    Math.Round(p.Worth.Exchanged, 3),
                    Math.Round(p.Worth.AloneMinutes, 1),
                    Math.Round(p.Worth.MoreMinutes, 1),
                    Math.Round(p.Worth.Price, 2),
                    Math.Round(p.Worth.Gain, 2)
                )),
            ]);

    private static async Task<Results<Ok<FrontierAnswer>, ProblemHttpResult>> Frontier(
        string model,
        ViewFrontier frontier,
        CancellationToken stop
    ) =>
        await frontier.Run(model, stop) is not { } view
            ? Problem(new Refusal(RefusalReason.NotFound, $"There is no model {model}."))
            : TypedResults.Ok(
                new FrontierAnswer(
                    view.Model.Code,
                    view.Left.Count,
                    Math.Round(view.Retiring, 2),
                    [
                        .. view.Parts.Select(p => new FrontierPartAnswer(
                            p.Assembly.Id.Value,
                            p.Number,
                            Math.Round(p.Cost, 2),
                            Math.Round(p.WorthFrom, 2),
                            Math.Round(p.Low, 2),
                            Math.Round(p.High, 2),
                            p.Below,
                            p.BelowInAYear
                        )),
                    ]
                )
            );

    private static async Task<Ok<CalendarAnswer>> Bench(ViewCalendar calendar, CancellationToken stop)
    {
        var view = await calendar.Run(stop);
        return TypedResults.Ok(
            new CalendarAnswer(
                view.Cost.Late,
                view.Bound,
                [
                    .. view.Jobs.Select(j => new JobAnswer(
                        j.Task.Repair?.Code,
                        j.Task.What,
                        j.Task.Unit.Tag,
                        j.Placed.Hand.Name,
                        j.Placed.Begins,
                        j.Placed.Ends,
                        j.Task.PromisedOn,
                        j.Placed.MinutesLate,
                        Math.Round(j.Placed.ChanceLate, 4),
                        j.Pinned
                    )),
                ],
                [.. view.Unplaced.Select(n => new UnplacedAnswer(n.Task.Repair?.Code, n.Task.Unit.Tag, n.Why))]
            )
        );
    }

    private static IEnumerable<BatteryAnswer> Ordered(FleetWear wear) =>
        wear
            .Batteries.Select(BatteryAnswer.Of)
            .OrderBy(b => b.Due ?? DateOnly.MaxValue)
            .ThenBy(b => b.Tag, StringComparer.Ordinal);

    private static async Task<Ok<IReadOnlyList<BatteryAnswer>>> Batteries(
        FleetBatteries batteries,
        CancellationToken stop
    ) => TypedResults.Ok<IReadOnlyList<BatteryAnswer>>([.. Ordered(await batteries.Run(stop))]);

    private static async Task<Ok<IReadOnlyList<WatchAnswer>>> Watched(FleetLives lives, CancellationToken stop)
    {
        var fleet = await lives.Run(stop);
        return TypedResults.Ok<IReadOnlyList<WatchAnswer>>([
            .. fleet.Found.Select(f => new WatchAnswer(
                f.By.ToString(),
                f.Value,
                f.Model,
                f.Slot,
                f.Parts,
                f.Test.Failed,
                Math.Round(f.Test.Expected, 3),
                f.Rate.Ratio is { } r ? Math.Round(r, 3) : null,
                f.Test.Worse,
                f.Since,
                fleet.Carriers(f)
            )),
        ]);
    }

    private static async Task<Results<Ok<IReadOnlyList<DemandAnswer>>, ProblemHttpResult>> Spares(
        ExpectedDemand demand,
        CancellationToken stop,
        [Description("How far ahead, 1 to 730.")] int days = 60,
        [Description("With which chance, in 100, the shelf should be enough; 50 to 99.")] int sure = 95
    ) =>
        days is < 1 or > 730 || sure is < 50 or > 99
            ? Problem(
                new Refusal(
                    RefusalReason.Invalid,
                    "Days are 1 to 730, and the chance that there is enough is 50 to 99 of 100: nothing is ever certain."
                )
            )
            : TypedResults.Ok<IReadOnlyList<DemandAnswer>>([
                .. (await demand.Run(days, sure / 100.0, stop)).Select(r => new DemandAnswer(
                    r.Slot.ModelCode,
                    r.Slot.Slot,
                    r.Numbers,
                    r.Slot.InService,
                    Math.Round(r.Expected, 3),
                    r.Low,
                    r.High,
                    r.Enough,
                    r.Free,
                    r.Coming,
                    r.ToOrder
                )),
            ]);
}
