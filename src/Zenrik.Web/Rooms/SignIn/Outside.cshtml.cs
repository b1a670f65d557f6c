using System.Security.Claims;
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
    public async Task<IActionResult> OnGet(string? returnUrl)
    {
        if (services.GetService<OutsideSignIn>() is null)
        {
            return NotFound();
        }

        var back = Url.Page("/SignIn/Outside", "Back", new { returnUrl = Url.IsLocalUrl(returnUrl) ? returnUrl : "/" });
        try
        {
            await HttpContext.ChallengeAsync(OutsideSignIn.Scheme, new AuthenticationProperties { RedirectUri = back });
            return new EmptyResult();
        }
        catch (Exception e) when (e is InvalidOperationException or HttpRequestException or IOException)
        {
            return LocalRedirect("/sign-in?outside=away");
        }
    }

    /// <summary>Comes back.</summary>
    public async Task<IActionResult> OnGetBack(string? returnUrl, CancellationToken stop)
    {
        if (services.GetService<OutsideSignIn>() is not { } outside)
        {
            return NotFound();
        }

        var came = await HttpContext.AuthenticateAsync(IdentityConstants.ExternalScheme);
        await HttpContext.SignOutAsync(IdentityConstants.ExternalScheme);
        if (came.Principal is not { } who || who.FindFirstValue("sub") is not { } subject)
        {
            return LocalRedirect("/sign-in?outside=failed");
        }

        var person = new OutsidePerson(
            who.FindFirstValue("iss") ?? outside.Authority.ToString(),
            subject,
            who.FindFirstValue("preferred_username") ?? who.FindFirstValue("email"),
            who.FindFirstValue("name"),
            outside.RoleOf(who)
        );
        if (!(await people.Meet(person, stop)).Try(out var known, out var refusal))
        {
            TempData["Notice"] = refusal.Message;
            return LocalRedirect("/sign-in");
        }

        await signIn.SignInAsync(known, isPersistent: true);
        return LocalRedirect(Url.IsLocalUrl(returnUrl) ? returnUrl : "/");
    }
}
