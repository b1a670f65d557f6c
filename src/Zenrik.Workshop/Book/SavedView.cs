using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Zenrik.Workshop.Book;

/// <summary>The conditions of a list, kept by somebody under a name.</summary>
public sealed class SavedView
{
    public const int MaxName = 40;
    public const int MaxQuery = 600;

    public required Guid Id { get; init; }

    public required Guid OwnerId { get; init; }

    /// <summary>The list's address: "/fleet".</summary>
    public required string List { get; init; }

    public required string Name { get; init; }

    /// <summary>What follows the address, from its question mark on; empty: everything.</summary>
    public required string Query { get; set; }
}

internal sealed class SavedViewConfiguration : IEntityTypeConfiguration<SavedView>
{
    public void Configure(EntityTypeBuilder<SavedView> builder)
    {
        builder.Property(v => v.List).HasMaxLength(40);
        builder.Property(v => v.Name).HasMaxLength(SavedView.MaxName);
        builder.Property(v => v.Query).HasMaxLength(SavedView.MaxQuery);
        builder
            .HasIndex(v => new
            {
                v.OwnerId,
                v.List,
                v.Name,
            })
            .IsUnique();
        builder.HasOne<Technician>().WithMany().HasForeignKey(v => v.OwnerId).OnDelete(DeleteBehavior.Restrict);
    }
}
