using System.Security.Cryptography;
using System.Text;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Zenrik.Core;

namespace Zenrik.Workshop.People;

/// <summary>Makes, lists, revokes and recognises a person's own API tokens.</summary>
public sealed class ApiTokens(WorkshopDb db, TimeProvider clock)
{
    /// <summary>Valid tokens a person may have at once.</summary>
    public const int MostTokens = 10;

    /// <summary>A token lives this long at most; a new one is made in time.</summary>
    public const int MostDays = 365;

    /// <summary>Uses closer together than this are not written down one by one.</summary>
    private static readonly TimeSpan Noted = TimeSpan.FromMinutes(5);

    private const string Prefix = "zk_";

    /// <param name="name">What it is for.</param>
    /// <param name="scopes">Of <see cref="TokenScopes"/>; none: to read only.</param>
    /// <param name="days">How long it lives, 1 to a year.</param>
    /// <returns>The token; it cannot be shown again.</returns>
    public async Task<Outcome<string>> Make(
        string? name,
        Actor owner,
        IReadOnlyCollection<string>? scopes = null,
        int days = MostDays,
        CancellationToken stop = default
    )
    {
        var wanted = name?.Trim() ?? "";
        if (wanted.Length is 0 or > ApiToken.MaxName)
        {
            return new Refusal(
                RefusalReason.Invalid,
                $"Name what the token is for, in at most {ApiToken.MaxName} characters."
            );
        }

        if ((scopes ?? []).FirstOrDefault(s => !TokenScopes.All.Contains(s)) is { } strange)
        {
            return new Refusal(
                RefusalReason.Invalid,
                $"A token is for {string.Join(", ", TokenScopes.All)}; \"{strange}\" is none of them."
            );
        }

        if (days is < 1 or > MostDays)
        {
            return new Refusal(RefusalReason.Invalid, $"A token lives for 1 to {MostDays} days.");
        }

        return await Make(
            wanted,
            [.. TokenScopes.All.Where(s => s == TokenScopes.Read || scopes?.Contains(s) == true)],
            days,
            owner,
            stop
        );
    }

    /// <summary>Makes one that reads the calendar and nothing else.</summary>
    /// <returns>The token; it cannot be shown again.</returns>
    public Task<Outcome<string>> MakeForCalendar(Actor owner, CancellationToken stop = default) =>
        Make("a calendar", [TokenScopes.Calendar], MostDays, owner, stop);

    private async Task<Outcome<string>> Make(
        string wanted,
        string[] scopes,
        int days,
        Actor owner,
        CancellationToken stop
    )
    {
        return await db.Write(owner, owner.Name, clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            var now = clock.GetUtcNow();
            if (
                await db.ApiTokens.CountAsync(
                    t => t.OwnerId == owner.Id && t.RevokedAt == null && t.ExpiresAt > now,
                    stop
                ) >= MostTokens
            )
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"You have {MostTokens} tokens that work. Revoke one that is not used any more first."
                );
            }

            var token = Prefix + Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(32));
            db.ApiTokens.Add(
                new ApiToken
                {
                    Id = Guid.CreateVersion7(),
                    OwnerId = owner.Id,
                    Name = wanted,
                    Hash = ApiToken.HashOf(token),
                    Scopes = scopes,
                    MadeAt = now,
                    ExpiresAt = now.AddDays(days),
                }
            );
            return token;
        }
    }

    /// <summary>A person's tokens, newest first.</summary>
    public async Task<IReadOnlyList<ApiToken>> Of(Actor owner, CancellationToken stop = default) =>
        await db
            .ApiTokens.AsNoTracking()
            .Where(t => t.OwnerId == owner.Id)
            .OrderByDescending(t => t.MadeAt)
            .ToListAsync(stop);

    /// <summary>Revokes one of a person's own tokens. Revoking twice is no fault.</summary>
    public async Task<Outcome<string>> Revoke(Guid id, Actor owner, CancellationToken stop = default)
    {
        return await db.Write(owner, owner.Name, clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            var token = await db.ApiTokens.SingleOrDefaultAsync(t => t.Id == id && t.OwnerId == owner.Id, stop);
            if (token is null)
            {
                return new Refusal(RefusalReason.NotFound, "There is no such token of yours.");
            }

            token.RevokedAt ??= clock.GetUtcNow();
            return token.Name;
        }
    }

    /// <summary>Revokes every token of a person, as a lead does when a key may have got out. Twice is no fault; part of the caller's write.</summary>
    /// <returns>How many there were.</returns>
    internal async Task<int> RevokeAll(Guid ownerId, CancellationToken stop = default)
    {
        var now = clock.GetUtcNow();
        var revoked = await db
            .ApiTokens.Where(t => t.OwnerId == ownerId && t.RevokedAt == null)
            .ExecuteUpdateAsync(t => t.SetProperty(x => x.RevokedAt, now), stop);
        if (revoked > 0)
        {
            db.NoteChange(nameof(ApiToken), $"all of {ownerId}", "valid", "revoked");
        }

        return revoked;
    }

    /// <summary>A token with its owner; null when it is unknown, revoked or too old, or its owner has been disabled.</summary>
    public async Task<ApiToken?> Known(string token, CancellationToken stop = default)
    {
        var (hash, now) = (ApiToken.HashOf(token), clock.GetUtcNow());
        var found = await db
            .ApiTokens.AsNoTracking()
            .Include(t => t.Owner)
            .SingleOrDefaultAsync(
                t => t.Hash == hash && t.RevokedAt == null && t.ExpiresAt > now && t.Owner.DisabledAt == null,
                stop
            );
        if (found is not null && (found.LastUsedAt is not { } last || now - last > Noted))
        {
            await db
                .ApiTokens.Where(t => t.Id == found.Id)
                .ExecuteUpdateAsync(t => t.SetProperty(x => x.LastUsedAt, now), stop);
        }

        return found;
    }
}
