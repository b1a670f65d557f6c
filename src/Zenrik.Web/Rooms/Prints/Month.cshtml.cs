using System.Globalization;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zenrik.Core.Importing;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Exporting;

namespace Zenrik.Web.Rooms.Prints;

/// <summary>A month on two pages, to be handed on.</summary>
[MayBeOld]
public sealed class MonthModel(MonthReport report, TimeProvider clock) : PageModel
{
    public MonthView View { get; private set; } = null!;

    /// <summary>The day it is printed.</summary>
    public string Today => Hosting.Show.Date(clock.GetUtcNow());

    /// <summary>True while the month is not over.</summary>
    public bool IsUnderway => View.First.AddMonths(1) > clock.Today();

    /// <param name="month">"2026-11"; what is none is the last whole month.</param>
    public async Task OnGet(string? month, CancellationToken stop)
    {
        var wanted =
            DateOnly.TryParseExact(
                $"{month}-01",
                "yyyy-MM-dd",
                CultureInfo.InvariantCulture,
                DateTimeStyles.None,
                out var day
            ) && Days.InReach(day)
                ? day
                : clock.Today().AddMonths(-1);
        View = await report.Run(wanted, stop);
    }
}
