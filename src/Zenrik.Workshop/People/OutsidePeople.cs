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
            // Two tabs of one person at once: known once.
            await db.Database.ExecuteSqlAsync($"SELECT pg_advisory_xact_lock(hashtext({key}))", stop);
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
                    $"Somebody else signs in as {login} here already, with a password. Ask a lead to let them in by another name first."
                );
            }

            await people.AddToRoleAsync(person, role);
            await people.AddLoginAsync(person, new UserLoginInfo(Provider, key, Provider));
            return person;
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
