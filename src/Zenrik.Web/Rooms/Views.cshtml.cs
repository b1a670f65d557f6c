using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.People;

namespace Zenrik.Web.Rooms;

/// <summary>Keeps and drops views of lists; there is nothing to look at.</summary>
public sealed class ViewsModel(SavedViews views) : RoomPage
{
    public IActionResult OnGet() => LocalRedirect("/");

    public async Task<IActionResult> OnPost(string? list, string? view, string? query, CancellationToken stop)
    {
        var kept = await views.Keep(list ?? "", view, query, User.Actor(), stop);
        return Back(kept, list, kept.Refusal is null ? query : null);
    }

    public async Task<IActionResult> OnPostDrop(string? list, Guid id, CancellationToken stop) =>
        Back(await views.Drop(id, User.Actor(), stop), list);

    private LocalRedirectResult Back(Outcome<string> outcome, string? list, string? query = null)
    {
        TempData[outcome.Refusal is null ? "Done" : "Notice"] = outcome.Refusal?.Message ?? outcome.Value;
        return LocalRedirect(SavedViews.Lists.Contains(list) ? $"{list}{query}" : "/");
    }
}
