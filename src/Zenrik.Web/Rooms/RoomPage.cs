using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zenrik.Core;

namespace Zenrik.Web.Rooms;

/// <summary>What the pages of every room share: turning an outcome into an answer.</summary>
public abstract class RoomPage : PageModel
{
    /// <summary>Says a refusal on the page that follows.</summary>
    protected RedirectToPageResult Refused(Refusal refusal, string page, object? route = null)
    {
        TempData["Notice"] = refusal.Message;
        return RedirectToPage(page, route);
    }

    /// <summary>Says what was done on the page that follows.</summary>
    protected RedirectToPageResult Did(string sentence, string page, object? route = null)
    {
        TempData["Done"] = sentence;
        return RedirectToPage(page, route);
    }

    /// <summary>Does something and says on the page that follows what came of it.</summary>
    protected async Task<IActionResult> Say(Task<Outcome<string>> work, string page, object? route = null) =>
        (await work).Try(out var said, out var refusal) ? Did(said, page, route) : Refused(refusal, page, route);
}
