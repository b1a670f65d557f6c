using System.ComponentModel;
using Microsoft.AspNetCore.Http.HttpResults;
using Zenrik.Core;
using Zenrik.Core.Economics;
using Zenrik.Workshop.Economics;
using Zenrik.Workshop.Triage;
using static Zenrik.Web.Api.Answers;

namespace Zenrik.Web.Api;

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

/// <summary>What things cost and what they are worth, for programs.</summary>
internal static class MoneyApi
{
    public static void MapMoney(this IEndpointRouteBuilder api)
    {
        api.MapGet("/outlook/money", Money)
            .WithSummary("What the next twelve months will cost, and what the last have")
            .WithTags("Outlook");
        api.MapGet("/outlook/harvest", Harvest)
            .WithSummary("Which donors to strip of what, for whom")
            .WithTags("Outlook");
        api.MapGet("/outlook/kit", Kit)
            .WithSummary("The fewest parts with which most of a site's repairs are done there")
            .WithTags("Outlook");
    }

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
