using Microsoft.AspNetCore.Mvc.RazorPages;
using Zenrik.Workshop.Stock;

namespace Zenrik.Web.Rooms.Stores;

public sealed class IndexModel(ViewStock stock) : PageModel
{
    public IReadOnlyList<StockLine> Lines { get; private set; } = [];

    public async Task OnGet(CancellationToken stop) => Lines = await stock.Run(stop);
}
