using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Zenrik.Workshop.Fleet;

internal sealed class UnitConfiguration : IEntityTypeConfiguration<Unit>
{
    public void Configure(EntityTypeBuilder<Unit> builder)
    {
        builder.Property(u => u.Tag).HasMaxLength(32);
        builder.Property(u => u.Serial).HasMaxLength(64);
        builder.Property(u => u.Site).HasMaxLength(80);
        builder.Property(u => u.UserName).HasMaxLength(80);
        builder.HasIndex(u => u.Tag).IsUnique();
        builder.HasIndex(u => u.Serial).IsUnique();
        builder.HasIndex(u => new { u.ModelCode, u.State });
        builder.HasOne(u => u.Model).WithMany().HasForeignKey(u => u.ModelCode).OnDelete(DeleteBehavior.Restrict);
        // For "did you mean": the nearest codes by trigrams, read in order from the index.
        builder
            .HasIndex(u => u.Tag, "ix_units_tag_trigrams")
            .HasDatabaseName("ix_units_tag_trigrams")
            .HasMethod("gist")
            .HasOperators("gist_trgm_ops");
        builder
            .HasIndex(u => u.Serial, "ix_units_serial_trigrams")
            .HasDatabaseName("ix_units_serial_trigrams")
            .HasMethod("gist")
            .HasOperators("gist_trgm_ops");
    }
}

internal sealed class UnitLookConfiguration : IEntityTypeConfiguration<UnitLook>
{
    public void Configure(EntityTypeBuilder<UnitLook> builder)
    {
        builder.HasKey(l => new { l.UnitId, l.Trait });
        builder.Property(l => l.Trait).HasMaxLength(40);
        builder.Property(l => l.Look).HasMaxLength(40);
        builder.HasOne<Unit>().WithMany(u => u.Looks).HasForeignKey(l => l.UnitId).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne(l => l.By).WithMany().HasForeignKey(l => l.ById).OnDelete(DeleteBehavior.Restrict);
    }
}
