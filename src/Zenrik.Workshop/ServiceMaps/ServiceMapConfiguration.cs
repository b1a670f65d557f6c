using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Zenrik.Workshop.ServiceMaps;

internal sealed class ModelConfiguration : IEntityTypeConfiguration<Model>
{
    public void Configure(EntityTypeBuilder<Model> builder)
    {
        builder.HasKey(m => m.Code);
        builder.Property(m => m.Code).HasMaxLength(40);
        builder.Property(m => m.Name).HasMaxLength(60);
        builder.Property(m => m.Maker).HasMaxLength(60);
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
