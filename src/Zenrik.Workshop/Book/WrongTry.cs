using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Zenrik.Workshop.Book;

/// <summary>A try at the door that was not, or not yet, right. Gone when its time is over.</summary>
public sealed class WrongTry
{
    public const int MaxAddress = 64;

    public required Guid Id { get; init; }

    public required string Address { get; init; }

    /// <summary>SHA-256 of what was called a name: people type their password there.</summary>
    public required byte[] Name { get; init; }

    public required DateTimeOffset At { get; init; }
}

internal sealed class WrongTryConfiguration : IEntityTypeConfiguration<WrongTry>
{
    public void Configure(EntityTypeBuilder<WrongTry> builder)
    {
        builder.ToTable("wrong_tries");
        builder.Property(t => t.Address).HasMaxLength(WrongTry.MaxAddress);
        builder.HasIndex(t => new { t.Address, t.At });
    }
}
