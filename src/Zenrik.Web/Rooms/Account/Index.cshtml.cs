using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.People;

namespace Zenrik.Web.Rooms.Account;

/// <summary>One's own password, sessions, badge and keys.</summary>
public sealed class IndexModel(
    KeepPeople people,
    ApiTokens tokens,
    SignInSessions sessions,
    Badges badges,
    SignInManager<Technician> signIn
) : RoomPage
{
    private const string Here = "/Account/Index";

    public IReadOnlyList<ApiToken> Tokens { get; private set; } = [];

    /// <summary>True while nothing else may be done.</summary>
    public bool MustChange => User.MustChangePassword();

    /// <summary>Where else somebody is signed in, and here.</summary>
    public IReadOnlyList<OpenSession> SignedIn { get; private set; } = [];

    public bool HasBadge { get; private set; }

    public async Task OnGet(CancellationToken stop)
    {
        var me = User.Actor();
        Tokens = await tokens.Of(me, stop);
        SignedIn = await sessions.Of(me.Id, stop);
        HasBadge = await badges.Has(me, stop);
    }

    public Task<IActionResult> OnPostEnd(Guid id, CancellationToken stop) =>
        Say(sessions.End(id, User.Actor(), stop), Here);

    public Task<IActionResult> OnPostEndOthers(CancellationToken stop) =>
        Say(sessions.EndOthers(User.Session() ?? Guid.Empty, User.Actor(), stop), Here);

    public async Task<IActionResult> OnPostBadge(string? pin, CancellationToken stop)
    {
        if (!(await badges.Make(pin, User.Actor(), stop)).Try(out var code, out var refusal))
        {
            return Refused(refusal, Here);
        }

        TempData["BadgeCode"] = code;
        return RedirectToPage(Here);
    }

    public Task<IActionResult> OnPostNoBadge(CancellationToken stop) => Say(badges.Drop(User.Actor(), stop), Here);

    public async Task<IActionResult> OnPostPassword(
        string? current,
        string? wanted,
        string? again,
        CancellationToken stop
    )
    {
        if (wanted != again)
        {
            return Refused(
                new Core.Refusal(
                    Core.RefusalReason.Invalid,
                    "The new password was not typed alike twice. Nothing was changed."
                ),
                Here
            );
        }

        if (!(await people.ChangeOwn(User.Actor(), current, wanted, stop)).Try(out var done, out var refusal))
        {
            return Refused(refusal, Here);
        }

        await signIn.RefreshSignInAsync((await signIn.UserManager.GetUserAsync(User))!);
        return Did(done, Here);
    }

    /// <summary>Light, dark, or as the system wishes.</summary>
    public IActionResult OnPostLook(string? look)
    {
        Looks.Choose(HttpContext, look);
        return RedirectToPage(Here);
    }

    public async Task<IActionResult> OnPostToken(string? name, string[]? scopes, int? days, CancellationToken stop)
    {
        if (
            !(await tokens.Make(name, User.Actor(), scopes ?? [], days ?? ApiTokens.MostDays, stop)).Try(
                out var token,
                out var refusal
            )
        )
        {
            return Refused(refusal, Here);
        }

        TempData["Token"] = token;
        return RedirectToPage(Here);
    }

    public async Task<IActionResult> OnPostRevoke(Guid id, CancellationToken stop) =>
        (await tokens.Revoke(id, User.Actor(), stop)).Try(out var name, out var refusal)
            ? Did($"The token \"{name}\" opens nothing any more.", Here)
            : Refused(refusal, Here);
}
