using System.ComponentModel;
using System.Security.Claims;
using Microsoft.AspNetCore.Http.HttpResults;
using Zenrik.Core;
using Zenrik.Core.Economics;
using Zenrik.Core.Fit;
using Zenrik.Core.Parts;
using Zenrik.Core.Sourcing;
using Zenrik.Core.Triage;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Economics;
using Zenrik.Workshop.Fit;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.ServiceMaps;
using Zenrik.Workshop.Shipped;
using Zenrik.Workshop.Sourcing;
using Zenrik.Workshop.Triage;
using static Zenrik.Web.Api.Answers;

namespace Zenrik.Web.Api;

/// <summary>What the Counter decides, for programs: triage, fit, sourcing, and what is worth doing.</summary>
internal static class CounterApi
{
    public static void MapCounter(this RouteGroupBuilder api)
    {
        api.MapPost("/triage/next", Next)
            .WithSummary("The next best act for a complaint, with the runner-up, the reason and the chances of faults")
            .WithExample(
                """{"class": "laptop", "symptoms": ["pointer-dead"], "circumstances": ["suddenly"], "steps": [{"test": "firmware-input", "outcome": "dead", "cured": false}]}"""
            );
        api.MapGet("/triage/kit", Kit)
            .WithSummary("The fewest parts with which most of a site's repairs are done there");
        api.MapPost("/fit", Fit)
            .WithSummary("Whether an item fits a slot, with every reason and what it rests on")
            .WithExample(
                """{"model": "sandpiper-13-turn", "slot": "drive", "item": {"kind": "drive", "driveForm": "m2", "lengthMm": 80, "key": "M", "bus": "nvme", "doubleSided": true, "gb": 1024}}"""
            );
        api.MapPost("/sourcing/compare", Compare)
            .WithSummary("Offers side by side: landed cost, cost until one works, the day it arrives, break-even")
            .WithExample(
                """{"offers": [{"supplier": "Mainland", "number": "X-1", "grade": "brand", "price": {"amount": 30, "currency": "GBP"}, "weightKg": 0.3, "freight": [{"name": "express", "base": {"amount": 55, "currency": "GBP"}, "brokerageIncluded": true, "sails": ["tuesday", "friday"], "transitDays": 1}]}], "refitting": 12}"""
            );
        api.MapGet("/sourcing/shipments", Proposed)
            .WithSummary(
                "What the shelf is short of and repairs wait for: of whom to order it, and what goes together"
            );
        api.MapPost("/sourcing/shipments", Order)
            .RequireAuthorization(Policies.Counter)
            .WithSummary("Orders lines of a proposed shipment together: all of them or none, once for each request")
            .WithExample(
                """{"request": "0199f3a0-7c11-7a5e-9a3e-2f4f4c1f0a11", "supplierId": "0199f3a0-7c11-7a5e-9a3e-2f4f4c1f0a12", "freight": "ferry", "lines": [{"key": "TW-5R0Q-22011", "number": "TW-5R0Q-22011"}]}"""
            );
        api.MapPost("/decide", Decide)
            .WithSummary("The ways out of a repair by cost for each month of use, and what would change the answer")
            .WithExample(
                """{"ways": [{"way": "part", "name": "new board", "parts": 180, "minutes": 60, "daysOut": 6, "chance": 0.9, "months": 24}, {"way": "retire", "name": "a new unit", "parts": 480, "minutes": 30, "daysOut": 3, "chance": 1, "months": 60}], "labourPerHour": 30, "loanPerDay": 2}"""
            );
    }

    private static async Task<Ok<ShipmentsAnswer>> Proposed(ProposeOrders propose, CancellationToken stop)
    {
        var proposed = await propose.Run(stop);
        var plan = proposed.Shipments;
        return TypedResults.Ok(
            new ShipmentsAnswer(
                [
                    .. plan.Shipments.Select(s => new ShipmentAnswer(
                        s.Supplier,
                        proposed.Suppliers[s.Supplier],
                        s.By.Name,
                        s.Leaves,
                        s.Arrives,
                        s.LastDay,
                        s.Before,
                        s.Total,
                        s.Missing,
                        [
                            .. s.Lines.Select(l => new ShippedLineAnswer(
                                l.Line.Key,
                                l.Line.Waits,
                                l.Line.What,
                                l.Bid.Offer.Number,
                                l.Quantity,
                                l.Goods,
                                l.Sending,
                                l.AtBorder,
                                l.Landed
                            )),
                        ],
                        s.Sooner,
                        s.Later,
                        s.Next
                    )),
                ],
                [.. plan.Left.Select(l => new NotOrderedAnswer(l.Line.Waits, l.Line.What, l.Why))],
                plan.Total,
                plan.Saves,
                plan.IsBest,
                proposed.AtHand,
                proposed.Notes
            )
        );
    }

    private static async Task<Results<Ok<SaidAnswer>, ProblemHttpResult>> Order(
        OrderShipmentRequest request,
        OrderShipment together,
        ClaimsPrincipal user,
        CancellationToken stop
    ) =>
        request.Lines is not { Count: > 0 and <= Most } lines
            ? Problem(new Refusal(RefusalReason.Invalid, $"Give from 1 to {Most} \"lines\" to order."))
            : await Said(
                together.Run(
                    request.Request,
                    request.SupplierId,
                    request.Freight ?? "",
                    [.. lines.Select(l => (l.Key ?? "", l.Number ?? ""))],
                    user.Actor(),
                    stop
                )
            );

    private static async Task<Results<Ok<TriageAnswer>, ProblemHttpResult>> Next(
        TriageRequest request,
        TriageOf triage,
        ViewMaps maps,
        CancellationToken stop
    )
    {
        if (request.Repair is { } code)
        {
            return !(await Number(code, n => triage.Run(n, stop))).Try(out var view, out var missing)
                ? Problem(missing)
                : TypedResults.Ok(Answer(view.Network, view.Advice));
        }

        if (request.Class is not { } device)
        {
            return Problem(
                new Refusal(RefusalReason.Invalid, "Give a stored \"repair\", or \"class\" and \"symptoms\".")
            );
        }

        if (request.Steps?.Count > Most || request.Symptoms?.Count > Most || request.Knowledge?.Count > Most)
        {
            return Problem(new Refusal(RefusalReason.Invalid, $"A list has at most {Most} entries."));
        }

        var knowledge = ShippedTriage.Knowledge;
        if (request.Knowledge is { Count: > 0 } files)
        {
            var reading = TriageReader.Read(files.Select((f, i) => ($"knowledge[{i}]", f.GetRawText())));
            if (reading.Knowledge is null)
            {
                return Problem(
                    new Refusal(
                        RefusalReason.Invalid,
                        $"The knowledge cannot be used: {string.Join("; ", reading.Findings.Take(5))}."
                    )
                );
            }

            knowledge = reading.Knowledge;
        }

        IReadOnlyDictionary<string, string?>? components = null;
        var features = MachineFeatures.Unknown;
        if (request.Model is { } model)
        {
            if (!(await maps.Newest(model, stop)).Try(out var map, out var unknown))
            {
                return Problem(unknown);
            }

            components = knowledge.ComponentsOf(map);
            features = MachineFeatures.Of(map);
        }

        var steps = new List<TriageStep>();
        foreach (var step in request.Steps ?? [])
        {
            if (step.Test is null == step.Remedy is null)
            {
                return Problem(new Refusal(RefusalReason.Invalid, "A step is a \"test\" or a \"remedy\"."));
            }

            steps.Add(
                step.Test is { } test
                    ? new TriageStep.Tested(test, step.Outcome)
                    : new TriageStep.Tried(step.Remedy!, step.Cured)
            );
        }

        var network = TriageNetwork.Of(
            knowledge,
            new TriageCase
            {
                Class = device,
                Components = components,
                Features = features,
                Symptoms = request.Symptoms ?? [],
                Circumstances = request.Circumstances ?? [],
            }
        );
        return !network.Try(out var built, out var refusal) ? Problem(refusal)
            : TriageSafety.Check(built, steps) is { } forbidden ? Problem(forbidden)
            : TriageAdvisor.Next(built, steps).Try(out var advice, out refusal) ? TypedResults.Ok(Answer(built, advice))
            : Problem(refusal);
    }

    private static async Task<Results<Ok<FitResponse>, ProblemHttpResult>> Fit(
        FitRequest request,
        FitOf fits,
        PassportOf passports,
        KnownNumbers numbers,
        ViewMaps maps,
        CancellationToken stop
    )
    {
        var known = request.Number is { } wanted ? await numbers.Find(wanted, stop) : null;
        if (request.Number is not null && known is null && request.Item is null)
        {
            return Problem(
                new Refusal(
                    RefusalReason.NotFound,
                    $"The part number {request.Number} is not known here; describe the \"item\"."
                )
            );
        }

        Outcome<FitAnswer> judged;
        if (request.Unit is { } tag)
        {
            if (!(await passports.Run(tag, stop)).Try(out var passport, out var missing))
            {
                return Problem(missing);
            }

            var number =
                known
                ?? CatalogueNumber.Of(
                    PartNumber.Read(request.Number ?? "described").Value,
                    "as described",
                    specification: request.Item
                );
            judged = await fits.One(passport, request.Slot ?? "", number, null, stop);
        }
        else if (request.Model is { } model)
        {
            if (!(await maps.Newest(model, stop)).Try(out var map, out var missing))
            {
                return Problem(missing);
            }

            judged = Fitting.Judge(
                new FitQuestion
                {
                    Model = map,
                    Slot = request.Slot ?? "",
                    Item = request.Item ?? known?.Specification,
                    Number = request.Number,
                    Listed = known?.Fits.Exists(f => f.ModelCode == model && f.Slot == request.Slot) == true,
                    Inside = request.Inside ?? new Dictionary<string, ItemSpecification>(),
                    Looks = request.Looks ?? new Dictionary<string, string>(),
                }
            );
        }
        else
        {
            return Problem(new Refusal(RefusalReason.Invalid, "Give a \"unit\", by its tag, or a \"model\"."));
        }

        return judged.Try(out var answer, out var refusal)
            ? TypedResults.Ok(
                new FitResponse(
                    Word(answer.Verdict),
                    [
                        .. answer.Reasons.Select(r => new FitReasonAnswer(
                            Word(r.Weight),
                            r.Text,
                            Word(r.Evidence),
                            r.Waiver
                        )),
                    ],
                    answer.Waivable
                )
            )
            : Problem(refusal);
    }

    private static async Task<Results<Ok<CompareAnswer>, ProblemHttpResult>> Compare(
        CompareRequest request,
        OffersFor stored,
        SetFigures figures,
        TimeProvider clock,
        CancellationToken stop
    )
    {
        if (request.Repair is { } code)
        {
            return !(await Number(code, n => stored.Run(n, request.Slot ?? "", stop))).Try(
                    out var view,
                    out var missing
                )
                    ? Problem(missing)
                : view.Comparison is { } compared ? TypedResults.Ok(Answer(compared))
                : Problem(new Refusal(RefusalReason.Conflict, string.Join(" ", view.Notes)));
        }

        if (request.Offers is not { Count: > 0 and <= Most } offers)
        {
            return Problem(
                new Refusal(
                    RefusalReason.Invalid,
                    $"Give a \"repair\" and \"slot\", or between 1 and {Most} \"offers\"."
                )
            );
        }

        var house = await figures.Read(stop);
        var exchange = request.Exchange is { } e ? new Exchange(e.Home, e.Rates) : house.Exchange;
        Money None(Money like) => new(0, like.Currency);
        var bids = offers
            .SelectMany(o =>
            {
                var offer = new Offer
                {
                    Supplier = o.Supplier,
                    Number = o.Number,
                    Grade = o.Grade,
                    Price = o.Price,
                    WeightKg = o.WeightKg,
                    MinimumQuantity = o.MinimumQuantity ?? 1,
                    HandlingDays = o.HandlingDays ?? 0,
                    DutyShare = o.DutyShare ?? 0,
                    TaxShare = o.TaxShare ?? 0,
                    TaxIncluded = o.TaxIncluded ?? false,
                    Returns = new ReturnTerms(o.RefundShare ?? 0, o.ReturnFreight ?? None(o.Price)),
                    Freight = [],
                };
                return o.Freight.Select(f => new Bid(
                    offer,
                    new FreightOption(
                        f.Name,
                        f.Base,
                        f.PerKg ?? None(f.Base),
                        f.Brokerage ?? None(f.Base),
                        f.BrokerageIncluded,
                        new Carrier(f.Name, f.Sails, f.TransitDays, f.NoSailing)
                    ),
                    WorkingChance.With(o.Grade, Math.Max(0, o.Worked ?? 0), Math.Max(0, o.Failed ?? 0))
                ));
            })
            .ToList();
        return Offers
            .Compare(
                bids,
                request.Quantity ?? 1,
                request.OrderedOn ?? clock.Today(),
                exchange,
                new Money(request.Refitting ?? 0, exchange.Home)
            )
            .Try(out var comparison, out var refusal)
            ? TypedResults.Ok(Answer(comparison))
            : Problem(refusal);
    }

    private static async Task<Results<Ok<Decision>, ProblemHttpResult>> Decide(
        DecideRequest request,
        DecideFor stored,
        SetFigures figures,
        CancellationToken stop
    )
    {
        if (request.Repair is { } code)
        {
            return (await Number(code, n => stored.Run(n, stop))).Try(out var view, out var missing)
                ? TypedResults.Ok(view.Decision)
                : Problem(missing);
        }

        if (request.Ways is not { Count: > 0 and <= Most } ways)
        {
            return Problem(
                new Refusal(RefusalReason.Invalid, $"Give a stored \"repair\", or between 1 and {Most} \"ways\".")
            );
        }

        var house = await figures.Read(stop);
        return Deciding
            .Weigh(
                ways,
                new Rates(request.LabourPerHour ?? house.LabourPerHour, request.LoanPerDay ?? house.LoanPerDay)
            )
            .Try(out var decision, out var refusal)
            ? TypedResults.Ok(decision)
            : Problem(refusal);
    }

    private static async Task<Outcome<T>> Number<T>(string code, Func<long, Task<Outcome<T>>> read) =>
        Repair.NumberOf(code) is { } number
            ? await read(number)
            : new Refusal(RefusalReason.Invalid, $"\"{code}\" is no repair. Repairs are written R-1010.");

    private static TriageAnswer Answer(TriageNetwork network, TriageAdvice advice)
    {
        double[] belief = [.. network.Faults.Select(f => advice.Faults.First(x => x.Fault == f).Chance)];
        return new TriageAnswer(
            Word(advice.Standing),
            Act(advice.Best),
            Act(advice.RunnerUp),
            advice.Reason,
            [
                .. advice.Faults.Select(f => new FaultAnswer(
                    f.Fault.Id,
                    f.Fault.Name,
                    f.Fault.Component,
                    f.Chance,
                    f.Before
                )),
            ]
        );

        TriageActAnswer? Act(TriageAct? act) =>
            act is null
                ? null
                : new(
                    act.Id,
                    act.IsTest ? "test" : "remedy",
                    act.Title,
                    act.Minutes,
                    act.Total,
                    act.Estimated,
                    network.Cautions(act.Id, belief)
                );
    }

    private static CompareAnswer Answer(Comparison comparison) =>
        new(
            [
                .. comparison.Bids.Select(b => new BidAnswer(
                    b.Bid.Offer.Supplier,
                    b.Bid.Offer.Number,
                    b.Bid.Freight.Name,
                    b.Landed,
                    b.Bid.Chance.Mean,
                    b.Bid.Chance.ExpectedPurchases,
                    b.Expected,
                    b.ExpectedDays,
                    b.BreakEvenChance,
                    b.BreakEvenPrice
                )),
            ],
            [.. comparison.Uncounted.Select(u => u.Reason)]
        );

    private static async Task<Results<Ok<KitAnswer>, ProblemHttpResult>> Kit(
        KitForSite kits,
        [Description("As it stands with the units.")] string site,
        [Description("Of the machines to be cured on the spot, above 0 to 1.")] double? share,
        CancellationToken stop
    )
    {
        if (share is { } asked && !(asked > 0 && asked <= 1))
        {
            return Problem(new Refusal(RefusalReason.Invalid, "The share of machines is above 0 and at most 1."));
        }

        var view = await kits.Run(site, share ?? 0.9, stop);
        return TypedResults.Ok(
            new KitAnswer(
                view.Site,
                view.Units.Count,
                Math.Round(view.Kit.Cured, 3),
                [
                    .. view.Parts.Select(p => new KitPartAnswer(
                        p.Line.Count,
                        p.Name,
                        p.For,
                        p.Number,
                        p.Here,
                        Math.Round(p.Line.Last, 4)
                    )),
                ],
                [.. view.LeftOut.Select(r => r.Code)]
            )
        );
    }
}
