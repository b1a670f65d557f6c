using System.ComponentModel;
using System.Text;
using Microsoft.AspNetCore.Http.HttpResults;
using Zenrik.Core;
using Zenrik.Core.Fleet;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Stock;
using static Zenrik.Web.Api.Answers;

namespace Zenrik.Web.Api;

/// <summary>What came of what a unit said of itself.</summary>
public sealed record HeardAnswer(
    string Said,
    [property: Description("What a person has to decide now; kept with the unit.")] IReadOnlyList<string> Questions
);

public sealed record UnitAnswer(
    string Tag,
    string Serial,
    string Model,
    string Site,
    string? User,
    string State,
    DateOnly BoughtOn,
    string? Repair
);

public sealed record UnitsAnswer(
    IReadOnlyList<UnitAnswer> Units,
    [property: Description("Counted up to 1000.")] int Total,
    bool More
);

public sealed record ProofAnswer(string Name, string Book, string? ByMovements, bool Agrees);

/// <summary>Units and the stores for programs, and for units that speak for themselves.</summary>
internal static class FleetApi
{
    private const string HardwareExample = """
        {"id":"unit","class":"system","product":"Sandpiper 14","serial":"5T4C7D2E","children":[{"id":"core","class":"bus",
        "children":[{"id":"memory","class":"memory","children":[{"id":"bank:0","class":"memory","product":"TW-6M1R-80016",
        "serial":"S118204417","size":17179869184}]}]}]}
        """;

    public static void MapFleet(this IEndpointRouteBuilder api)
    {
        api.MapGet("/units", Units).WithSummary("The fleet, narrowed as the list in Fleet is").WithTags("Fleet");
        api.MapPost("/units/{tag}/hardware", Hardware)
            .RequireAuthorization(Policies.Counter)
            .Accepts<string>("application/json")
            .WithSummary("A unit's own hardware list, as lshw -json prints it, into its passport")
            .WithTags("Fleet")
            .WithExample(HardwareExample);
        api.MapPost("/units/{tag}/power", Power)
            .RequireAuthorization(Policies.Counter)
            .Accepts<string>("text/plain")
            .WithSummary("A unit's battery, as the kernel's power-supply uevent text says it")
            .WithTags("Fleet");
        api.MapGet("/stores/numbers/{number}/proof", Proof)
            .WithSummary("What the book has of a part number, proved from its movements")
            .WithTags("Stores");
    }

    private static async Task<Ok<UnitsAnswer>> Units(
        ListUnits units,
        CancellationToken stop,
        string? search = null,
        string? site = null,
        string? model = null,
        UnitState? state = null,
        int page = 0
    )
    {
        var found = await units.Run(new UnitQuery(search, site, model, state, Page: page), stop);
        return TypedResults.Ok(
            new UnitsAnswer(
                [
                    .. found.Rows.Select(u => new UnitAnswer(
                        u.Tag,
                        u.Serial,
                        u.Model,
                        u.Site,
                        u.UserName,
                        Word(u.State),
                        u.BoughtOn,
                        u.Repair is { } number ? Repair.CodeOf(number) : null
                    )),
                ],
                found.Total,
                found.More
            )
        );
    }

    private static async Task<Results<Ok<HeardAnswer>, ProblemHttpResult>> Hardware(
        string tag,
        HttpRequest request,
        HearUnit hear,
        CancellationToken stop
    ) => Answer(await hear.Hardware(tag, await Body(request, stop), request.HttpContext.User.Actor(), stop));

    private static async Task<Results<Ok<HeardAnswer>, ProblemHttpResult>> Power(
        string tag,
        HttpRequest request,
        HearUnit hear,
        CancellationToken stop
    ) => Answer(await hear.Power(tag, await Body(request, stop), request.HttpContext.User.Actor(), stop));

    private static async Task<Ok<IReadOnlyList<ProofAnswer>>> Proof(
        string number,
        ProveStock prove,
        CancellationToken stop
    ) =>
        TypedResults.Ok<IReadOnlyList<ProofAnswer>>([
            .. (await prove.OfNumber(number, stop)).Select(l => new ProofAnswer(
                l.Name,
                l.Book,
                l.ByMovements,
                l.Agrees
            )),
        ]);

    /// <summary>The text sent, up to one byte more than is read: enough to say that it is too long.</summary>
    private static async Task<string> Body(HttpRequest request, CancellationToken stop)
    {
        var buffer = new byte[HardwareList.MaxBytes + 1];
        var length = await request.Body.ReadAtLeastAsync(buffer, buffer.Length, throwOnEndOfStream: false, stop);
        return Encoding.UTF8.GetString(buffer, 0, length);
    }

    private static Results<Ok<HeardAnswer>, ProblemHttpResult> Answer(Outcome<Heard> outcome) =>
        outcome.Try(out var heard, out var refusal)
            ? TypedResults.Ok(new HeardAnswer(heard.Text, heard.Questions))
            : Problem(refusal);
}
