using Microsoft.AspNetCore.Mvc.RazorPages;
using Zenrik.Workshop.Repairs;

namespace Zenrik.Web.Rooms.Bench;

public sealed class IndexModel(ViewCounter counter) : PageModel
{
    public CounterView View { get; private set; } = null!;

    public async Task OnGet(CancellationToken stop) => View = await counter.Run(stop);
}
