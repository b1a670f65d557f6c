using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zenrik.Workshop.Parts;

namespace Zenrik.Web.Rooms;

/// <summary>Where the scan line leads.</summary>
public sealed class ScanModel(ResolveCode resolve) : PageModel
{
    public string Code { get; private set; } = "";

    public IReadOnlyList<string> Nearest { get; private set; } = [];

    /// <summary>
    /// What a code stands for, in one word: at a bench a part number, or what nobody knows, belongs to the act that asks
    /// for one; anything else leads where it names.
    /// </summary>
    public async Task<IActionResult> OnGetKind(string? code, CancellationToken stop) =>
        Content((await resolve.Run(code, stop)).GetType().Name.ToLowerInvariant());

    /// <param name="code">What was typed or scanned.</param>
    /// <param name="bench">The repair on the bench the scan line stood on; a part number belongs to its act.</param>
    public async Task<IActionResult> OnGet(string? code, string? bench, CancellationToken stop)
    {
        var found = await resolve.Run(code, stop);
        switch (found)
        {
            case Resolved.Unit unit:
                return RedirectToPage("/Fleet/Passport", new { tag = unit.Tag });
            case Resolved.Repair repair:
                return RedirectToPage("/Counter/Repair", new { code = repair.Code });
            case Resolved.Number or Resolved.Unknown when bench is not null && !string.IsNullOrWhiteSpace(code):
                return RedirectToPage("/Bench/Session", new { code = bench, number = code.Trim() });
            case Resolved.Item item:
                return RedirectToPage("/Stores/Item", new { code = item.Code });
            case Resolved.Number number:
                return RedirectToPage("/Stores/Number", new { number = number.Text });
            case Resolved.Bin bin:
                return RedirectToPage("/Stores/Bin", new { code = bin.Code });
            case Resolved.Unknown unknown:
                (Code, Nearest) = (unknown.Code, unknown.Nearest);
                Response.StatusCode = StatusCodes.Status404NotFound;
                return Page();
            default:
                throw new InvalidOperationException($"the scan line knows no way to {found}");
        }
    }
}
