using System.Globalization;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;
using Zenrik.Core;
using Zenrik.Core.Importing;
using Zenrik.Core.ServiceMaps;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Importing;

namespace Zenrik.Web.Rooms.House;

[Authorize(Policies.Counter)]
public sealed class ImportFileModel(TakeInFile files, ListUnits units) : RoomPage
{
    public Guid RequestId { get; private set; } = Guid.CreateVersion7();

    public FileView View { get; private set; } = null!;

    public FateFilter Filter { get; private set; }

    /// <summary>The page of rows, from 1.</summary>
    public int Number { get; private set; } = 1;

    public IReadOnlyList<string> Sites { get; private set; } = [];

    public Refusal? Refusal { get; private set; }

    public async Task<IActionResult> OnGet(
        Guid id,
        FateFilter? filter,
        int number = 1,
        CancellationToken stop = default
    )
    {
        (Number, Filter) = (Math.Clamp(number, 1, 100_000), filter ?? FateFilter.All);
        if (!(await files.Look(id, User.Actor(), Filter, Number, stop)).Try(out var view, out var refusal))
        {
            return Refused(refusal, "/House/Import");
        }

        // What cannot be taken is what a person has to see first.
        if (filter is null && view.Counts[FateFilter.Refused] > 0)
        {
            return RedirectToPage(new { id, filter = FateFilter.Refused });
        }

        View = view;
        Sites = (await units.Choices(stop)).Sites;
        return Page();
    }

    /// <summary>What kind of list it is decides who may see and take it.</summary>
    public override async Task OnPageHandlerExecutionAsync(
        PageHandlerExecutingContext context,
        PageHandlerExecutionDelegate next
    )
    {
        if (
            context.HandlerArguments.TryGetValue("id", out var id)
            && id is Guid file
            && !ImportModel.MayTakeIn(User, await files.KindOf(file, HttpContext.RequestAborted))
        )
        {
            context.Result = Forbid();
            return;
        }

        await next();
    }

    /// <summary>Says how the columns are read.</summary>
    public async Task<IActionResult> OnPostColumns(
        Guid id,
        DayOrder? days,
        string? site,
        DateOnly? bought,
        DeviceClass? unknown,
        CancellationToken stop
    )
    {
        var columns = Request
            .Form.Where(f => f.Key.StartsWith("column-", StringComparison.Ordinal))
            .Select(f => (At: int.TryParse(f.Key["column-".Length..], out var at) ? at : -1, Id: f.Value.ToString()))
            .Where(c => c.At >= 0)
            .DistinctBy(c => c.At)
            .ToDictionary(c => c.At, c => c.Id);
        var settings = new FileSettings(days, site, bought, unknown);
        return (await files.Decide(id, columns, settings, User.Actor(), stop)).Try(out var said, out var refusal)
            ? Did(said, "/House/ImportFile", new { id })
            : Refused(refusal, "/House/ImportFile", new { id });
    }

    public async Task<IActionResult> OnPostTake(Guid request, Guid id, bool goodOnly, CancellationToken stop) =>
        (await files.Take(request, id, goodOnly, User.Actor(), stop)).Try(out var said, out var refusal)
            ? Did(said, "/House/Import")
            : Refused(refusal, "/House/ImportFile", new { id });

    /// <summary>How far it is taken in, in words; nothing where nobody takes it in.</summary>
    public async Task<IActionResult> OnGetHowFar(Guid id, CancellationToken stop) =>
        Content(
            await files.HowFar(id, stop) is { } rows
                ? $"{rows.ToString("N0", CultureInfo.InvariantCulture)} rows gone through."
                : ""
        );

    /// <summary>The rows that cannot be taken, as a file with the reasons.</summary>
    public async Task<IActionResult> OnGetRefused(Guid id, CancellationToken stop) =>
        (await files.Refused(id, User.Actor(), stop)).Try(out var refused, out var refusal)
            ? Csv.File(
                "not-taken.csv",
                ["why", .. refused.Headings],
                refused.Rows.Select(r => (IReadOnlyList<string?>)[((RowFate.Refused)r.Fate).Reason, .. r.Says])
            )
            : Refused(refusal, "/House/ImportFile", new { id });
}
