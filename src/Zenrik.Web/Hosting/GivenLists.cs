using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Zenrik.Workshop.Exporting;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Repairs;

namespace Zenrik.Web.Hosting;

/// <summary>The lists of the book as files.</summary>
internal static class GivenLists
{
    public const string People = "people";

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
                "/house/export/repairs.csv",
                (GiveOutLists lists, [AsParameters] HistoryQuery query) =>
                    List(lists, "repairs", new UnitQuery(), query)
            )
            .RequireAuthorization(Policies.Read)
            .ExcludeFromDescription();
        app.MapGet(
                "/house/export/{id}.csv",
                (GiveOutLists lists, string id, [AsParameters] UnitQuery query) =>
                    id == People ? Results.NotFound() : List(lists, id, query)
            )
            .RequireAuthorization(Policies.Read)
            .ExcludeFromDescription();
    }

    private static IResult List(GiveOutLists lists, string id, UnitQuery query, HistoryQuery? ended = null) =>
        lists.Find(id, query, ended) is { } list
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
