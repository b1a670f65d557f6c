using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Zenrik.Workshop.Demo;

/// <summary>Says that this database holds the demo world. At most one row.</summary>
public sealed class DemoMark
{
    public int Id { get; init; } = 1;

    /// <summary>False while it is being made; a start that finds it so begins again.</summary>
    public bool Complete { get; set; }
}

internal sealed class DemoMarkConfiguration : IEntityTypeConfiguration<DemoMark>
{
    public void Configure(EntityTypeBuilder<DemoMark> builder)
    {
        builder.Property(m => m.Id).ValueGeneratedNever();
        builder.ToTable(t => t.HasCheckConstraint("ck_demo_marks_single", "id = 1"));
    }
}

/// <summary>The sign-ins to show while the demo world is loaded.</summary>
public sealed class DemoSignIns(WorkshopDb db)
{
    /// <returns>Sign-in name, shown name and role; empty in a real workshop.</returns>
    public async Task<IReadOnlyList<(string SignIn, string Name, string Role)>> Run(CancellationToken stop = default) =>
        await db.DemoMarks.AnyAsync(m => m.Complete, stop) ? LoadDemo.People : [];
}
