using System.ComponentModel;
using System.Security.Claims;
using Microsoft.AspNetCore.Http.HttpResults;
using Zenrik.Core;
using Zenrik.Core.Batteries;
using Zenrik.Core.Reliability;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Batteries;
using Zenrik.Workshop.Book;
using Zenrik.Workshop.Economics;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Reliability;
using Zenrik.Workshop.Scheduling;
using static Zenrik.Web.Api.Answers;

namespace Zenrik.Web.Api;

/// <summary>What lies ahead, for programs.</summary>
internal static class OutlookApi
{
    public static void MapOutlook(this IEndpointRouteBuilder api)
    {
        api.MapGet("/outlook/batteries", Batteries)
            .WithSummary("When each battery that has spoken comes under the limit, the first due first")
            .WithTags("Outlook");
        api.MapGet("/outlook/calendar", Bench).WithSummary("Who does what when at the bench").WithTags("Outlook");
        api.MapPost("/outlook/calendar/pins", Pin)
            .RequireAuthorization(Policies.Counter)
            .WithSummary("Gives a job to somebody, first of all that is theirs or behind another job")
            .WithTags("Outlook")
            .WithExample("""{"code": "R-1001", "who": "0199f3a0-7c11-7a5e-9a3e-2f4f4c1f0a11", "behind": "R-1002"}""");
        api.MapDelete("/outlook/calendar/pins/{code}", Unpin)
            .RequireAuthorization(Policies.Counter)
            .WithSummary("Leaves it to the calendar again who does a job, and when")
            .WithTags("Outlook");
        api.MapGet("/outlook/watch", Watched)
            .WithSummary("Lots, numbers, suppliers and sites whose parts live shorter than their peers")
            .WithTags("Outlook");
        api.MapGet("/outlook/spares", Spares)
            .WithSummary("How many parts of each slot will fail within some days, and how many are enough")
            .WithTags("Outlook");
        api.MapGet("/outlook/money", Money)
            .WithSummary("What the next twelve months will cost, and what the last have")
            .WithTags("Outlook");
        api.MapGet("/outlook/harvest", Harvest)
            .WithSummary("Which donors to strip of what, for whom")
            .WithTags("Outlook");
        api.MapPost("/outlook/strips", Strip)
            .RequireAuthorization(Policies.Counter)
            .WithSummary("Makes stripping a donor a job of the calendar; what was asked of it before is asked no more")
            .WithTags("Outlook")
            .WithExample(
                """{"request": "0199f3a0-7c11-7a5e-9a3e-2f4f4c1f0a11", "tag": "SK-0417", "slots": ["fan"], "repairs": ["R-1001"]}"""
            );
        api.MapDelete("/outlook/strips/{tag}", CallOff)
            .RequireAuthorization(Policies.Counter)
            .WithSummary("Takes stripping a donor off the calendar; it stays a donor")
            .WithTags("Outlook");
        api.MapGet("/outlook/last-order/{model}/{slot}", Last)
            .WithSummary("How many of a part to buy when it can be bought for the last time")
            .WithTags("Outlook");
        api.MapGet("/outlook/campaigns", Campaigns)
            .WithSummary("What is to be done on many units, and how far it is")
            .WithTags("Outlook");
        api.MapGet("/outlook/campaigns/{name}/waves", Waves)
            .WithSummary("When which units of a campaign travel, so that no site lacks more than it can spare")
            .WithTags("Outlook");
        api.MapGet("/outlook/replace/{model}", Frontier)
            .WithSummary("From how many months of use left each part of a model is worth exchanging")
            .WithTags("Outlook");
        api.MapGet("/repairs/{code}/while-open", WhileOpen)
            .WithSummary("What else of a repair's unit pays to exchange while it is open")
            .WithTags("Outlook");
    }

    private static Task<Results<Ok<SaidAnswer>, ProblemHttpResult>> Pin(
        PinRequest request,
        PinJob pins,
        ClaimsPrincipal user,
        CancellationToken stop
    ) => Said(pins.Pin(request.Code, request.Who, request.Behind, user.Actor(), stop));

    private static Task<Results<Ok<SaidAnswer>, ProblemHttpResult>> Unpin(
        string code,
        PinJob pins,
        ClaimsPrincipal user,
        CancellationToken stop
    ) => Said(pins.Unpin(code, user.Actor(), stop));

    private static async Task<Results<Ok<SaidAnswer>, ProblemHttpResult>> Strip(
        StripRequest request,
        AskForStrip strips,
        ClaimsPrincipal user,
        CancellationToken stop
    ) =>
        request.Slots is not { Count: > 0 and <= Most } slots || request.Repairs is { Count: > Most }
            ? Problem(
                new Refusal(RefusalReason.Invalid, $"Give from 1 to {Most} \"slots\", and at most {Most} \"repairs\".")
            )
            : await Said(strips.Run(request.Request, request.Tag, slots, request.Repairs ?? [], user.Actor(), stop));

    private static Task<Results<Ok<SaidAnswer>, ProblemHttpResult>> CallOff(
        string tag,
        [Description("A number of its own: sent again, it does nothing a second time.")] Guid request,
        AskForStrip strips,
        ClaimsPrincipal user,
        CancellationToken stop
    ) => Said(strips.CallOff(request, tag, user.Actor(), stop));

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

    private static async Task<Results<Ok<LastOrderAnswer>, ProblemHttpResult>> Last(
        string model,
        string slot,
        PlanLastOrder last,
        CancellationToken stop,
        [Description("With which chance there should be enough, of 100; 1 to 99. Left out: as far as a part pays.")]
            int? level = null
    ) =>
        level is < 1 or > 99 ? Problem(new Refusal(RefusalReason.Invalid, "The level is 1 to 99."))
        : await last.Run(model, slot, level / 100.0, stop) is not { } view
            ? Problem(new Refusal(RefusalReason.NotFound, $"No {model} has a part in a slot {slot}."))
        : TypedResults.Ok(
            new LastOrderAnswer(
                view.Also,
                view.InService,
                view.Failed,
                Math.Round(view.Expected, 2),
                view.Low,
                view.High,
                view.Enough,
                view.Free,
                view.Coming,
                view.Price,
                view.Missing,
                view.Pays is { } pays ? Math.Round(pays, 3) : null,
                view.PaysFor,
                view.LastLeaves
            )
        );

    private static async Task<Ok<IReadOnlyList<CampaignAnswer>>> Campaigns(
        KeepCampaigns campaigns,
        CancellationToken stop
    ) =>
        TypedResults.Ok<IReadOnlyList<CampaignAnswer>>([
            .. (await campaigns.List(stop)).Select(l => new CampaignAnswer(
                l.Campaign.Name,
                l.Campaign.Purpose,
                l.Campaign.Assembly,
                l.Campaign.EndsOn,
                l.Campaign.EndedAt,
                l.Marked,
                l.InRepair,
                l.Done
            )),
        ]);

    private static async Task<Results<Ok<WavesAnswer>, ProblemHttpResult>> Waves(
        string name,
        PlanWaves waves,
        CancellationToken stop
    ) =>
        await waves.Of(name, stop) is not { } view
            ? Problem(new Refusal(RefusalReason.NotFound, $"There is no campaign “{name}”."))
            : TypedResults.Ok(
                new WavesAnswer(
                    view.Plan.Done,
                    view.Plan.Soonest,
                    view.Plan.Unplaced,
                    view.Plan.Without,
                    view.Plan.UnitDays,
                    Math.Round(view.Hours, 1),
                    [
                        .. view.Plan.Waves.Select(w => new WaveAnswer(
                            w.Site,
                            w.Units,
                            w.Here,
                            w.Leaves,
                            w.Begins,
                            w.Ready,
                            w.Back
                        )),
                    ],
                    [.. view.Ways.Select(w => new WaveWayAnswer(w.Share, w.More, w.Done))],
                    [
                        .. view.Parts.Select(p => new WavePartsAnswer(
                            p.For,
                            p.Numbers,
                            p.Wanted,
                            p.Free,
                            p.Coming.Sum(c => c.Pieces),
                            p.Missing
                        )),
                    ]
                )
            );

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

    private static async Task<Ok<MoneyAnswer>> Money(YearAhead year, CancellationToken stop)
    {
        var view = await year.Run(stop);
        return TypedResults.Ok(
            new MoneyAnswer(
                view.Currency,
                Math.Round(view.Budget.Expected, 2),
                Math.Round(view.Budget.Low, 2),
                Math.Round(view.Budget.High, 2),
                [.. view.Batteries.Select(BudgetLineAnswer.Of)],
                [.. view.Spares.Select(BudgetLineAnswer.Of)],
                [.. view.Replacements.Select(BudgetLineAnswer.Of)],
                [.. view.Models.Select(PastCostAnswer.Of)],
                [.. view.Sites.Select(PastCostAnswer.Of)],
                [.. view.Ages.Select(PastCostAnswer.Of)],
                [.. view.Causes.Select(PastCostAnswer.Of)]
            )
        );
    }

    private static async Task<Ok<HarvestAnswer>> Harvest(PlanHarvest harvest, CancellationToken stop)
    {
        var view = await harvest.Run(stop);
        return TypedResults.Ok(
            new HarvestAnswer(
                [
                    .. view.Strip.Select(d => new HarvestDonorAnswer(
                        d.Donor.Tag,
                        [
                            .. d.Take.Select(t => new HarvestTakeAnswer(
                                t.Part.Slot,
                                t.Part.Number,
                                t.For.Id,
                                t.For.Waits
                            )),
                        ],
                        Math.Round(d.Minutes, 1),
                        Math.Round(d.Worth, 1),
                        view.Asked.ContainsKey(d.Donor.Tag)
                    )),
                ],
                [.. view.Leave.Select(d => d.Tag)],
                Math.Round(view.Value, 1),
                Math.Round(view.AsNeeded, 1),
                view.Proved
            )
        );
    }

    private static async Task<Ok<CalendarAnswer>> Bench(ViewCalendar calendar, CancellationToken stop)
    {
        var view = await calendar.Run(stop);
        return TypedResults.Ok(
            new CalendarAnswer(
                view.Cost.Late,
                view.Bound,
                [
                    .. view.Jobs.Select(j => new JobAnswer(
                        j.Task.Code,
                        j.Task.Repair?.Code,
                        j.Task.What,
                        j.Task.Unit.Tag,
                        j.Placed.Hand.Name,
                        j.Placed.Hand.Id,
                        j.Placed.Begins,
                        j.Placed.Ends,
                        j.Task.PromisedOn,
                        j.Placed.MinutesLate,
                        Math.Round(j.Placed.ChanceLate, 4),
                        j.Pinned,
                        j.Placed.Unpractised
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
                f.Suspected,
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
                    [.. r.Slots.Select(s => new SlotOfModelAnswer(s.ModelCode, s.Slot))],
                    r.Numbers,
                    r.InService,
                    Math.Round(r.Expected, 3),
                    r.Low,
                    r.High,
                    r.Enough,
                    Math.Round(r.InPairs, 3),
                    r.Free,
                    r.Coming,
                    r.ToOrder
                )),
            ]);
}
