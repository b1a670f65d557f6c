using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Workshop.Exporting;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.People;
using Zenrik.Workshop.Repairs;

namespace Zenrik.Web.Hosting;

/// <summary>The lists of the book as files.</summary>
internal static class GivenLists
{
    private const string People = "people";
    private const string Audit = "audit";

    /// <summary>Lists that only a lead may have.</summary>
    public static IReadOnlyList<string> ForLeads { get; } = [People, Audit];

    public static void MapGivenLists(this IEndpointRouteBuilder app)
    {
        app.MapGet("/house/export/everything.zip", Everything)
            .RequireAuthorization(Policies.House)
            .ExcludeFromDescription();
        // Who may sign in is a lead's to know as a list.
        app.MapGet($"/house/export/{People}.csv", (GiveOutLists lists) => List(lists, People, new UnitQuery()))
            .RequireAuthorization(Policies.House)
            .ExcludeFromDescription();
        app.MapGet(
                $"/house/export/{Audit}.csv",
                (GiveOutLists lists, string? about, string? by) => List(lists, Audit, new UnitQuery(), null, about, by)
            )
            .RequireAuthorization(Policies.House)
            .ExcludeFromDescription();
        app.MapGet(
                "/fleet/{tag}.json",
                async (GiveOutOne one, string tag, CancellationToken stop) => Paper(await one.Unit(tag, stop))
            )
            .RequireAuthorization(Policies.Read)
            .ExcludeFromDescription();
        app.MapGet(
                "/repairs/{code}.json",
                async (GiveOutOne one, string code, CancellationToken stop) =>
                    Repair.NumberOf(code) is { } number ? Paper(await one.Repair(number, stop)) : Results.NotFound()
            )
            .RequireAuthorization(Policies.Read)
            .ExcludeFromDescription();
        // Calendars cannot sign in: what lets them read stands in the address they were given.
        app.MapGet("/calendar/{token}/{what}.ics", Calendar).AllowAnonymous().ExcludeFromDescription();
        app.MapGet(
                "/house/export/repairs.csv",
                (GiveOutLists lists, [AsParameters] HistoryQuery query) =>
                    List(lists, "repairs", new UnitQuery(), query)
            )
            .RequireAuthorization(Policies.Read)
            .ExcludeFromDescription();
        app.MapGet(
                "/house/export/{id}.csv",
                (GiveOutLists lists, string id, [AsParameters] UnitQuery query) =>
                    ForLeads.Contains(id) ? Results.NotFound() : List(lists, id, query)
            )
            .RequireAuthorization(Policies.Read)
            .ExcludeFromDescription();
    }

    /// <summary>What a feed of the bench calendar is called.</summary>
    private const string Bench = "bench";

    /// <param name="what">"all", a <see cref="DueKind"/> in lower case, or <see cref="Bench"/>.</param>
    private static async Task<IResult> Calendar(
        string token,
        string what,
        ApiTokens tokens,
        DueDays due,
        BenchFeed bench,
        HttpRequest request,
        CancellationToken stop
    )
    {
        DueKind? only =
            Enum.TryParse<DueKind>(what, ignoreCase: true, out var kind) && Enum.IsDefined(kind) ? kind : null;
        if ((only is null && what is not ("all" or Bench)) || await tokens.Known(token, stop) is not { } known)
        {
            return Results.NotFound();
        }

        var root = new Uri($"{request.Scheme}://{request.Host}");
        return known.Scopes.Contains(TokenScopes.Calendar)
            ? Results.Text(
                what == Bench ? await bench.Run(root, stop) : await due.AsCalendar(only, root, stop),
                "text/calendar; charset=utf-8"
            )
            : Results.NotFound();
    }

    private static IResult Paper<T>(Outcome<T> paper)
        where T : notnull =>
        paper.Try(out var found, out _) ? Results.Json(found, GiveOutOne.Json) : Results.NotFound();

    private static IResult List(
        GiveOutLists lists,
        string id,
        UnitQuery query,
        HistoryQuery? ended = null,
        string? about = null,
        string? by = null
    ) =>
        lists.Find(id, query, ended, about, by) is { } list
            ? Results.Stream(
                to => CsvOut.Write(to, list.Headings, list.Rows),
                "text/csv; charset=utf-8; header=present",
                $"{list.Id}.csv"
            )
            : Results.NotFound();

    /// <summary>
    /// Written to a file of this machine first, which is gone when it was sent: what goes wrong is told as any fault is, and
    /// nobody gets half of a book.
    /// </summary>
    private static async Task<IResult> Everything(
        [FromServices] GiveOutEverything everything,
        TimeProvider clock,
        CancellationToken stop
    )
    {
        // Made so that only this program may read it.
        var file = new FileStream(
            Path.GetTempFileName(),
            FileMode.Create,
            FileAccess.ReadWrite,
            FileShare.None,
            bufferSize: 64 * 1024,
            FileOptions.DeleteOnClose | FileOptions.Asynchronous
        );
        try
        {
            await everything.Write(file, Show.Version, stop);
            file.Position = 0;
        }
        catch
        {
            await file.DisposeAsync();
            throw;
        }

        var day = clock.GetLocalNow().ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
        return Results.Stream(file, "application/zip", $"workshop-{day}.zip");
    }
}
