using Microsoft.AspNetCore.Mvc.RazorPages;
using Zenrik.Workshop.Repairs;

namespace Zenrik.Web.Rooms.Counter;

public sealed class HistoryModel(ListHistory history) : PageModel
{
    public IReadOnlyList<Repair> Repairs { get; private set; } = [];

    public async Task OnGet(CancellationToken stop) => Repairs = await history.Run(stop);
}
