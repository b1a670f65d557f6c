using System.Security.Cryptography;
using System.Text;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Zenrik.Core;

namespace Zenrik.Workshop.Book;

/// <summary>A key to the API that acts as one person. Only its hash is kept.</summary>
public sealed class ApiToken
{
    public const int MaxName = 60;

    public required Guid Id { get; init; }

    public required Guid OwnerId { get; init; }

    public Technician Owner { get; init; } = null!;

    /// <summary>What it is for, in its owner's words.</summary>
    public required string Name { get; init; }

    /// <summary>SHA-256 of the token. It has 256 random bits, so no salt or slow hash is needed.</summary>
    public required byte[] Hash { get; init; }

    /// <summary>What it may be used for, of <see cref="TokenScopes"/>; never more than its owner may do.</summary>
    public required string[] Scopes { get; init; }

    public required DateTimeOffset MadeAt { get; init; }

    public required DateTimeOffset ExpiresAt { get; init; }

    public DateTimeOffset? LastUsedAt { get; set; }

    public DateTimeOffset? RevokedAt { get; set; }

    internal static byte[] HashOf(string token) => SHA256.HashData(Encoding.UTF8.GetBytes(token));
}

/// <summary>What a token may be used for.</summary>
public static class TokenScopes
{
    /// <summary>Look at everything and have everything computed that is kept nowhere.</summary>
    public const string Read = "read";

    /// <summary>Read the calendar of what falls due, and nothing else; made for that alone.</summary>
    public const string Calendar = "calendar";

    public static IReadOnlyList<string> All { get; } = [Read, "counter", "bench", "stores", "house"];
}

internal sealed class ApiTokenConfiguration : IEntityTypeConfiguration<ApiToken>
{
    public void Configure(EntityTypeBuilder<ApiToken> builder)
    {
        builder.Property(t => t.Name).HasMaxLength(ApiToken.MaxName);
        builder.HasIndex(t => t.Hash).IsUnique();
        builder.HasOne(t => t.Owner).WithMany().HasForeignKey(t => t.OwnerId).OnDelete(DeleteBehavior.Restrict);
    }
}
