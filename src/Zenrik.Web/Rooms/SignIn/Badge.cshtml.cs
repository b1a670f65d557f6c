using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.People;

namespace Zenrik.Web.Rooms.SignIn;

/// <summary>Where somebody takes over a device for a while: their badge has been scanned, their PIN is asked for.</summary>
public sealed class BadgeModel(Badges badges, SignInManager<Technician> signIn, WrongTries tries) : RoomPage
{
    public string? Code { get; private set; }

    public void OnGet() => Code = TempData["Badge"] as string;

    public async Task<IActionResult> OnPost(string? badge, string? pin, CancellationToken stop)
    {
        Technician? whose = null;
        var address = HttpContext.Connection.RemoteIpAddress?.ToString() ?? "";
        var (known, delay) = await tries.Try(
            address,
            $"badge {badge?.Trim()}",
            async () => (whose = await badges.Whose(badge, pin, stop)) is not null,
            stop
        );
        if (!known || User.Session() is not { } session)
        {
            await Task.Delay(delay, stop);
            return Refused(
                new Refusal(
                    RefusalReason.Invalid,
                    "Badge and PIN do not belong together, or this was tried too often from here. Scan the badge again."
                ),
                "/SignIn/Badge"
            );
        }

        if (whose!.Id == User.Actor().Id)
        {
            return Did("You are signed in here already.", "/Counter/Index");
        }

        await signIn.SignInByBadge(whose, User.Under() ?? session);
        return Did(
            FormattableString.Invariant(
                $"You work here as {whose.Name} for {SignInSessions.ByBadge.TotalMinutes} minutes, or until you sign out."
            ),
            "/Counter/Index"
        );
    }
}
