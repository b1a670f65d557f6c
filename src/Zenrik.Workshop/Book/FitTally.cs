using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Zenrik.Core.Fit;
using Zenrik.Core.Stock;

namespace Zenrik.Workshop.Book;

/// <summary>How one number did in one model: <see cref="FitRecord"/>, counted on as repairs close.</summary>
/// <remarks>
/// It follows from the movements alone. It is kept because every question of fit asks for it, and counting a large fleet's
/// movements each time takes half a second.
/// </remarks>
public sealed class FitTally
{
    public required string ModelCode { get; init; }

    public required Guid NumberId { get; init; }

    public required int Fitted { get; init; }

    /// <summary>Of those, how many came out again within <see cref="FitRecord.Soon"/>.</summary>
    public required int Failed { get; init; }
}

internal sealed class FitTallyConfiguration : IEntityTypeConfiguration<FitTally>
{
    public void Configure(EntityTypeBuilder<FitTally> builder)
    {
        builder.HasKey(t => new { t.NumberId, t.ModelCode });
        builder.HasOne<CatalogueNumber>().WithMany().HasForeignKey(t => t.NumberId).OnDelete(DeleteBehavior.Cascade);
        builder.HasOne<Model>().WithMany().HasForeignKey(t => t.ModelCode).OnDelete(DeleteBehavior.Cascade);
        builder.ToTable(t => t.HasCheckConstraint("ck_fit_tallies_counts", "fitted >= 0 AND failed >= 0"));
    }
}
