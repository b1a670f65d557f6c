using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Zenrik.Workshop.Book;

/// <summary>A house rule the workshop has decided; rules without a row are at their default.</summary>
public sealed class HouseChoice
{
    public required string RuleId { get; init; }

    public required string SchoolId { get; set; }

    public required DateTimeOffset At { get; set; }

    public required Guid ById { get; set; }

    public Technician By { get; init; } = null!;
}

internal sealed class HouseChoiceConfiguration : IEntityTypeConfiguration<HouseChoice>
{
    public void Configure(EntityTypeBuilder<HouseChoice> builder)
    {
        builder.HasKey(c => c.RuleId);
        builder.Property(c => c.RuleId).HasMaxLength(40);
        builder.Property(c => c.SchoolId).HasMaxLength(40);
        builder.HasOne(c => c.By).WithMany().HasForeignKey(c => c.ById).OnDelete(DeleteBehavior.Restrict);
    }
}
