using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Zenrik.Core.Stock;

namespace Zenrik.Workshop.Book;

/// <summary>The hours somebody keeps at the bench each week.</summary>
public sealed class BenchHours
{
    public required Guid TechnicianId { get; init; }

    /// <summary>Monday first, as <see cref="Core.Scheduling.WeekHours"/> writes them.</summary>
    public required string[] Days { get; set; }
}

/// <summary>A time somebody is not at the bench, whatever their hours.</summary>
public sealed class Absence
{
    public required Guid Id { get; init; }

    public required Guid TechnicianId { get; init; }

    public Technician Technician { get; init; } = null!;

    public required DateTimeOffset From { get; init; }

    public required DateTimeOffset Until { get; init; }

    /// <summary>True when it came from a calendar, and goes when that is taken in again without it.</summary>
    public required bool FromCalendar { get; init; }
}

/// <summary>Work that somebody leaves to others; see <see cref="LeftToOthers"/>. No row: nothing.</summary>
public sealed class LeftWork
{
    public required Guid TechnicianId { get; init; }

    /// <summary>Codes of models.</summary>
    public required string[] Models { get; set; }

    /// <summary>Slots, or what several begin with.</summary>
    public required string[] Parts { get; set; }
}

/// <summary>A repair whose place in the order of whoever is to do it was chosen by a person.</summary>
public sealed class BenchPin
{
    public required RepairId RepairId { get; init; }

    /// <summary>The smallest first.</summary>
    public required int Rank { get; set; }
}

/// <summary>The best schedule found so far, for whichever instance is asked next. One row at most.</summary>
public sealed class SolvedWork
{
    public const int Only = 1;

    public required int Id { get; init; }

    /// <summary>SHA-256 of the work it is of: jobs, hands and hours.</summary>
    public required byte[] Of { get; set; }

    /// <summary>Of each hand the repairs in their order.</summary>
    public required Dictionary<Guid, List<string>> Orders { get; set; }

    /// <summary>No schedule is less late, in weighted minutes, as of then.</summary>
    public required long Bound { get; set; }

    /// <summary>What this one was, as of then.</summary>
    public required long Late { get; set; }

    public required DateTimeOffset At { get; set; }
}

internal sealed class BenchHoursConfiguration
    : IEntityTypeConfiguration<BenchHours>,
        IEntityTypeConfiguration<Absence>,
        IEntityTypeConfiguration<BenchPin>,
        IEntityTypeConfiguration<LeftWork>,
        IEntityTypeConfiguration<SolvedWork>
{
    public void Configure(EntityTypeBuilder<BenchHours> builder)
    {
        builder.ToTable("bench_hours", t => t.HasCheckConstraint("ck_bench_hours_week", "cardinality(days) = 7"));
        builder.HasKey(h => h.TechnicianId);
        builder
            .HasOne<Technician>()
            .WithOne()
            .HasForeignKey<BenchHours>(h => h.TechnicianId)
            .OnDelete(DeleteBehavior.Restrict);
    }

    public void Configure(EntityTypeBuilder<Absence> builder)
    {
        builder.ToTable("absences", t => t.HasCheckConstraint("ck_absences_forward", "\"until\" > \"from\""));
        builder.HasIndex(a => new { a.TechnicianId, a.Until });
        builder
            .HasOne(a => a.Technician)
            .WithMany()
            .HasForeignKey(a => a.TechnicianId)
            .OnDelete(DeleteBehavior.Restrict);
    }

    public void Configure(EntityTypeBuilder<BenchPin> builder)
    {
        builder.ToTable("bench_pins");
        builder.HasKey(p => p.RepairId);
        builder.HasOne<Repair>().WithOne().HasForeignKey<BenchPin>(p => p.RepairId).OnDelete(DeleteBehavior.Restrict);
    }

    public void Configure(EntityTypeBuilder<LeftWork> builder)
    {
        builder.ToTable("left_work");
        builder.HasKey(l => l.TechnicianId);
        builder
            .HasOne<Technician>()
            .WithOne()
            .HasForeignKey<LeftWork>(l => l.TechnicianId)
            .OnDelete(DeleteBehavior.Restrict);
    }

    public void Configure(EntityTypeBuilder<SolvedWork> builder)
    {
        builder.ToTable("solved_work", t => t.HasCheckConstraint("ck_solved_work_one", $"id = {SolvedWork.Only}"));
        builder.Property(w => w.Id).ValueGeneratedNever();
        builder
            .Property(w => w.Orders)
            .HasColumnType("jsonb")
            .HasConversion(o => StoredJson.Write(o), text => StoredJson.Read<Dictionary<Guid, List<string>>>(text));
    }
}
