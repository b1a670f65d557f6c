using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.People;

namespace Zenrik.Workshop.People;

/// <summary>Somebody the organisation's identity provider has vouched for.</summary>
/// <param name="Issuer">Who vouches.</param>
/// <param name="Subject">What the provider knows them by, for good.</param>
/// <param name="SignIn">What they are to be called at sign-in; what cannot stand in such a name is left out.</param>
/// <param name="Role">What its groups make of them here; null: nothing.</param>
public sealed record OutsidePerson(string Issuer, string Subject, string? SignIn, string? Name, string? Role);

/// <summary>
/// People who sign in by the organisation's identity provider. Who comes for the first time is known from then on; their
/// role is what the provider says at each sign-in.
/// </summary>
public sealed class OutsidePeople(WorkshopDb db, UserManager<Technician> people, KeepPeople keep, TimeProvider clock)
{
    private const string Provider = "openid";

    /// <summary>Who they are here.</summary>
    public async Task<Outcome<Technician>> Meet(OutsidePerson outside, CancellationToken stop = default)
    {
        var key = $"{outside.Issuer} {outside.Subject}";
        var known = await people.FindByLoginAsync(Provider, key);
        var by = known is null ? Nobody : new Actor(known.Id, known.Name);
        if (outside.Role is not { } role)
        {
            return new Refusal(
                RefusalReason.Invalid,
                "Your account has no role in this workshop. Ask whoever keeps your organisation's accounts, or a lead."
            );
        }

        if (known is { DisabledAt: not null })
        {
            return new Refusal(RefusalReason.Conflict, "You are not let in here any more. Ask a lead.");
        }

        if (known is not null)
        {
            var had = await people.GetRolesAsync(known);
            if (had is not [var same] || same != role)
            {
                if ((await keep.SetRole(known.Id, role, by, stop)).Refusal is { } only)
                {
                    return only;
                }
            }

            return (await people.FindByIdAsync($"{known.Id}"))!;
        }

        var id = Guid.CreateVersion7();
        return await db.Write(new Actor(id, Called(outside)), Called(outside), clock.GetUtcNow(), Work, stop);

        async Task<Outcome<Technician>> Work()
        {
            await db.LockOutsider(key, stop);
            if (await people.FindByLoginAsync(Provider, key) is { } meanwhile)
            {
                return meanwhile;
            }

            if (!SignInName.Read(Plain(outside.SignIn ?? outside.Subject)).Try(out var login, out var wrong))
            {
                return wrong;
            }

            var person = new Technician
            {
                Id = id,
                UserName = login.Text,
                Name = Called(outside),
            };
            var made = await people.CreateAsync(person);
            if (!made.Succeeded)
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"Somebody signs in as {login} here already, with a password. If that is you, sign in with it and join the two on your own page; if not, ask a lead to let you in by another name."
                );
            }

            await people.AddToRoleAsync(person, role);
            await people.AddLoginAsync(person, new UserLoginInfo(Provider, key, Provider));
            return person;
        }
    }

    /// <summary>True when somebody signs in by the provider, or may.</summary>
    public Task<bool> IsJoined(Actor me, CancellationToken stop = default) =>
        db.UserLogins.AnyAsync(l => l.UserId == me.Id && l.LoginProvider == Provider, stop);

    /// <summary>
    /// Joins somebody's account here, signed in with its password, with their account at the provider: the same person from
    /// then on, whichever way they come. Their role becomes what the provider says at the next sign-in by it.
    /// </summary>
    public Task<Outcome<string>> Join(OutsidePerson outside, Actor me, CancellationToken stop = default)
    {
        var key = $"{outside.Issuer} {outside.Subject}";
        return db.Write(me, $"{me.Id}", clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            await db.LockOutsider(key, stop);
            if (await people.FindByLoginAsync(Provider, key) is { } other)
            {
                return other.Id == me.Id
                    ? "These two were joined already."
                    : new Refusal(
                        RefusalReason.Conflict,
                        $"That account is {other.Name}'s here already. Nothing was changed."
                    );
            }

            if (await IsJoined(me, stop))
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    "Your account is joined with another one there already. Part from that one first."
                );
            }

            var person = (await people.FindByIdAsync($"{me.Id}"))!;
            await people.AddLoginAsync(person, new UserLoginInfo(Provider, key, Provider));
            return "From now on you can sign in either way. What you may do follows from your groups there when you do.";
        }
    }

    /// <summary>Lets somebody in by their password alone again.</summary>
    public Task<Outcome<string>> Part(Actor me, CancellationToken stop = default)
    {
        return db.Write(me, $"{me.Id}", clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            var person = (await people.FindByIdAsync($"{me.Id}"))!;
            if (!await people.HasPasswordAsync(person))
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    "You have no password here, so nothing would let you in any more. Ask a lead for an invitation first."
                );
            }

            foreach (var login in await people.GetLoginsAsync(person))
            {
                await people.RemoveLoginAsync(person, login.LoginProvider, login.ProviderKey);
            }

            return "You sign in with your password alone again.";
        }
    }

    private static readonly Actor Nobody = new(Guid.Empty, "");

    /// <summary>A name to show: as the provider says, as far as it can be one.</summary>
    private static string Called(OutsidePerson outside)
    {
        var wanted = new string([.. (outside.Name ?? "").Where(c => char.IsLetter(c) || " -.'’".Contains(c))]).Trim();
        wanted = wanted.Length > PersonName.MaxLength ? wanted[..PersonName.MaxLength].Trim() : wanted;
        return PersonName.Read(wanted).Try(out var name, out _) ? name.Text : Plain(outside.SignIn ?? outside.Subject);
    }

    /// <summary>What of "mara.tarn@skerry.example" can stand in a name to sign in with: "mara.tarn".</summary>
    private static string Plain(string text)
    {
        var plain = new string([
            .. text.Split('@')[0].ToLowerInvariant().Where(c => char.IsAsciiLetterOrDigit(c) || "-._".Contains(c)),
        ]);
        return plain.Length > SignInName.MaxLength ? plain[..SignInName.MaxLength] : plain;
    }
}
