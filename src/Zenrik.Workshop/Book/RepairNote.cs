using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Zenrik.Core.Repairs;
using Zenrik.Core.Stock;

namespace Zenrik.Workshop.Book;

/// <summary>Something added to a repair: a note, a correction of its record, that it was told or fetched. Rows are never changed or deleted.</summary>
public sealed class RepairNote
{
    public long Id { get; init; }

    public required RepairId RepairId { get; init; }

    public Repair Repair { get; init; } = null!;

    public required RepairNoteKind Kind { get; init; }

    /// <summary>Empty where the kind says all.</summary>
    public required string Text { get; init; }

    public required DateTimeOffset At { get; init; }

    public required Guid ById { get; init; }

    public Technician By { get; init; } = null!;

    /// <param name="text">As <see cref="RepairNotes"/> allows it.</param>
    public static RepairNote Of(Repair repair, RepairNoteKind kind, string text, Actor by, DateTimeOffset at) =>
        new()
        {
            RepairId = repair.Id,
            Kind = kind,
            Text = text,
            At = at,
            ById = by.Id,
        };
}

internal sealed class RepairNoteConfiguration : IEntityTypeConfiguration<RepairNote>
{
    public void Configure(EntityTypeBuilder<RepairNote> builder)
    {
        builder.ToTable("repair_notes");
        builder.Property(n => n.Text).HasMaxLength(RepairNotes.MaxText);
        builder.HasIndex(n => new { n.RepairId, n.Id });
        // One is fetched once.
        builder
            .HasIndex(n => n.RepairId, "ix_repair_notes_collected_once")
            .HasDatabaseName("ix_repair_notes_collected_once")
            .IsUnique()
            .HasFilter("kind = 'Collected'");
        builder
            .HasOne(n => n.Repair)
            .WithMany(r => r.Notes)
            .HasForeignKey(n => n.RepairId)
            .OnDelete(DeleteBehavior.Restrict);
        builder.HasOne(n => n.By).WithMany().HasForeignKey(n => n.ById).OnDelete(DeleteBehavior.Restrict);
    }
}
