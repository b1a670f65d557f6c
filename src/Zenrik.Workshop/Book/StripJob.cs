using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Zenrik.Core.Stock;
using Zenrik.Core.Teardown;

namespace Zenrik.Workshop.Book;

/// <summary>A donor that somebody at the bench is to take parts out of. One to a donor.</summary>
public sealed class StripJob
{
    public required UnitId UnitId { get; init; }

    public Unit Unit { get; init; } = null!;

    /// <summary>What is to come out and has not yet; at least one.</summary>
    public required string[] Slots { get; set; }

    /// <summary>Numbers of the repairs that wait for it; none where it is only expected to be wanted.</summary>
    public required long[] For { get; set; }

    /// <summary>To open the machine and take that out, as planned when it was asked for.</summary>
    public required Minutes Minutes { get; set; }

    public required DateTimeOffset AskedAt { get; set; }

    /// <summary>Who alone is to do it; null: whoever the calendar chooses.</summary>
    public Guid? AssignedToId { get; set; }

    /// <summary>Its place among what is pinned to them, the smallest first; null exactly when nobody was chosen.</summary>
    public int? Rank { get; set; }

    /// <summary>What the calendar calls it.</summary>
    public string Code => $"{Prefix}{Unit.Tag}";

    /// <summary>The donor's tag in such a code; null when the text is none.</summary>
    public static string? TagOf(string? code) =>
        code?.StartsWith(Prefix, StringComparison.OrdinalIgnoreCase) == true ? code[Prefix.Length..].Trim() : null;

    private const string Prefix = "strip ";

    /// <summary>What is to come out, in words.</summary>
    public string Parts => string.Join(", ", Slots.Select(s => s.Replace('-', ' ')));
}

internal sealed class StripJobConfiguration : IEntityTypeConfiguration<StripJob>
{
    public void Configure(EntityTypeBuilder<StripJob> builder)
    {
        builder.ToTable(
            "strip_jobs",
            t =>
            {
                t.HasCheckConstraint("ck_strip_jobs_something", "cardinality(slots) > 0");
                t.HasCheckConstraint("ck_strip_jobs_pinned", "(rank IS NULL) = (assigned_to_id IS NULL)");
            }
        );
        builder.HasKey(s => s.UnitId);
        builder.HasOne(s => s.Unit).WithOne().HasForeignKey<StripJob>(s => s.UnitId).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne<Technician>().WithMany().HasForeignKey(s => s.AssignedToId).OnDelete(DeleteBehavior.Restrict);
        builder.ComplexProperty(s => s.Minutes);
    }
}
