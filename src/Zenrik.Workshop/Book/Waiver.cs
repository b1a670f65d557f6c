using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Zenrik.Core.Parts;
using Zenrik.Core.Stock;

namespace Zenrik.Workshop.Book;

/// <summary>Somebody's word that a number goes into a slot of a repair although a house rule stands against it.</summary>
public sealed class Waiver
{
    public const int MaxReason = 300;

    public required Guid Id { get; init; }

    public required RepairId RepairId { get; init; }

    public required string Slot { get; init; }

    public required string Number { get; init; }

    /// <summary>Id of the house rule.</summary>
    public required string Rule { get; init; }

    public required string Reason { get; init; }

    public required DateTimeOffset At { get; init; }

    public required Guid ById { get; init; }

    public Technician By { get; init; } = null!;
}

internal sealed class WaiverConfiguration : IEntityTypeConfiguration<Waiver>
{
    public void Configure(EntityTypeBuilder<Waiver> builder)
    {
        builder.Property(w => w.Slot).HasMaxLength(40);
        builder.Property(w => w.Number).HasMaxLength(PartNumber.MaxLength);
        builder.Property(w => w.Rule).HasMaxLength(40);
        builder.Property(w => w.Reason).HasMaxLength(Waiver.MaxReason);
        builder
            .HasIndex(w => new
            {
                w.RepairId,
                w.Slot,
                w.Number,
                w.Rule,
            })
            .IsUnique();
        builder.HasOne<Repair>().WithMany().HasForeignKey(w => w.RepairId).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne(w => w.By).WithMany().HasForeignKey(w => w.ById).OnDelete(DeleteBehavior.Restrict);
    }
}
