using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Zenrik.Core.Fit;
using Zenrik.Core.Parts;

namespace Zenrik.Workshop.Book;

internal sealed class CatalogueNumberConfiguration : IEntityTypeConfiguration<CatalogueNumber>
{
    public void Configure(EntityTypeBuilder<CatalogueNumber> builder)
    {
        builder.Property(n => n.Number).HasMaxLength(PartNumber.MaxLength);
        builder.Property(n => n.Canonical).HasMaxLength(PartNumber.MaxLength);
        builder.Property(n => n.Name).HasMaxLength(80);
        builder.Property(n => n.TypeCode).HasMaxLength(32);
        builder.Property(n => n.Consumable).HasMaxLength(32);
        builder.HasIndex(n => n.Canonical).IsUnique();
        builder
            .Property(n => n.Specification)
            .HasColumnType("jsonb")
            .HasConversion(
                s => s == null ? null : StoredJson.Write(s),
                s => s == null ? null : StoredJson.Read<ItemSpecification>(s)
            );
        builder.HasIndex(n => n.Kind);
        builder.ToTable(t =>
            t.HasCheckConstraint(
                "ck_catalogue_numbers_level",
                "(minimum_level IS NULL) = (order_up_to IS NULL) AND minimum_level >= 1 AND order_up_to >= minimum_level"
            )
        );
        builder
            .HasOne(n => n.SupersededBy)
            .WithMany()
            .HasForeignKey(n => n.SupersededById)
            .OnDelete(DeleteBehavior.Restrict);
        builder
            .HasIndex(n => n.Number, "ix_catalogue_numbers_number_trigrams")
            .HasDatabaseName("ix_catalogue_numbers_number_trigrams")
            .HasMethod("gist")
            .HasOperators("gist_trgm_ops");
        builder.HasMany(n => n.Fits).WithOne().HasForeignKey(f => f.NumberId).OnDelete(DeleteBehavior.Cascade);
    }
}

internal sealed class CatalogueFitConfiguration : IEntityTypeConfiguration<CatalogueFit>
{
    public void Configure(EntityTypeBuilder<CatalogueFit> builder)
    {
        builder.HasKey(f => new
        {
            f.NumberId,
            f.ModelCode,
            f.Slot,
        });
        builder.Property(f => f.Slot).HasMaxLength(40);
        builder.Property(f => f.ListedBy).HasMaxLength(60);
        builder.Ignore(f => f.Listing);
        builder.HasIndex(f => new { f.ModelCode, f.Slot });
        builder.HasOne<Model>().WithMany().HasForeignKey(f => f.ModelCode).OnDelete(DeleteBehavior.Restrict);
    }
}
