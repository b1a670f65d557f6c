using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Zenrik.Core.Stock;

namespace Zenrik.Workshop.Book;

public enum DraftStepKind
{
    /// <summary>What a closed session showed, or a list says: <see cref="Core.MapMaking.Sighting"/>.</summary>
    Sighting,

    /// <summary>What a person said: <see cref="Core.MapMaking.Statement"/>.</summary>
    Statement,

    /// <summary>A statement, a copy or a list no longer counts; the text is its version.</summary>
    TakenBack,

    /// <summary>The map of a like model it goes on from: <see cref="Core.MapMaking.CopiedMap"/>.</summary>
    Copied,
}

/// <summary>
/// One step in the making of a model's map. The draft at a version is what its steps up to then come to, so it can be had
/// again at any time; rows are never changed or deleted.
/// </summary>
public sealed class DraftStep
{
    public required string ModelCode { get; init; }

    /// <summary>Rises with every step and never meets a revision of the model's map: a draft that is planned by is kept under it.</summary>
    public required int Version { get; init; }

    public required DraftStepKind Kind { get; init; }

    public required DateTimeOffset At { get; init; }

    public required Guid ById { get; init; }

    public Technician By { get; init; } = null!;

    /// <summary>The repair a sighting comes from; null: a list that was taken in.</summary>
    public RepairId? RepairId { get; init; }

    public Repair? Repair { get; init; }

    public required string Json { get; init; }

    /// <summary>True for what a person said or brought; what a session at the bench showed stays.</summary>
    public bool CanBeTakenBack =>
        Kind is DraftStepKind.Statement or DraftStepKind.Copied
        || this is { Kind: DraftStepKind.Sighting, RepairId: null };
}

internal sealed class DraftStepConfiguration : IEntityTypeConfiguration<DraftStep>
{
    public void Configure(EntityTypeBuilder<DraftStep> builder)
    {
        builder.HasKey(s => new { s.ModelCode, s.Version });
        builder.Property(s => s.Json).HasColumnType("text");
        builder.Ignore(s => s.CanBeTakenBack);
        builder.HasOne<Model>().WithMany().HasForeignKey(s => s.ModelCode).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne(s => s.By).WithMany().HasForeignKey(s => s.ById).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne(s => s.Repair).WithMany().HasForeignKey(s => s.RepairId).OnDelete(DeleteBehavior.Restrict);
        builder.ToTable("draft_steps", t => t.HasCheckConstraint("ck_draft_steps_version", "version >= 1"));
    }
}
