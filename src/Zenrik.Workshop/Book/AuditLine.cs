using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.ChangeTracking;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Zenrik.Workshop.Book;

/// <summary>
/// Who changed what and when, with what stood there before and after. Written in the same transaction as the change; rows
/// are never changed or deleted.
/// </summary>
public sealed class AuditLine
{
    public const int MaxAct = 60;
    public const int MaxTarget = 140;

    public long Id { get; init; }

    public required DateTimeOffset At { get; init; }

    public required Guid ById { get; init; }

    public Technician By { get; init; } = null!;

    /// <summary>The use case: "LendUnit.Out".</summary>
    public required string Act { get; init; }

    /// <summary>What it was about, as its user named it: a tag, a repair, a label. Cut where it is long.</summary>
    public required string Target { get; init; }

    /// <summary>
    /// What it is found by: the words of the whole target, and what the rows that changed are called. A change of many units
    /// is found by any of their tags, an order taken in by the number and by every label.
    /// </summary>
    public required string[] Words { get; init; }

    /// <summary>What changed, row by row.</summary>
    public required IReadOnlyList<AuditedChange> Changes { get; init; }
}

/// <summary>One row of the book that was added, changed or removed.</summary>
/// <param name="What">Its kind: "Repair".</param>
/// <param name="Key">What people call it, else its key; null for one that the database numbers, as history is.</param>
/// <param name="Before">What stood in the columns that changed, or in all of a row that was removed; null for one added.</param>
/// <param name="After">What stands in the columns that changed; null for a row added or removed.</param>
public sealed record AuditedChange(
    string What,
    string? Key,
    IReadOnlyDictionary<string, string?>? Before,
    IReadOnlyDictionary<string, string?>? After
);

internal sealed class AuditLineConfiguration : IEntityTypeConfiguration<AuditLine>
{
    public void Configure(EntityTypeBuilder<AuditLine> builder)
    {
        builder.ToTable("audit_lines");
        builder.Property(l => l.Act).HasMaxLength(AuditLine.MaxAct);
        builder.Property(l => l.Target).HasMaxLength(AuditLine.MaxTarget);
        builder
            .Property(l => l.Changes)
            .HasColumnType("jsonb")
            .HasConversion(
                c => StoredJson.Write(c),
                text => StoredJson.Read<IReadOnlyList<AuditedChange>>(text),
                // Never changed once written, so two are the same when they are one.
                ValueComparer.CreateDefault<IReadOnlyList<AuditedChange>>(favorStructuralComparisons: false)
            );
        builder.HasOne(l => l.By).WithMany().HasForeignKey(l => l.ById).OnDelete(DeleteBehavior.Restrict);
        builder.HasIndex(l => l.Words).HasMethod("gin");
        builder.HasIndex(l => new { l.ById, l.Id });
    }
}
