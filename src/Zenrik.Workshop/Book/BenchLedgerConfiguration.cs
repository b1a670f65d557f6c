using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Zenrik.Core.BenchLedger;

namespace Zenrik.Workshop.Book;

internal sealed class BenchSessionConfiguration : IEntityTypeConfiguration<BenchSession>
{
    public void Configure(EntityTypeBuilder<BenchSession> builder)
    {
        builder.HasIndex(s => s.RepairId).IsUnique();
        builder.HasOne(s => s.StartedBy).WithMany().HasForeignKey(s => s.StartedById).OnDelete(DeleteBehavior.Restrict);
        builder
            .HasOne<ServiceMapRevision>()
            .WithMany()
            .HasForeignKey(s => new { s.ModelCode, s.MapRevision })
            .OnDelete(DeleteBehavior.Restrict);
        // What a model's times are learned from, newest first.
        builder.HasIndex(s => new { s.ModelCode, s.StartedAt });
        builder.Ignore(s => s.IsFree);
        builder.HasMany(s => s.Entries).WithOne().HasForeignKey(e => e.SessionId).OnDelete(DeleteBehavior.Restrict);
    }
}

internal sealed class BenchEntryConfiguration : IEntityTypeConfiguration<BenchEntry>
{
    public void Configure(EntityTypeBuilder<BenchEntry> builder)
    {
        builder.HasKey(e => new { e.SessionId, e.Sequence });
        builder.HasIndex(e => new { e.SessionId, e.RequestId }).IsUnique();
        builder.HasOne<Technician>().WithMany().HasForeignKey(e => e.ById).OnDelete(DeleteBehavior.Restrict);
        builder.Property(e => e.Text).HasMaxLength(Ledger.MaxNote);
        builder.Property(e => e.Cause).HasMaxLength(24);
        builder.Property(e => e.Goal).HasColumnType("text");
        builder.Property(e => e.Item).HasMaxLength(24);
        builder.ToTable(t => t.HasCheckConstraint("ck_bench_entries_sequence", "sequence >= 1"));
    }
}
