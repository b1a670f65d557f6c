using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.People;

namespace Zenrik.Web.Rooms.SignIn;

[AllowAnonymous]
public sealed class LeaveModel(SignInManager<Technician> signIn, SignInSessions sessions) : PageModel
{
    public IActionResult OnGet() => RedirectToPage("/SignIn/Index");

    public async Task<IActionResult> OnPost(CancellationToken stop)
    {
        // The session itself ends: a copy of the cookie is worth nothing any more.
        if (User.Session() is { } session)
        {
            _ = await sessions.End(session, User.Actor(), stop);
        }

        if (User.Under() is not null)
        {
            // The device's own session goes on.
            return LocalRedirect("/");
        }

        await signIn.SignOutAsync();
        return RedirectToPage("/SignIn/Index");
    }
}
