using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Zenrik.Workshop.Book;

/// <summary>A backup that was made and tried, noted by the command that made it.</summary>
public sealed class BackupRecord
{
    public long Id { get; init; }

    public required DateTimeOffset At { get; init; }

    /// <summary>The file's name, without its folder.</summary>
    public required string File { get; init; }

    public required long Bytes { get; init; }

    /// <summary>Of all tables together.</summary>
    public required long Rows { get; init; }

    /// <summary>A backup older than this is too old.</summary>
    public const int Days = 7;

    public bool IsOld(DateTimeOffset now) => now - At > TimeSpan.FromDays(Days);
}

internal sealed class BackupRecordConfiguration : IEntityTypeConfiguration<BackupRecord>
{
    public void Configure(EntityTypeBuilder<BackupRecord> builder)
    {
        builder.ToTable("backups");
        builder.Property(b => b.File).HasMaxLength(200);
    }
}
