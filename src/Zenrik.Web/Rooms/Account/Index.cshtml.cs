using Microsoft.AspNetCore.Authentication;
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
    OutsidePeople outside,
    IServiceProvider services,
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

    /// <summary>What the organisation's identity provider is called; null: there is none.</summary>
    public string? Provider => services.GetService<OutsideSignIn>()?.Title;

    /// <summary>True when one can sign in by it too.</summary>
    public bool IsJoined { get; private set; }

    public async Task OnGet(CancellationToken stop)
    {
        var me = User.Actor();
        Tokens = await tokens.Of(me, stop);
        SignedIn = await sessions.Of(me.Id, stop);
        HasBadge = await badges.Has(me, stop);
        IsJoined = Provider is not null && await outside.IsJoined(me, stop);
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

    /// <summary>Goes to the provider to join one's account there with this one.</summary>
    public async Task<IActionResult> OnPostJoin() =>
        Provider is null
            ? NotFound()
            : await OutsideSignIn.Go(
                HttpContext,
                Url.Page(Here, "Joined")!,
                new Dictionary<string, string?> { [Joins] = Joining }
            );

    /// <summary>Comes back from there.</summary>
    public async Task<IActionResult> OnGetJoined(CancellationToken stop)
    {
        if (services.GetService<OutsideSignIn>() is not { } provider)
        {
            return NotFound();
        }

        var came = await HttpContext.AuthenticateAsync(IdentityConstants.ExternalScheme);
        await HttpContext.SignOutAsync(IdentityConstants.ExternalScheme);
        // What another person began, or another session, is not this one's to finish.
        return
            came.Properties?.Items.TryGetValue(Joins, out var begun) == true
            && begun == Joining
            && provider.PersonOf(came.Principal) is { } person
            ? await Say(outside.Join(person, User.Actor(), stop), Here)
            : Refused(
                new Core.Refusal(
                    Core.RefusalReason.Conflict,
                    "That did not come back to where it began. Nothing was joined."
                ),
                Here
            );
    }

    private const string Joins = "zenrik.joins";

    private string Joining => $"{User.Actor().Id} {User.Session()}";

    public Task<IActionResult> OnPostPart(CancellationToken stop) => Say(outside.Part(User.Actor(), stop), Here);

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
