using Microsoft.AspNetCore.Mvc;
using Zenrik.Workshop.Exporting;

namespace Zenrik.Web.Hosting;

/// <summary>A list as a file that is written while it is read.</summary>
internal sealed class Csv(string name, IReadOnlyList<string> headings, IAsyncEnumerable<IReadOnlyList<string?>> rows)
    : IActionResult
{
    public static Csv File(string name, IReadOnlyList<string> headings, IEnumerable<IReadOnlyList<string?>> rows) =>
        new(name, headings, rows.ToAsyncEnumerable());

    public async Task ExecuteResultAsync(ActionContext context)
    {
        var response = context.HttpContext.Response;
        response.ContentType = "text/csv; charset=utf-8; header=present";
        response.Headers.ContentDisposition = $"attachment; filename=\"{name}\"";
        await CsvOut.Write(response.Body, headings, rows, context.HttpContext.RequestAborted);
    }
}
