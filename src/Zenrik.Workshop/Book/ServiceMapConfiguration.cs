using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Zenrik.Workshop.Book;

internal sealed class ModelConfiguration : IEntityTypeConfiguration<Model>
{
    public void Configure(EntityTypeBuilder<Model> builder)
    {
        builder.HasKey(m => m.Code);
        builder.Property(m => m.Code).HasMaxLength(40);
        builder.Property(m => m.Name).HasMaxLength(60);
        builder.Property(m => m.Maker).HasMaxLength(60);
        builder.HasOne<Model>().WithMany().HasForeignKey(m => m.MergedInto).OnDelete(DeleteBehavior.Restrict);
    }
}

internal sealed class ServiceMapRevisionConfiguration : IEntityTypeConfiguration<ServiceMapRevision>
{
    public void Configure(EntityTypeBuilder<ServiceMapRevision> builder)
    {
        builder.HasKey(r => new { r.ModelCode, r.Revision });
        builder.HasOne<Model>().WithMany().HasForeignKey(r => r.ModelCode).OnDelete(DeleteBehavior.Restrict);
        builder.Property(r => r.Json).HasColumnType("text");
        builder.ToTable(t => t.HasCheckConstraint("ck_service_map_revisions_revision", "revision >= 1"));
    }
}

internal sealed class MapFindingConfiguration : IEntityTypeConfiguration<MapFinding>
{
    public void Configure(EntityTypeBuilder<MapFinding> builder)
    {
        builder
            .HasOne<ServiceMapRevision>()
            .WithMany()
            .HasForeignKey(f => new { f.ModelCode, f.MapRevision })
            .OnDelete(DeleteBehavior.Restrict);
        builder.HasOne(f => f.Repair).WithMany().HasForeignKey(f => f.RepairId).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne(f => f.By).WithMany().HasForeignKey(f => f.ById).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne(f => f.DecidedBy).WithMany().HasForeignKey(f => f.DecidedById).OnDelete(DeleteBehavior.Restrict);
        builder.Property(f => f.Target).HasMaxLength(120);
        builder.Property(f => f.Cover).HasMaxLength(60);
        builder.Property(f => f.Note).HasMaxLength(Core.BenchLedger.Ledger.MaxNote);
        builder.Property(f => f.Decision).HasMaxLength(200);
        builder.HasIndex(f => new { f.ModelCode, f.State });
        builder
            .HasIndex(
                f => new
                {
                    f.RepairId,
                    f.Kind,
                    f.Target,
                },
                "ix_map_findings_once"
            )
            .HasDatabaseName("ix_map_findings_once")
            .IsUnique();
    }
}
