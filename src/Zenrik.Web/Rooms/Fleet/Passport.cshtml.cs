using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zenrik.Core.ServiceMaps;
using Zenrik.Workshop.Fit;
using Zenrik.Workshop.Fleet;

namespace Zenrik.Web.Rooms.Fleet;

public sealed class PassportModel(PassportOf passports, FitOf fits) : PageModel
{
    public Passport Passport { get; private set; } = null!;

    /// <summary>The unit with its covers off; null when its model has no map.</summary>
    public MachineView? Drawing { get; private set; }

    public IReadOnlyList<Upgrade> Upgrades { get; private set; } = [];

    public async Task<IActionResult> OnGet(string tag, CancellationToken stop)
    {
        if (!(await passports.Run(tag, stop)).Try(out var passport, out _))
        {
            return RedirectToPage("/Scan", new { code = tag });
        }

        Passport = passport;
        Drawing = passport is { Model: { } model, Fitted: { } fitted } ? MachineView.Opened(model, fitted) : null;
        Upgrades = await fits.Upgrades(passport, stop);
        return Page();
    }
}
