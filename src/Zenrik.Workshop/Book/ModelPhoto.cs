using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Zenrik.Workshop.Book;

/// <summary>A photograph of a model that no repair of ours took: of a machine opened to look, or from another workshop.</summary>
public sealed class ModelPhoto
{
    public required Guid Id { get; init; }

    public required string ModelCode { get; set; }

    /// <summary>Drawn anew from the one sent, without the camera's notes.</summary>
    public required byte[] Jpeg { get; init; }

    /// <summary>The act it was taken at, as "kind:target"; null: of the machine as it lies.</summary>
    public string? Act { get; init; }

    /// <summary>When it was taken, as far as that is known; no model has two of one moment.</summary>
    public required DateTimeOffset At { get; init; }

    public required Guid ById { get; init; }
}

internal sealed class ModelPhotoConfiguration : IEntityTypeConfiguration<ModelPhoto>
{
    public void Configure(EntityTypeBuilder<ModelPhoto> builder)
    {
        builder.Property(p => p.Act).HasMaxLength(120);
        builder.HasIndex(p => new { p.ModelCode, p.At }).IsUnique();
        builder.HasOne<Model>().WithMany().HasForeignKey(p => p.ModelCode).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne<Technician>().WithMany().HasForeignKey(p => p.ById).OnDelete(DeleteBehavior.Restrict);
    }
}
