using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.Parts;
using Zenrik.Workshop.BenchLedger;

namespace Zenrik.Workshop.Repairs;

internal sealed class RepairConfiguration : IEntityTypeConfiguration<Repair>
{
    public void Configure(EntityTypeBuilder<Repair> builder)
    {
        builder.Property(r => r.Number).HasDefaultValueSql("nextval('repair_numbers')");
        builder.HasIndex(r => r.Number).IsUnique();
        builder.Property(r => r.Note).HasMaxLength(Ledger.MaxNote);
        builder.HasOne(r => r.Unit).WithMany().HasForeignKey(r => r.UnitId).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne(r => r.OpenedBy).WithMany().HasForeignKey(r => r.OpenedById).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne(r => r.ClosedBy).WithMany().HasForeignKey(r => r.ClosedById).OnDelete(DeleteBehavior.Restrict);
        builder.HasMany(r => r.Lines).WithOne().HasForeignKey(l => l.RepairId).OnDelete(DeleteBehavior.Restrict);
        builder
            .HasOne(r => r.Session)
            .WithOne()
            .HasForeignKey<BenchSession>(s => s.RepairId)
            .OnDelete(DeleteBehavior.Restrict);
        builder.Ignore(r => r.Code).Ignore(r => r.Goals);
        builder.HasIndex(r => r.State);
        // A unit is in one repair at a time.
        builder
            .HasIndex(r => r.UnitId, "ix_repairs_one_open_per_unit")
            .HasDatabaseName("ix_repairs_one_open_per_unit")
            .IsUnique()
            .HasFilter("state IN ('Open', 'OnBench')");
    }
}

internal sealed class RepairLineConfiguration : IEntityTypeConfiguration<RepairLine>
{
    public void Configure(EntityTypeBuilder<RepairLine> builder)
    {
        builder.Property(l => l.Assembly).HasMaxLength(40);
        builder.Property(l => l.AssemblyName).HasMaxLength(60);
        builder.Property(l => l.Slot).HasMaxLength(40);
        builder.Property(l => l.Fault).HasMaxLength(80);
        foreach (var number in new[] { "ExpectedOut", "ExpectedIn", "NumberOut", "NumberIn" })
        {
            builder.Property(number).HasMaxLength(PartNumber.MaxLength);
        }

        builder.Ignore(l => l.Goal);
        builder.HasIndex(l => new { l.RepairId, l.Slot }).IsUnique();
        builder.HasOne(l => l.ItemOut).WithMany().HasForeignKey(l => l.ItemOutId).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne(l => l.ItemIn).WithMany().HasForeignKey(l => l.ItemInId).OnDelete(DeleteBehavior.Restrict);
    }
}
