using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Zenrik.Core.Fleet;

namespace Zenrik.Workshop.Book;

internal sealed class UnitConfiguration : IEntityTypeConfiguration<Unit>
{
    public void Configure(EntityTypeBuilder<Unit> builder)
    {
        builder.Property(u => u.Tag).HasMaxLength(UnitTag.MaxLength);
        builder.Property(u => u.Serial).HasMaxLength(64);
        builder.Property(u => u.Site).HasMaxLength(SiteName.MaxLength);
        builder.Ignore(u => u.Facts);
        builder.Property(u => u.UserName).HasMaxLength(UnitUser.MaxLength);
        builder.HasIndex(u => u.Tag).IsUnique();
        builder.HasIndex(u => u.Serial).IsUnique();
        // Every order and filter of the fleet's list walks one of these; the tag makes the order total.
        builder.HasIndex(u => new { u.ModelCode, u.Tag });
        builder.HasIndex(u => new { u.Site, u.Tag });
        builder.HasIndex(u => new { u.State, u.Tag });
        builder.HasIndex(u => new { u.BoughtOn, u.Tag });
        // What is searched as one types, in one text.
        builder
            .Property<string>(Unit.SearchText)
            .HasComputedColumnSql(
                "lower(tag || ' ' || serial || ' ' || coalesce(user_name, '') || ' ' || site)",
                stored: true
            );
        builder
            .HasIndex(Unit.SearchText)
            .HasDatabaseName("ix_units_search_trigrams")
            .HasMethod("gin")
            .HasOperators("gin_trgm_ops");
        // Indexes for "did you mean" stand in Migrations/book.sql: see ResolveCode.
        builder.HasOne(u => u.Model).WithMany().HasForeignKey(u => u.ModelCode).OnDelete(DeleteBehavior.Restrict);
        // The loan pool is small beside a fleet.
        builder
            .HasIndex(u => u.Tag, "ix_units_loan_pool")
            .HasDatabaseName("ix_units_loan_pool")
            .HasFilter("in_loan_pool");
    }
}

internal sealed class UnitLookConfiguration : IEntityTypeConfiguration<UnitLook>
{
    public void Configure(EntityTypeBuilder<UnitLook> builder)
    {
        builder.HasKey(l => new { l.UnitId, l.Trait });
        builder.Property(l => l.Trait).HasMaxLength(40);
        builder.Property(l => l.Look).HasMaxLength(40);
        builder.HasOne<Unit>().WithMany(u => u.Looks).HasForeignKey(l => l.UnitId).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne(l => l.By).WithMany().HasForeignKey(l => l.ById).OnDelete(DeleteBehavior.Restrict);
    }
}

internal sealed class UnitEventConfiguration : IEntityTypeConfiguration<UnitEvent>
{
    public void Configure(EntityTypeBuilder<UnitEvent> builder)
    {
        builder.Property(e => e.Text).HasMaxLength(UnitEvent.MaxText);
        builder.HasIndex(e => new { e.UnitId, e.Id });
        builder.HasOne<Unit>().WithMany().HasForeignKey(e => e.UnitId).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne(e => e.By).WithMany().HasForeignKey(e => e.ById).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne(e => e.Repair).WithMany().HasForeignKey(e => e.RepairId).OnDelete(DeleteBehavior.Restrict);
    }
}

internal sealed class LoanConfiguration : IEntityTypeConfiguration<Loan>
{
    public void Configure(EntityTypeBuilder<Loan> builder)
    {
        builder.Property(l => l.To).HasMaxLength(80);
        builder.HasOne(l => l.Unit).WithMany().HasForeignKey(l => l.UnitId).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne(l => l.OutBy).WithMany().HasForeignKey(l => l.OutById).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne(l => l.Repair).WithMany().HasForeignKey(l => l.RepairId).OnDelete(DeleteBehavior.Restrict);
        // One is with one borrower at a time.
        builder
            .HasIndex(l => l.UnitId, "ix_loans_one_out_per_unit")
            .HasDatabaseName("ix_loans_one_out_per_unit")
            .IsUnique()
            .HasFilter("back_at IS NULL");
        builder.HasIndex(l => l.UnitId);
    }
}

internal sealed class CampaignMarkConfiguration : IEntityTypeConfiguration<CampaignMark>
{
    public void Configure(EntityTypeBuilder<CampaignMark> builder)
    {
        builder.HasKey(m => new { m.UnitId, m.Campaign });
        builder.Property(m => m.Campaign).HasMaxLength(CampaignMark.MaxName);
        builder.HasIndex(m => m.Campaign);
        builder
            .HasOne<Unit>()
            .WithMany(u => u.Campaigns)
            .HasForeignKey(m => m.UnitId)
            .OnDelete(DeleteBehavior.Restrict);
    }
}

internal sealed class CampaignConfiguration : IEntityTypeConfiguration<Campaign>
{
    public void Configure(EntityTypeBuilder<Campaign> builder)
    {
        builder.HasKey(c => c.Name);
        builder.Ignore(c => c.Over);
        builder.Property(c => c.Name).HasMaxLength(CampaignMark.MaxName);
        builder.Property(c => c.Assembly).HasMaxLength(40);
        builder.Property(c => c.Why).HasMaxLength(Campaign.MaxWhy);
        builder.Property(c => c.EndedWhy).HasMaxLength(Campaign.MaxEndedWhy);
        builder
            .Property(c => c.Waves)
            .HasColumnType("jsonb")
            .HasConversion(w => StoredJson.Write(w), text => StoredJson.Read<WaveTerms>(text));
        builder.HasOne(c => c.StartedBy).WithMany().HasForeignKey(c => c.StartedById).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne<Technician>().WithMany().HasForeignKey(c => c.EndedById).OnDelete(DeleteBehavior.Restrict);
    }
}

internal sealed class BatteryRecordConfiguration : IEntityTypeConfiguration<BatteryRecord>
{
    public void Configure(EntityTypeBuilder<BatteryRecord> builder)
    {
        builder.ToTable("battery_readings");
        builder.Property(r => r.Model).HasMaxLength(64);
        builder.Property(r => r.Serial).HasMaxLength(64);
        builder.HasIndex(r => new { r.UnitId, r.At });
        builder.HasOne<Unit>().WithMany().HasForeignKey(r => r.UnitId).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne<Item>().WithMany().HasForeignKey(r => r.ItemId).OnDelete(DeleteBehavior.Restrict);
        builder.ToTable(t =>
            t.HasCheckConstraint(
                "ck_battery_readings_energies",
                "health >= 0 AND health <= 2 AND (full_wh IS NULL OR full_wh >= 0) AND (design_wh IS NULL OR design_wh > 0)"
            )
        );
    }
}

internal sealed class UnitQuestionConfiguration : IEntityTypeConfiguration<UnitQuestion>
{
    public void Configure(EntityTypeBuilder<UnitQuestion> builder)
    {
        builder.Property(q => q.Text).HasMaxLength(UnitQuestion.MaxText);
        builder.Property(q => q.Slot).HasMaxLength(40);
        builder.Property(q => q.Number).HasMaxLength(64);
        builder.Property(q => q.Serial).HasMaxLength(64);
        builder.HasOne(q => q.Unit).WithMany().HasForeignKey(q => q.UnitId).OnDelete(DeleteBehavior.Restrict);
        // The same question is asked once, however often the machine speaks.
        builder
            .HasIndex(q => new { q.UnitId, q.Text }, "ix_unit_questions_open")
            .HasDatabaseName("ix_unit_questions_open")
            .IsUnique()
            .HasFilter("decided_at IS NULL");
    }
}
