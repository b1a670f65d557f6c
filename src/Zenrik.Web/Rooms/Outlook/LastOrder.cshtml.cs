using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Economics;

namespace Zenrik.Web.Rooms.Outlook;

/// <summary>How many of a part to buy when it can be bought for the last time.</summary>
[MayBeOld]
public sealed class LastOrderModel(PlanLastOrder last) : PageModel
{
    public LastOrder View { get; private set; } = null!;

    /// <summary>Of 100 cases; null: as far as a part pays.</summary>
    public int? Sure { get; private set; }

    public async Task<IActionResult> OnGet(string model, string slot, int? sure, CancellationToken stop)
    {
        Sure = sure is { } level && SparesModel.Levels.Contains(level) ? level : null;
        if (await last.Run(model, slot, Sure / 100.0, stop) is not { } view)
        {
            return NotFound();
        }

        View = view;
        return Page();
    }
}
