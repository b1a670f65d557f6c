using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.Parts;
using Zenrik.Core.Repairs;

namespace Zenrik.Workshop.Book;

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
        builder
            .HasOne(r => r.AssignedTo)
            .WithMany()
            .HasForeignKey(r => r.AssignedToId)
            .OnDelete(DeleteBehavior.Restrict);
        builder.HasOne(r => r.Follows).WithMany().HasForeignKey(r => r.FollowsId).OnDelete(DeleteBehavior.Restrict);
        builder.Property(r => r.Purpose).HasDefaultValue(RepairPurpose.Fault).HasSentinel((RepairPurpose)(-1));
        builder.Property(r => r.AlsoGoals).HasDefaultValueSql("'{}'");
        builder.Property(r => r.Campaign).HasMaxLength(CampaignMark.MaxName);
        builder.HasIndex(r => r.Campaign).HasFilter("campaign IS NOT NULL");
        builder
            .Ignore(r => r.Code)
            .Ignore(r => r.Goals)
            .Ignore(r => r.GoalsAtStart)
            .Ignore(r => r.What)
            .Ignore(r => r.HasGoals)
            .Ignore(r => r.IsUnderway)
            .Ignore(r => r.InTriage)
            .Ignore(r => r.InCheckUp);
        builder.HasIndex(r => r.State);
        builder.HasIndex(r => new { r.UnitId, r.Number });
        builder.HasIndex(r => r.ClosedAt);
        // A unit is in one repair at a time.
        builder
            .HasIndex(r => r.UnitId, "ix_repairs_one_open_per_unit")
            .HasDatabaseName("ix_repairs_one_open_per_unit")
            .IsUnique()
            .HasFilter("state IN ('Open', 'OnBench', 'Stopped')");
        builder
            .Property(r => r.OwnConsumables)
            .HasColumnType("jsonb")
            .HasDefaultValueSql("'{}'")
            .HasConversion(
                o => StoredJson.Write(o),
                o => StoredJson.Read<Dictionary<string, string>>(o),
                new Microsoft.EntityFrameworkCore.ChangeTracking.ValueComparer<Dictionary<string, string>>(
                    (a, b) => StoredJson.Write(a) == StoredJson.Write(b),
                    o => StoredJson.Write(o).GetHashCode(StringComparison.Ordinal),
                    o => new Dictionary<string, string>(o)
                )
            );
        builder.Property(r => r.FaultId).HasMaxLength(40);
        builder.Property(r => r.Decided).HasMaxLength(Repair.MaxDecided);
        builder.HasMany(r => r.Triage).WithOne().HasForeignKey(s => s.RepairId).OnDelete(DeleteBehavior.Restrict);
        builder.HasMany(r => r.Photos).WithOne().HasForeignKey(p => p.RepairId).OnDelete(DeleteBehavior.Restrict);
        // What triage learns from.
        builder.HasIndex(r => r.FaultId).HasFilter("fault_id IS NOT NULL AND state = 'Closed'");
    }
}

internal sealed class RepairPhotoConfiguration : IEntityTypeConfiguration<RepairPhoto>
{
    public void Configure(EntityTypeBuilder<RepairPhoto> builder)
    {
        builder.HasOne(p => p.By).WithMany().HasForeignKey(p => p.ById).OnDelete(DeleteBehavior.Restrict);
        builder.HasIndex(p => new { p.RepairId, p.At });
        builder.Property(p => p.Act).HasMaxLength(120);
    }
}

internal sealed class RepairLineConfiguration : IEntityTypeConfiguration<RepairLine>
{
    public void Configure(EntityTypeBuilder<RepairLine> builder)
    {
        builder.Property(l => l.Assembly).HasMaxLength(40);
        builder.Property(l => l.AssemblyName).HasMaxLength(60);
        builder.Property(l => l.Slot).HasMaxLength(40);
        builder.Property(l => l.Fault).HasMaxLength(FaultText.Longest);
        foreach (var number in new[] { "ExpectedOut", "ExpectedIn", "NumberOut", "NumberIn" })
        {
            builder.Property(number).HasMaxLength(PartNumber.MaxLength);
        }

        builder.Property(l => l.FaultySeen).HasMaxLength(FaultText.Longest);
        builder.Property(l => l.FaultyAt).HasMaxLength(120);
        builder.Ignore(l => l.Goal).Ignore(l => l.What).Ignore(l => l.IsTooSmall).Ignore(l => l.AwaitsAnother);
        builder.HasOne<Item>().WithMany().HasForeignKey(l => l.FaultyItemId).OnDelete(DeleteBehavior.Restrict);
        builder.HasIndex(l => new { l.RepairId, l.Slot }).IsUnique();
        builder.HasOne(l => l.ItemOut).WithMany().HasForeignKey(l => l.ItemOutId).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne(l => l.ItemIn).WithMany().HasForeignKey(l => l.ItemInId).OnDelete(DeleteBehavior.Restrict);
    }
}

internal sealed class FollowUpConfiguration : IEntityTypeConfiguration<FollowUp>
{
    public void Configure(EntityTypeBuilder<FollowUp> builder)
    {
        builder.Property(f => f.What).HasMaxLength(200);
        builder.Property(f => f.Reason).HasMaxLength(Ledger.MaxNote);
        builder.Property(f => f.PutRight).HasMaxLength(200);
        builder.HasOne(f => f.Unit).WithMany().HasForeignKey(f => f.UnitId).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne(f => f.Repair).WithMany().HasForeignKey(f => f.RepairId).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne(f => f.By).WithMany().HasForeignKey(f => f.ById).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne<Technician>().WithMany().HasForeignKey(f => f.PutRightById).OnDelete(DeleteBehavior.Restrict);
        builder.HasIndex(f => f.At).HasFilter("put_right_at IS NULL");
    }
}
