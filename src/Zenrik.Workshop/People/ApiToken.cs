using System.Security.Cryptography;
using System.Text;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Zenrik.Core;

namespace Zenrik.Workshop.People;

/// <summary>A key to the API that acts as one person. Only its hash is kept.</summary>
public sealed class ApiToken
{
    public required Guid Id { get; init; }

    public required Guid OwnerId { get; init; }

    public Technician Owner { get; init; } = null!;

    /// <summary>What it is for, in its owner's words.</summary>
    public required string Name { get; init; }

    /// <summary>SHA-256 of the token. It has 256 random bits, so no salt or slow hash is needed.</summary>
    public required byte[] Hash { get; init; }

    public required DateTimeOffset MadeAt { get; init; }

    public DateTimeOffset? RevokedAt { get; set; }

    internal static byte[] HashOf(string token) => SHA256.HashData(Encoding.UTF8.GetBytes(token));
}

internal sealed class ApiTokenConfiguration : IEntityTypeConfiguration<ApiToken>
{
    public void Configure(EntityTypeBuilder<ApiToken> builder)
    {
        builder.Property(t => t.Name).HasMaxLength(ApiTokens.MaxName);
        builder.HasIndex(t => t.Hash).IsUnique();
        builder.HasOne(t => t.Owner).WithMany().HasForeignKey(t => t.OwnerId).OnDelete(DeleteBehavior.Restrict);
    }
}

/// <summary>Makes, lists, revokes and recognises a person's own API tokens.</summary>
public sealed class ApiTokens(WorkshopDb db, TimeProvider clock)
{
    public const int MaxName = 60;

    private const string Prefix = "zk_";

    /// <returns>The token; it cannot be shown again.</returns>
    public async Task<Outcome<string>> Make(string? name, Actor owner, CancellationToken stop = default)
    {
        var wanted = name?.Trim() ?? "";
        if (wanted.Length is 0 or > MaxName)
        {
            return new Refusal(RefusalReason.Invalid, $"Name what the token is for, in at most {MaxName} characters.");
        }

        var token = Prefix + Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(32));
        db.ApiTokens.Add(
            new ApiToken
            {
                Id = Guid.CreateVersion7(),
                OwnerId = owner.Id,
                Name = wanted,
                Hash = ApiToken.HashOf(token),
                MadeAt = clock.GetUtcNow(),
            }
        );
        await db.SaveChangesAsync(stop);
        return token;
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
        var token = await db.ApiTokens.SingleOrDefaultAsync(t => t.Id == id && t.OwnerId == owner.Id, stop);
        if (token is null)
        {
            return new Refusal(RefusalReason.NotFound, "There is no such token of yours.");
        }

        token.RevokedAt ??= clock.GetUtcNow();
        await db.SaveChangesAsync(stop);
        return token.Name;
    }

    /// <summary>Whose token this is; null when it is unknown or revoked.</summary>
    public async Task<Technician?> OwnerOf(string token, CancellationToken stop = default)
    {
        var hash = ApiToken.HashOf(token);
        return await db
            .ApiTokens.AsNoTracking()
            .Where(t => t.Hash == hash && t.RevokedAt == null)
            .Select(t => t.Owner)
            .SingleOrDefaultAsync(stop);
    }
}
