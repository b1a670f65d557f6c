using Microsoft.AspNetCore.Mvc.RazorPages;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Economics;

namespace Zenrik.Web.Rooms.Outlook;

/// <summary>What the next year will cost, and what the last has.</summary>
[MayBeOld]
public sealed class MoneyModel(YearAhead year) : PageModel
{
    public YearView View { get; private set; } = null!;

    public async Task OnGet(CancellationToken stop) => View = await year.Run(stop);
}
