using System.Globalization;
using System.Security.Cryptography;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.People;

namespace Zenrik.Workshop.People;

/// <summary>Somebody who may sign in, as a lead sees them.</summary>
/// <param name="Tokens">How many of their tokens work.</param>
public sealed record KnownPerson(
    Guid Id,
    string SignIn,
    string Name,
    string Role,
    DateTimeOffset? DisabledAt,
    bool MustChange,
    int Tokens
);

/// <summary>A first password, shown once; whoever gets it must choose their own.</summary>
public sealed record FirstPassword(string Name, string SignIn, string Password);

/// <summary>
/// Who may sign in, and as what. A changed role, a new password or a disabled person ends their sessions within a minute;
/// the last two end their tokens at once.
/// </summary>
public sealed class KeepPeople(WorkshopDb db, UserManager<Technician> people, ApiTokens tokens, TimeProvider clock)
{
    /// <summary>Changes to who leads wait for each other, so that one lead is always left.</summary>
    private const long LockKey = 5218;

    private const int MostPeople = 2000;

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
                db.ApiTokens.Count(t => t.OwnerId == p.Id && t.RevokedAt == null && t.ExpiresAt > now)
            )
        ).ToListAsync(stop);
    }

    /// <summary>Lets somebody new in.</summary>
    public async Task<Outcome<FirstPassword>> Add(
        string? signIn,
        string? name,
        string? role,
        Actor by,
        CancellationToken stop = default
    )
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

        return await db.Write(by, login.Text, clock.GetUtcNow(), Work, stop);

        async Task<Outcome<FirstPassword>> Work()
        {
            var person = new Technician
            {
                UserName = login.Text,
                Name = called.Text,
                MustChangePassword = true,
            };
            var password = Fresh();
            var made = await people.CreateAsync(person, password);
            if (!made.Succeeded)
            {
                return made.Errors.Any(e => e.Code == nameof(IdentityErrorDescriber.DuplicateUserName))
                    ? new Refusal(RefusalReason.Conflict, $"Somebody signs in as {login} already. Choose another name.")
                    : new Refusal(RefusalReason.Invalid, made.Errors.First().Description);
            }

            await people.AddToRoleAsync(person, role!);
            return new FirstPassword(person.Name, login.Text, password);
        }
    }

    /// <summary>Gives somebody another role.</summary>
    public Task<Outcome<string>> SetRole(Guid id, string? role, Actor by, CancellationToken stop = default) =>
        Roles.All.Contains(role)
            ? Change(
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
                    return $"{person.Name} is a {role} now; it shows within a minute.";
                },
                by,
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
                    ? $"{person.Name} does not get in any more: signed out within a minute, every token revoked."
                    : $"{person.Name} may sign in again.";
            },
            by,
            stop
        );

    /// <summary>Gives somebody a password for once, as when theirs is forgotten.</summary>
    public async Task<Outcome<FirstPassword>> ResetPassword(Guid id, Actor by, CancellationToken stop = default)
    {
        var password = Fresh();
        string? signIn = null;
        var done = await Change(
            id,
            async person =>
            {
                person.MustChangePassword = true;
                person.PasswordHash = people.PasswordHasher.HashPassword(person, password);
                await people.UpdateSecurityStampAsync(person);
                await tokens.RevokeAll(person.Id, stop);
                signIn = person.UserName!;
                return person.Name;
            },
            by,
            stop
        );
        return done.Try(out var name, out var refused) ? new FirstPassword(name, signIn!, password) : refused;
    }

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
                    $"{person.Name} is signed out everywhere within a minute; {(ended == 1 ? "1 token is" : $"{ended} tokens are")} revoked."
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

            return "Your password is changed. Everywhere else you are signed out within a minute.";
        }
    }

    private Task<Outcome<string>> Change(
        Guid id,
        Func<Technician, Task<string>> change,
        Actor by,
        CancellationToken stop
    )
    {
        return db.Write(by, $"{id}", clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            await db.Database.ExecuteSqlAsync($"SELECT pg_advisory_xact_lock({LockKey})", stop);
            if (await people.FindByIdAsync(id.ToString()) is not { } person)
            {
                return new Refusal(RefusalReason.NotFound, "There is no such person.");
            }

            var said = await change(person);
            if (!(await List(stop)).Any(p => p.Role == Roles.Lead && p.DisabledAt is null))
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"{person.Name} is the only lead. Make somebody else a lead first."
                );
            }

            return said;
        }
    }

    /// <summary>80 random bits in four groups that can be read aloud.</summary>
    public static string Fresh()
    {
        const string Letters = "abcdefghjkmnpqrstuvwxyz23456789";
        return string.Join('-', Enumerable.Range(0, 4).Select(_ => RandomNumberGenerator.GetString(Letters, 4)));
    }

    private static Refusal NoRole() => new(RefusalReason.Invalid, $"Choose a role: {string.Join(", ", Roles.All)}.");
}
