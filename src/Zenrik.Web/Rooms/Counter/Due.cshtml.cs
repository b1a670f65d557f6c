using Microsoft.AspNetCore.Mvc;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Exporting;
using Zenrik.Workshop.People;

namespace Zenrik.Web.Rooms.Counter;

/// <summary>What falls due, what is overdue first; also as a calendar.</summary>
public sealed class DueModel(DueDays due, ApiTokens tokens, TimeProvider clock) : RoomPage
{
    public DateOnly Today => clock.Today();

    public IReadOnlyList<DueDay> Days { get; private set; } = [];

    public DueKind? Only { get; private set; }

    public async Task OnGet(DueKind? only, CancellationToken stop)
    {
        Only = only;
        Days = await due.Run(only, stop);
    }

    /// <summary>The address a calendar program reads; shown once.</summary>
    public async Task<IActionResult> OnPostFeed(CancellationToken stop)
    {
        if (!(await tokens.MakeForCalendar(User.Actor(), stop)).Try(out var token, out var refusal))
        {
            return Refused(refusal, "/Counter/Due");
        }

        TempData["Feed"] = $"{Request.Scheme}://{Request.Host}/calendar/{token}/all.ics";
        return RedirectToPage("/Counter/Due");
    }
}
