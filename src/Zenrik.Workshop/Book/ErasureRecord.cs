using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Zenrik.Core;
using Zenrik.Core.Economics;
using Zenrik.Core.Stock;

namespace Zenrik.Workshop.Book;

/// <summary>How the storage of a retired unit was erased.</summary>
public sealed class ErasureRecord
{
    public required Guid Id { get; init; }

    public required UnitId UnitId { get; init; }

    /// <summary>The repair that ended so; null for a donor, which is in none.</summary>
    public RepairId? RepairId { get; init; }

    public required string Slot { get; init; }

    /// <summary>Label of the item erased; null when the passport had none.</summary>
    public string? ItemCode { get; init; }

    public required StorageKind Kind { get; init; }

    public required DataHeld Held { get; init; }

    public required ErasureMethod Method { get; init; }

    public required DateTimeOffset At { get; init; }

    public required Guid ById { get; init; }

    public Technician By { get; init; } = null!;
}

internal sealed class ErasureConfiguration : IEntityTypeConfiguration<ErasureRecord>
{
    public void Configure(EntityTypeBuilder<ErasureRecord> builder)
    {
        builder.ToTable("erasures");
        builder.Property(e => e.Slot).HasMaxLength(40);
        builder.Property(e => e.ItemCode).HasMaxLength(24);
        builder.HasIndex(e => new { e.RepairId, e.Slot }).IsUnique();
        builder.HasOne<Unit>().WithMany().HasForeignKey(e => e.UnitId).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne<Repair>().WithMany().HasForeignKey(e => e.RepairId).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne(e => e.By).WithMany().HasForeignKey(e => e.ById).OnDelete(DeleteBehavior.Restrict);
    }
}
