using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.People;

namespace Zenrik.Web.Rooms.SignIn;

/// <summary>The way to the organisation's identity provider and back; there is nothing to look at.</summary>
[AllowAnonymous]
public sealed class OutsideModel(IServiceProvider services, OutsidePeople people, SignInManager<Technician> signIn)
    : RoomPage
{
    /// <summary>Goes there.</summary>
    public async Task<IActionResult> OnGet(string? returnUrl) =>
        services.GetService<OutsideSignIn>() is null
            ? NotFound()
            : await OutsideSignIn.Go(
                HttpContext,
                Url.Page("/SignIn/Outside", "Back", new { returnUrl = Url.IsLocalUrl(returnUrl) ? returnUrl : "/" })!
            );

    /// <summary>Comes back.</summary>
    public async Task<IActionResult> OnGetBack(string? returnUrl, CancellationToken stop)
    {
        if (services.GetService<OutsideSignIn>() is not { } outside)
        {
            return NotFound();
        }

        var came = await HttpContext.AuthenticateAsync(IdentityConstants.ExternalScheme);
        await HttpContext.SignOutAsync(IdentityConstants.ExternalScheme);
        if (outside.PersonOf(came.Principal) is not { } person)
        {
            return LocalRedirect("/sign-in?outside=failed");
        }

        if (!(await people.Meet(person, stop)).Try(out var known, out var refusal))
        {
            TempData["Notice"] = refusal.Message;
            return LocalRedirect("/sign-in");
        }

        await signIn.SignInAsync(known, isPersistent: true);
        return LocalRedirect(Url.IsLocalUrl(returnUrl) ? returnUrl : "/");
    }
}
