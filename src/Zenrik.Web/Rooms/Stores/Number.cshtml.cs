using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zenrik.Workshop.Stock;

namespace Zenrik.Web.Rooms.Stores;

public sealed class NumberModel(ViewStock stock) : PageModel
{
    public string Number { get; private set; } = "";

    public string Name { get; private set; } = "";

    public IReadOnlyList<Item> Items { get; private set; } = [];

    public async Task<IActionResult> OnGet(string number, CancellationToken stop)
    {
        if (!(await stock.OfNumber(number, stop)).Try(out var found, out _))
        {
            return RedirectToPage("/Scan", new { code = number });
        }

        (Number, Name, Items) = found;
        return Page();
    }
}
