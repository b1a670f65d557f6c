using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zenrik.Workshop.Sourcing;

namespace Zenrik.Web.Rooms.Prints;

public sealed class OrderModel(ViewOrders orders, SetFigures figures) : PageModel
{
    public PartOrder Order { get; private set; } = null!;

    public string Text { get; private set; } = "";

    public async Task<IActionResult> OnGet(Guid id, CancellationToken stop)
    {
        if (!(await orders.One(id, stop)).Try(out var order, out _))
        {
            return NotFound();
        }

        Order = order;
        Text = Stores.OrderText.Of(order, (await figures.Read(stop)).Organisation);
        return Page();
    }
}
