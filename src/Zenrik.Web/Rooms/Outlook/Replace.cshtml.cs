using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zenrik.Web.Drawing;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Economics;

namespace Zenrik.Web.Rooms.Outlook;

/// <summary>What of a model is still worth exchanging.</summary>
[MayBeOld]
public sealed class ReplaceModel(ViewFrontier frontier) : PageModel
{
    public IReadOnlyList<(string Code, string Name, int Units)> Models { get; private set; } = [];

    /// <summary>Null where no unit is in use.</summary>
    public FrontierView? View { get; private set; }

    public FrontierChart? Chart => View is { Parts.Count: > 0 } view ? FrontierChart.Of(view) : null;

    /// <param name="model">Its code; without one that with most units.</param>
    public async Task<IActionResult> OnGet(string? model, CancellationToken stop)
    {
        Models = await frontier.Models(stop);
        if ((model ?? Models.Select(m => m.Code).FirstOrDefault()) is not { } code)
        {
            return Page();
        }

        View = await frontier.Run(code, stop);
        return View is null ? NotFound() : Page();
    }
}
