using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zenrik.Workshop.Fleet;

namespace Zenrik.Web.Rooms.Fleet;

public sealed class IndexModel(ListUnits units) : PageModel
{
    public string? Search { get; private set; }

    public IReadOnlyList<UnitRow> Rows { get; private set; } = [];

    public int Total { get; private set; }

    public async Task<IActionResult> OnGet(string? search, CancellationToken stop)
    {
        Search = string.IsNullOrWhiteSpace(search) ? null : search.Trim();
        (Rows, Total) = await units.Run(Search, stop);
        return Request.Headers.ContainsKey("HX-Request") ? Partial("_Units", this) : Page();
    }
}
