using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.ChangeTracking;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Zenrik.Core.Practice;

namespace Zenrik.Workshop.Book;

/// <summary>What is practised.</summary>
public enum PracticeKind
{
    /// <summary>A machine taken apart in the drawing and put together again.</summary>
    Apart,

    /// <summary>A fault found by tests and remedies.</summary>
    Diagnosis,

    /// <summary>Numbers read off labels.</summary>
    Labels,

    /// <summary>Three numbers for a slot, one of which fits.</summary>
    Fit,

    /// <summary>Joints opened by the motion of the hand, and where hidden screws are.</summary>
    Opening,
}

/// <summary>
/// Somebody learning. Nothing of it is in the fleet's history. What machine, for what, and by which rules is fixed when it
/// begins; its state is whatever replaying <see cref="Moves"/> gives.
/// </summary>
public sealed class PracticeRun
{
    public const int MaxGuest = 80;

    public required Guid Id { get; init; }

    public required PracticeKind Kind { get; init; }

    /// <summary>Whose it is by their sign-in; who began it for a guest.</summary>
    public required Guid StartedById { get; init; }

    public Technician StartedBy { get; init; } = null!;

    /// <summary>Somebody without an account, on a training day; null: it is the one who began it.</summary>
    public string? Guest { get; init; }

    public required DateTimeOffset StartedAt { get; init; }

    public DateTimeOffset? EndedAt { get; set; }

    /// <summary>From 0 to 100; null while it goes on.</summary>
    public int? Points { get; set; }

    /// <summary>Of the machine; null for labels.</summary>
    public string? ModelCode { get; init; }

    /// <summary>The map's edition; null where no machine is taken apart.</summary>
    public int? MapRevision { get; init; }

    public PracticeLevel Level { get; init; }

    /// <summary>Optional parts of the machine, as ids of the map.</summary>
    public string[] FittedParts { get; init; } = [];

    /// <summary>Each as "replace:battery".</summary>
    public string[] Goals { get; init; } = [];

    /// <summary>House rules that depart from the defaults: "rule=school".</summary>
    public string[] House { get; init; } = [];

    /// <summary>The computed plan, each act as "kind:target".</summary>
    public string[] Acts { get; init; } = [];

    /// <summary>What the machine is brought in for; null where no fault is looked for.</summary>
    public string? Symptom { get; init; }

    /// <summary>What hides the fault, or prints the labels.</summary>
    public required int Seed { get; init; }

    /// <summary>By part that was broken, what exchanging it costs here.</summary>
    public Dictionary<string, HarmFigure> Harm { get; set; } = [];

    /// <summary>What is asked, where questions are; empty otherwise.</summary>
    public IReadOnlyList<PracticeQuestion> Questions { get; init; } = [];

    public List<PracticeMove> Moves { get; init; } = [];
}

/// <summary>One move of a run as its learner made it. Moves are added, never changed.</summary>
public sealed class PracticeMove
{
    public required Guid RunId { get; init; }

    /// <summary>From 1, without gaps.</summary>
    public required int Sequence { get; init; }

    /// <summary>Made by the page, so that a move sent twice is made once.</summary>
    public required Guid RequestId { get; init; }

    /// <summary>An act, a test or remedy, what was read off a label.</summary>
    public required string Text { get; init; }

    /// <summary>What of the map was in the way of it, by id; null: nothing.</summary>
    public string? InTheWay { get; set; }

    public required DateTimeOffset At { get; init; }
}

/// <summary>What a run that is over has trained, and whether it went right.</summary>
public sealed class PracticeTopic
{
    public required Guid RunId { get; init; }

    /// <summary>As in <see cref="Topics"/>.</summary>
    public required string Topic { get; init; }

    public required bool Right { get; init; }
}

internal sealed class PracticeRunConfiguration
    : IEntityTypeConfiguration<PracticeRun>,
        IEntityTypeConfiguration<PracticeMove>,
        IEntityTypeConfiguration<PracticeTopic>
{
    public void Configure(EntityTypeBuilder<PracticeRun> builder)
    {
        builder.ToTable(
            "practice_runs",
            t => t.HasCheckConstraint("ck_practice_runs_points", "points BETWEEN 0 AND 100")
        );
        builder.Property(r => r.Kind).HasConversion<string>().HasMaxLength(12);
        builder.Property(r => r.Level).HasConversion<string>().HasMaxLength(12);
        builder.Property(r => r.Guest).HasMaxLength(PracticeRun.MaxGuest);
        builder.Property(r => r.Symptom).HasMaxLength(60);
        builder.HasIndex(r => new { r.StartedById, r.StartedAt });
        builder.HasIndex(r => r.EndedAt);
        builder.HasOne(r => r.StartedBy).WithMany().HasForeignKey(r => r.StartedById).OnDelete(DeleteBehavior.Restrict);
        builder
            .HasOne<ServiceMapRevision>()
            .WithMany()
            .HasForeignKey(r => new { r.ModelCode, r.MapRevision })
            .OnDelete(DeleteBehavior.Restrict);
        builder
            .Property(r => r.Harm)
            .HasColumnType("jsonb")
            .HasConversion(
                h => StoredJson.Write(h),
                text => StoredJson.Read<Dictionary<string, HarmFigure>>(text),
                new ValueComparer<Dictionary<string, HarmFigure>>(
                    (a, b) => StoredJson.Write(a) == StoredJson.Write(b),
                    h => StoredJson.Write(h).GetHashCode(StringComparison.Ordinal),
                    h => new Dictionary<string, HarmFigure>(h)
                )
            );
        builder
            .Property(r => r.Questions)
            .HasColumnType("jsonb")
            .HasDefaultValueSql("'[]'::jsonb")
            .HasConversion(
                q => StoredJson.Write(q),
                text => StoredJson.Read<IReadOnlyList<PracticeQuestion>>(text),
                // They are written once.
                new ValueComparer<IReadOnlyList<PracticeQuestion>>(
                    (a, b) => ReferenceEquals(a, b),
                    q => q.Count,
                    q => q
                )
            );
        builder.HasMany(r => r.Moves).WithOne().HasForeignKey(m => m.RunId).OnDelete(DeleteBehavior.Restrict);
    }

    public void Configure(EntityTypeBuilder<PracticeMove> builder)
    {
        builder.ToTable("practice_moves", t => t.HasCheckConstraint("ck_practice_moves_sequence", "sequence >= 1"));
        builder.HasKey(m => new { m.RunId, m.Sequence });
        builder.HasIndex(m => new { m.RunId, m.RequestId }).IsUnique();
        builder.Property(m => m.Text).HasMaxLength(Move.MaxLength);
        builder.Property(m => m.InTheWay).HasMaxLength(80);
        builder.HasIndex(m => m.InTheWay).HasFilter("in_the_way IS NOT NULL");
    }

    public void Configure(EntityTypeBuilder<PracticeTopic> builder)
    {
        builder.ToTable("practice_topics");
        builder.HasKey(t => new { t.RunId, t.Topic });
        builder.Property(t => t.Topic).HasMaxLength(Topics.MaxLength);
        builder.HasOne<PracticeRun>().WithMany().HasForeignKey(t => t.RunId).OnDelete(DeleteBehavior.Restrict);
    }
}
