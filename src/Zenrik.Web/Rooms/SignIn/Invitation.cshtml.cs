using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zenrik.Core;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.People;

namespace Zenrik.Web.Rooms.SignIn;

/// <summary>Where somebody new chooses a password, once.</summary>
[AllowAnonymous]
public sealed class InvitationModel(KeepPeople people, SignInManager<Technician> signIn) : PageModel
{
    private const string NoMore =
        "It has been used, or is too old. If you have chosen a password, sign in with it; else ask a lead for another one.";

    public Guid Who { get; private set; }

    public string? Token { get; private set; }

    /// <summary>Null when the invitation works no more.</summary>
    public string? Name { get; private set; }

    public string? SignsInAs { get; private set; }

    public string? Failure { get; private set; }

    public async Task OnGet(Guid who, string? token)
    {
        (Who, Token) = (who, token);
        await Ask();
    }

    public async Task<IActionResult> OnPost(
        Guid who,
        string? token,
        string? wanted,
        string? again,
        CancellationToken stop
    )
    {
        (Who, Token) = (who, token);
        if (wanted != again)
        {
            return await Wrong(
                new Refusal(RefusalReason.Invalid, "The password was not typed alike twice. Type it again.")
            );
        }

        if (!(await people.Accept(who, token, wanted, stop)).Try(out var person, out var refusal))
        {
            return await Wrong(refusal);
        }

        await signIn.SignInAsync(person, isPersistent: true);
        return LocalRedirect("/");
    }

    private async Task<IActionResult> Wrong(Refusal refusal)
    {
        await Ask();
        Failure ??= refusal.Message;
        Response.StatusCode = Statuses.OnPage(refusal);
        return Page();
    }

    private async Task Ask()
    {
        var person = await people.Invited(Who, Token);
        (Name, SignsInAs, Failure) = (person?.Name, person?.UserName, person is null ? NoMore : null);
        Response.Headers["Referrer-Policy"] = "no-referrer";
        Response.Headers.CacheControl = "no-store";
    }
}
