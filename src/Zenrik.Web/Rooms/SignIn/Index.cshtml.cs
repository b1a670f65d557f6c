using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.People;
using Zenrik.Workshop.Sourcing;

namespace Zenrik.Web.Rooms.SignIn;

[AllowAnonymous]
public sealed class IndexModel(
    SignInManager<Technician> signIn,
    WrongTries tries,
    SetFigures figures,
    IServiceProvider services,
    TimeProvider clock
) : PageModel
{
    /// <summary>What the organisation's identity provider is called; null when there is none.</summary>
    public string? Outside => services.GetService<OutsideSignIn>()?.Title;

    /// <summary>Longest name that is looked up; nobody's is longer.</summary>
    private const int MaxName = 256;

    public string? ReturnUrl { get; private set; }

    public string? Name { get; private set; }

    public string? Failure { get; private set; }

    /// <summary>What the house says to everybody who opens this page.</summary>
    public string? Notice { get; private set; }

    /// <summary>Whose workshop it is; null while nobody has said.</summary>
    public string? Organisation { get; private set; }

    /// <param name="outside">What became of a try with the identity provider: "away", "failed".</param>
    public async Task OnGet(string? returnUrl, string? outside)
    {
        ReturnUrl = returnUrl;
        Failure = Outside is null
            ? null
            : outside switch
            {
                "away" =>
                    "The organisation's identity provider does not answer. Try again in a moment, or sign in with a password of this workshop.",
                "failed" => "The identity provider did not let you in, or it took too long. Try again.",
                _ => null,
            };
        await Say(HttpContext.RequestAborted);
    }

    private async Task Say(CancellationToken stop)
    {
        var house = await figures.Read(stop);
        (Notice, Organisation) = (house.Notice, house.Organisation);
    }

    public async Task<IActionResult> OnPost(string? name, string? password, string? returnUrl)
    {
        var began = clock.GetTimestamp();
        var called = name?.Trim() ?? "";
        var address = HttpContext.Connection.RemoteIpAddress?.ToString() ?? "";
        // A name longer than anybody's is cut, and belongs to nobody.
        called = called.Length > MaxName ? called[..MaxName] : called;
        var stop = HttpContext.RequestAborted;
        var (known, delay) = await tries.Try(address, called, () => Knows(called, password ?? ""), stop);
        if (known)
        {
            return LocalRedirect(Url.IsLocalUrl(returnUrl) ? returnUrl : "/");
        }

        (Name, ReturnUrl) = (name, returnUrl);
        // One sentence for all of it: whoever guesses learns nothing of who is known.
        Failure =
            $"Name and password do not belong together, or this was tried too often from here: after several wrong tries nothing is looked at for {WrongTries.Window.TotalMinutes} minutes.";
        var left = delay - clock.GetElapsedTime(began);
        if (left > TimeSpan.Zero)
        {
            await Task.Delay(left, clock, stop);
        }

        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        await Say(stop);
        return Page();
    }

    /// <summary>
    /// Signs in whoever it is. An unknown name, and one that is only invited, costs a password's hash as a known one does, so that how long the answer
    /// takes says nothing about who is known.
    /// </summary>
    private async Task<bool> Knows(string name, string password)
    {
        if (await signIn.UserManager.FindByNameAsync(name) is { PasswordHash: not null } person)
        {
            return (await signIn.PasswordSignInAsync(person, password, true, lockoutOnFailure: false)).Succeeded;
        }

        signIn.UserManager.PasswordHasher.HashPassword(new Technician { Name = "nobody" }, password);
        return false;
    }
}
