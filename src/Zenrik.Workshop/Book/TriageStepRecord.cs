using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Stock;
using Zenrik.Core.Triage;

namespace Zenrik.Workshop.Book;

/// <summary>One step of a repair's triage. Steps taken back stay, marked; the others make the belief.</summary>
public sealed class TriageStepRecord
{
    public long Id { get; init; }

    public required RepairId RepairId { get; init; }

    /// <summary>Made up by the page: the same request sent twice is one step.</summary>
    public required Guid RequestId { get; init; }

    /// <summary>Id of a test, or null for a remedy.</summary>
    public string? Test { get; init; }

    public string? Remedy { get; init; }

    /// <summary>For a test the outcome seen, null when it could not be told; for a remedy "cured" or null.</summary>
    public string? Answer { get; init; }

    public required DateTimeOffset At { get; init; }

    public required Guid ById { get; init; }

    public Technician By { get; init; } = null!;

    public DateTimeOffset? TakenBackAt { get; set; }

    public TriageStep Step =>
        Test is not null ? new TriageStep.Tested(Test, Answer) : new TriageStep.Tried(Remedy!, Answer is not null);
}

/// <summary>From when on closed repairs count for a class again: what was learned before is set aside.</summary>
public sealed class LearnedReset
{
    public required DeviceClass Class { get; init; }

    public required DateTimeOffset At { get; set; }

    public required Guid ById { get; set; }

    public Technician By { get; init; } = null!;
}

internal sealed class TriageStepConfiguration : IEntityTypeConfiguration<TriageStepRecord>
{
    public void Configure(EntityTypeBuilder<TriageStepRecord> builder)
    {
        builder.ToTable(
            "triage_steps",
            t => t.HasCheckConstraint("ck_triage_steps_one", "(test IS NULL) <> (remedy IS NULL)")
        );
        builder.Property(s => s.Test).HasMaxLength(40);
        builder.Property(s => s.Remedy).HasMaxLength(40);
        builder.Property(s => s.Answer).HasMaxLength(40);
        builder.Ignore(s => s.Step);
        builder.HasIndex(s => s.RequestId).IsUnique();
        builder.HasIndex(s => s.RepairId);
        builder.HasOne(s => s.By).WithMany().HasForeignKey(s => s.ById).OnDelete(DeleteBehavior.Restrict);
    }
}

internal sealed class LearnedResetConfiguration : IEntityTypeConfiguration<LearnedReset>
{
    public void Configure(EntityTypeBuilder<LearnedReset> builder)
    {
        builder.HasKey(r => r.Class);
        builder.HasOne(r => r.By).WithMany().HasForeignKey(r => r.ById).OnDelete(DeleteBehavior.Restrict);
    }
}
