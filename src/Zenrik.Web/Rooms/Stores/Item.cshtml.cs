using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zenrik.Workshop.Stock;

namespace Zenrik.Web.Rooms.Stores;

public sealed class ItemModel(ViewStock stock) : PageModel
{
    public Item Item { get; private set; } = null!;

    public IReadOnlyList<MovementLine> Movements { get; private set; } = [];

    public async Task<IActionResult> OnGet(string code, CancellationToken stop)
    {
        if (!(await stock.Item(code.Trim().ToUpperInvariant(), stop)).Try(out var found, out _))
        {
            return RedirectToPage("/Scan", new { code });
        }

        (Item, Movements) = found;
        return Page();
    }
}
