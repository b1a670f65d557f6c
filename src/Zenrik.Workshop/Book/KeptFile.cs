using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.ChangeTracking;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Zenrik.Core.Importing;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Workshop.Book;

/// <summary>How a file is read, as a person has decided it.</summary>
/// <param name="Days">Where its days can be read both ways; null: not decided.</param>
/// <param name="Site">For rows that say none.</param>
/// <param name="Bought">For rows that say no day.</param>
/// <param name="UnknownModels">What models are that nobody has entered; null: rows of them are refused.</param>
public sealed record FileSettings(
    DayOrder? Days = null,
    string? Site = null,
    DateOnly? Bought = null,
    DeviceClass? UnknownModels = null
);

/// <summary>
/// A file somebody wants taken in: kept from the moment it is sent until it is taken, so that what is looked at is what is
/// taken, whichever instance answers. Its content goes when it was taken, or after a week.
/// </summary>
public sealed class KeptFile
{
    public const int MaxName = 120;

    public required Guid Id { get; init; }

    /// <summary>What kind of list it is: <see cref="Sheet.Id"/>.</summary>
    public required string SheetId { get; init; }

    public required string Name { get; init; }

    /// <summary>Null once it was taken in.</summary>
    public byte[]? Content { get; set; }

    public required DateTimeOffset At { get; init; }

    public required Guid ById { get; init; }

    public Technician By { get; init; } = null!;

    /// <summary>By heading (<see cref="ColumnMatch.Plain"/>) the column it is; empty: left out. What a person chose stands for the next file too.</summary>
    public Dictionary<string, string> Columns { get; set; } = [];

    public FileSettings Settings { get; set; } = new();

    public DateTimeOffset? TakenAt { get; set; }

    /// <summary>What came of it, as a sentence.</summary>
    public string? Said { get; set; }
}

internal sealed class KeptFileConfiguration : IEntityTypeConfiguration<KeptFile>
{
    public void Configure(EntityTypeBuilder<KeptFile> builder)
    {
        builder.ToTable("kept_files");
        builder.Property(f => f.SheetId).HasMaxLength(24);
        builder.Property(f => f.Name).HasMaxLength(KeptFile.MaxName);
        builder.Property(f => f.Said).HasColumnType("text");
        builder
            .Property(f => f.Columns)
            .HasColumnType("jsonb")
            .HasConversion(
                c => StoredJson.Write(c),
                c => StoredJson.Read<Dictionary<string, string>>(c),
                new ValueComparer<Dictionary<string, string>>(
                    (a, b) => StoredJson.Write(a) == StoredJson.Write(b),
                    c => StoredJson.Write(c).GetHashCode(StringComparison.Ordinal),
                    c => new Dictionary<string, string>(c)
                )
            );
        builder
            .Property(f => f.Settings)
            .HasColumnType("jsonb")
            .HasConversion(s => StoredJson.Write(s), s => StoredJson.Read<FileSettings>(s));
        builder.HasIndex(f => new { f.SheetId, f.TakenAt });
        builder.HasOne(f => f.By).WithMany().HasForeignKey(f => f.ById).OnDelete(DeleteBehavior.Restrict);
    }
}
