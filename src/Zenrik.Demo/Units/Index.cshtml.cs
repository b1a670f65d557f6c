using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Zenrik.Workshop.Fleet;

namespace Zenrik.Demo.Units;

/// <summary>Leads to a machine by its tag, and shows the parcels under way.</summary>
public sealed class IndexModel(PassportOf passports, WorkshopDb db) : PageModel
{
    public string? Tag { get; private set; }

    /// <summary>What was asked for and nobody carries.</summary>
    public string? Unknown { get; private set; }

    public IReadOnlyList<PartOrder> Parcels { get; private set; } = [];

    public async Task<IActionResult> OnGet(string? tag, CancellationToken stop)
    {
        Parcels = await db
            .PartOrders.AsNoTracking()
            .Include(o => o.Supplier)
            .Where(o => o.State == OrderState.Ordered)
            .OrderBy(o => o.Expected)
            .ToListAsync(stop);
        if (string.IsNullOrWhiteSpace(tag))
        {
            return Page();
        }

        Tag = tag.Trim();
        if ((await passports.Run(Tag, stop)).Try(out var passport, out _))
        {
            return RedirectToPage("/Unit", new { tag = passport.Unit.Tag });
        }

        Unknown = Tag;
        return Page();
    }
}
