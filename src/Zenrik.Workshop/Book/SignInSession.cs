using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Zenrik.Workshop.Book;

/// <summary>Somebody signed in on a device, from then until it is ended. The browser's cookie names it.</summary>
public sealed class SignInSession
{
    public const int MaxDevice = 120;
    public const int MaxAddress = 45;

    public required Guid Id { get; init; }

    public required Guid PersonId { get; init; }

    public Technician Person { get; init; } = null!;

    /// <summary>The person's security stamp then; once theirs is another one the session holds no more.</summary>
    public required string Stamp { get; set; }

    public required DateTimeOffset StartedAt { get; init; }

    /// <summary>Last use, to within <see cref="People.SignInSessions.Noted"/>.</summary>
    public required DateTimeOffset SeenAt { get; set; }

    /// <summary>When it ends by itself; null: when it has not been used for <see cref="People.SignInSessions.Idle"/>.</summary>
    public DateTimeOffset? EndsAt { get; init; }

    public DateTimeOffset? EndedAt { get; set; }

    /// <summary>What the browser says of the system it runs on.</summary>
    public required string Device { get; init; }

    public required string Address { get; init; }

    /// <summary>The device's own session, on which somebody works for a while by badge; null: it is one itself.</summary>
    public Guid? UnderId { get; init; }
}

internal sealed class SignInSessionConfiguration : IEntityTypeConfiguration<SignInSession>
{
    public void Configure(EntityTypeBuilder<SignInSession> builder)
    {
        builder.Property(s => s.Device).HasMaxLength(SignInSession.MaxDevice);
        builder.Property(s => s.Address).HasMaxLength(SignInSession.MaxAddress);
        builder.Property(s => s.Stamp).HasMaxLength(64);
        builder.HasIndex(s => s.PersonId);
        builder.HasOne(s => s.Person).WithMany().HasForeignKey(s => s.PersonId).OnDelete(DeleteBehavior.Restrict);
    }
}
