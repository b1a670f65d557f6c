using System.Globalization;
using System.Security.Cryptography;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.People;

namespace Zenrik.Workshop.People;

/// <summary>Somebody who may sign in, as a lead sees them.</summary>
/// <param name="Invited">True while they have no password: their invitation is to be handed over.</param>
/// <param name="Tokens">How many of their tokens work.</param>
public sealed record KnownPerson(
    Guid Id,
    string SignIn,
    string Name,
    string Role,
    DateTimeOffset? DisabledAt,
    bool MustChange,
    bool Invited,
    int Tokens
);

/// <summary>What somebody chooses their password by, once; it works for <see cref="KeepPeople.InvitationLasts"/>.</summary>
/// <param name="Token">Proves that a lead has made it.</param>
public sealed record Invitation(Guid Id, string Name, string SignIn, string Role, string Token);

/// <summary>
/// Who may sign in, and as what. A changed role, a new password or a disabled person ends their sessions at once; the
/// last two end their tokens too.
/// </summary>
public sealed class KeepPeople(WorkshopDb db, UserManager<Technician> people, ApiTokens tokens, TimeProvider clock)
{
    private const int MostPeople = 2000;

    /// <summary>How long an invitation works.</summary>
    public static TimeSpan InvitationLasts { get; } = TimeSpan.FromDays(3);

    internal const string InvitationProvider = "invitation";

    private const string ForPassword = "choose-password";

    /// <summary>Everybody, those who may sign in first.</summary>
    public async Task<IReadOnlyList<KnownPerson>> List(CancellationToken stop = default)
    {
        var now = clock.GetUtcNow();
        return await (
            from p in db.Users.AsNoTracking()
            join ur in db.UserRoles on p.Id equals ur.UserId
            join r in db.Roles on ur.RoleId equals r.Id
            orderby p.DisabledAt != null, p.Name
            select new KnownPerson(
                p.Id,
                p.UserName!,
                p.Name,
                r.Name!,
                p.DisabledAt,
                p.MustChangePassword,
                p.PasswordHash == null && !db.UserLogins.Any(l => l.UserId == p.Id),
                db.ApiTokens.Count(t => t.OwnerId == p.Id && t.RevokedAt == null && t.ExpiresAt > now)
            )
        ).ToListAsync(stop);
    }

    /// <summary>Lets somebody new in: who they are is known from now on, and their invitation lets them choose a password.</summary>
    /// <returns>Whom.</returns>
    public async Task<Outcome<Guid>> Add(
        string? signIn,
        string? name,
        string? role,
        Actor by,
        CancellationToken stop = default
    ) => await db.Write(by, signIn ?? "", clock.GetUtcNow(), () => AddIn(signIn, name, role, stop), stop);

    /// <summary>The same within the caller's write.</summary>
    internal async Task<Outcome<Guid>> AddIn(string? signIn, string? name, string? role, CancellationToken stop)
    {
        if (
            !SignInName.Read(signIn).Try(out var login, out var wrong)
            || !PersonName.Read(name).Try(out var called, out wrong)
        )
        {
            return wrong;
        }

        if (!Roles.All.Contains(role))
        {
            return NoRole();
        }

        if (await db.Users.CountAsync(stop) >= MostPeople)
        {
            return new Refusal(RefusalReason.Conflict, $"There are {MostPeople} people already.");
        }

        var person = new Technician { UserName = login.Text, Name = called.Text };
        var made = await people.CreateAsync(person);
        if (!made.Succeeded)
        {
            return made.Errors.Any(e => e.Code == nameof(IdentityErrorDescriber.DuplicateUserName))
                ? new Refusal(RefusalReason.Conflict, $"Somebody signs in as {login} already. Choose another name.")
                : new Refusal(RefusalReason.Invalid, made.Errors.First().Description);
        }

        await people.AddToRoleAsync(person, role!);
        return person.Id;
    }

    /// <summary>The invitations of those who have no password yet, to be handed over. Making them changes nothing.</summary>
    /// <param name="only">One person's; null: everybody's.</param>
    public async Task<IReadOnlyList<Invitation>> Invitations(Guid? only = null, CancellationToken stop = default)
    {
        var invited = (await List(stop)).Where(p =>
            p.Invited && p.DisabledAt is null && (only is null || p.Id == only)
        );
        var made = new List<Invitation>();
        foreach (var known in invited)
        {
            var person = (await people.FindByIdAsync($"{known.Id}"))!;
            var token = await people.GenerateUserTokenAsync(person, InvitationProvider, ForPassword);
            made.Add(new Invitation(known.Id, known.Name, known.SignIn, known.Role, token));
        }

        return made;
    }

    /// <summary>Takes an invitation up: from now on that is their password, and the invitation works no more.</summary>
    public async Task<Outcome<Technician>> Accept(
        Guid id,
        string? token,
        string? password,
        CancellationToken stop = default
    )
    {
        if (await Invited(id, token) is not { } asked)
        {
            return Late();
        }

        var by = new Actor(asked.Id, asked.Name);
        return await db.Write(by, asked.UserName!, clock.GetUtcNow(), Work, stop);

        async Task<Outcome<Technician>> Work()
        {
            // Two who open the same invitation at once: the second finds it used.
            await db.LockPerson(id, stop);
            db.ChangeTracker.Clear();
            if (await Invited(id, token) is not { } person)
            {
                return Late();
            }

            var set = await people.AddPasswordAsync(person, password ?? "");
            return set.Succeeded ? person : new Refusal(RefusalReason.Invalid, set.Errors.First().Description);
        }

        static Refusal Late() =>
            new(
                RefusalReason.NotFound,
                $"This invitation has been used, or is older than {InvitationLasts.TotalDays:0} days. If you have chosen a password, sign in with it; else ask a lead for another invitation."
            );
    }

    /// <summary>Whom an invitation is for; null where it works no more.</summary>
    public async Task<Technician?> Invited(Guid id, string? token) =>
        await people.FindByIdAsync($"{id}") is { DisabledAt: null, PasswordHash: null } person
        && await people.VerifyUserTokenAsync(person, InvitationProvider, ForPassword, token ?? "")
            ? person
            : null;

    /// <summary>Who works at the bench, by name.</summary>
    public async Task<IReadOnlyList<Actor>> AtBench(CancellationToken stop = default) =>
        await BenchPeople.Select(p => new Actor(p.Id, p.Name)).ToListAsync(stop);

    internal IQueryable<Technician> BenchPeople =>
        from p in db.Users.AsNoTracking()
        join ur in db.UserRoles on p.Id equals ur.UserId
        join r in db.Roles on ur.RoleId equals r.Id
        where p.DisabledAt == null && Roles.AtBench.Contains(r.Name)
        orderby p.Name
        select p;

    /// <summary>Gives somebody another role.</summary>
    public Task<Outcome<string>> SetRole(Guid id, string? role, Actor by, CancellationToken stop = default) =>
        db.Write(by, $"{id}", clock.GetUtcNow(), () => SetRoleIn(id, role, stop), stop);

    /// <summary>The same within the caller's write.</summary>
    internal Task<Outcome<string>> SetRoleIn(Guid id, string? role, CancellationToken stop) =>
        Roles.All.Contains(role)
            ? ChangeIn(
                id,
                async person =>
                {
                    var had = await people.GetRolesAsync(person);
                    if (had is [var same] && same == role)
                    {
                        return $"{person.Name} is a {role} as before.";
                    }

                    await people.RemoveFromRolesAsync(person, had);
                    await people.AddToRoleAsync(person, role!);
                    await people.UpdateSecurityStampAsync(person);
                    return $"{person.Name} is a {role} now, and signs in again as such.";
                },
                stop
            )
            : Task.FromResult<Outcome<string>>(NoRole());

    /// <summary>Lets somebody in no more, or in again. What they did stays theirs.</summary>
    public Task<Outcome<string>> SetDisabled(Guid id, bool disabled, Actor by, CancellationToken stop = default) =>
        Change(
            id,
            async person =>
            {
                person.DisabledAt = disabled ? person.DisabledAt ?? clock.GetUtcNow() : null;
                await people.UpdateSecurityStampAsync(person);
                if (disabled)
                {
                    await tokens.RevokeAll(person.Id, stop);
                }

                return disabled
                    ? $"{person.Name} does not get in any more: signed out everywhere, every token revoked."
                    : $"{person.Name} may sign in again.";
            },
            by,
            stop
        );

    /// <summary>Takes somebody's password away, as when it is forgotten or known to others; a new invitation lets them choose one.</summary>
    public Task<Outcome<string>> ResetPassword(Guid id, Actor by, CancellationToken stop = default) =>
        Change(
            id,
            async person =>
            {
                person.MustChangePassword = false;
                person.PasswordHash = null;
                (person.BadgeHash, person.PinHash) = (null, null);
                await people.UpdateSecurityStampAsync(person);
                await tokens.RevokeAll(person.Id, stop);
                return $"{person.Name} is signed out everywhere and has no password. Hand over the new invitation.";
            },
            by,
            stop
        );

    /// <summary>Ends every session and every token of somebody, who may sign in again at once.</summary>
    public Task<Outcome<string>> EndEverything(Guid id, Actor by, CancellationToken stop = default) =>
        Change(
            id,
            async person =>
            {
                await people.UpdateSecurityStampAsync(person);
                var ended = await tokens.RevokeAll(person.Id, stop);
                return string.Create(
                    CultureInfo.InvariantCulture,
                    $"{person.Name} is signed out everywhere; {(ended == 1 ? "1 token is" : $"{ended} tokens are")} revoked."
                );
            },
            by,
            stop
        );

    /// <summary>Exchanges one's own password.</summary>
    public Task<Outcome<string>> ChangeOwn(Actor by, string? current, string? wanted, CancellationToken stop = default)
    {
        return db.Write(by, by.Name, clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (await people.FindByIdAsync(by.Id.ToString()) is not { } person)
            {
                return new Refusal(RefusalReason.NotFound, "You are not known here any more.");
            }

            if (current == wanted)
            {
                return new Refusal(RefusalReason.Invalid, "The new password is the old one. Choose another.");
            }

            person.MustChangePassword = false;
            var changed = await people.ChangePasswordAsync(person, current ?? "", wanted ?? "");
            if (!changed.Succeeded)
            {
                return new Refusal(
                    RefusalReason.Invalid,
                    changed.Errors.Any(e => e.Code == nameof(IdentityErrorDescriber.PasswordMismatch))
                        ? "The present password is not right. Nothing was changed."
                        : changed.Errors.First().Description
                );
            }

            return "Your password is changed. Everywhere else you are signed out.";
        }
    }

    private Task<Outcome<string>> Change(
        Guid id,
        Func<Technician, Task<string>> change,
        Actor by,
        CancellationToken stop,
        [System.Runtime.CompilerServices.CallerMemberName] string act = ""
    ) => db.Write(by, $"{id}", clock.GetUtcNow(), () => ChangeIn(id, change, stop), stop, act);

    private async Task<Outcome<string>> ChangeIn(Guid id, Func<Technician, Task<string>> change, CancellationToken stop)
    {
        await db.LockPeople(stop);
        if (await people.FindByIdAsync(id.ToString()) is not { } person)
        {
            return new Refusal(RefusalReason.NotFound, "There is no such person.");
        }

        var said = await change(person);
        return (await List(stop)).Any(p => p.Role == Roles.Lead && p.DisabledAt is null)
            ? said
            : new Refusal(RefusalReason.Conflict, $"{person.Name} is the only lead. Make somebody else a lead first.");
    }

    /// <summary>80 random bits in four groups that can be read aloud.</summary>
    public static string Fresh()
    {
        const string Letters = "abcdefghjkmnpqrstuvwxyz23456789";
        return string.Join('-', Enumerable.Range(0, 4).Select(_ => RandomNumberGenerator.GetString(Letters, 4)));
    }

    private static Refusal NoRole() => new(RefusalReason.Invalid, $"Choose a role: {string.Join(", ", Roles.All)}.");
}
