using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Zenrik.Workshop.Book;

/// <summary>A running program that serves this book, as it last said so itself.</summary>
public sealed class Instance
{
    public const int MaxName = 80;

    public required Guid Id { get; init; }

    /// <summary>The machine's name and the process's number on it.</summary>
    public required string Name { get; init; }

    public required string Version { get; init; }

    public required DateTimeOffset StartedAt { get; init; }

    public required DateTimeOffset SeenAt { get; set; }
}

/// <summary>Something that went wrong in the program itself, counted by day, kind and place.</summary>
public sealed class Mishap
{
    public const int MaxKind = 80;
    public const int MaxPlace = 120;

    public required DateOnly Day { get; init; }

    /// <summary>The exception's name. What it said may name people, so it stands in the log alone.</summary>
    public required string Kind { get; init; }

    /// <summary>Method and route, without what was in it: "POST /repairs/{code}".</summary>
    public required string Place { get; init; }

    public required int Count { get; set; }

    public required DateTimeOffset LastAt { get; set; }
}

/// <summary>Work nobody asks for, done by whichever instance comes first.</summary>
public sealed class Chore
{
    public const int MaxSaid = 300;

    public required string Name { get; init; }

    public required DateTimeOffset At { get; set; }

    /// <summary>By name, as in <see cref="Instance.Name"/>.</summary>
    public required string By { get; set; }

    public required double Seconds { get; set; }

    /// <summary>What came of it, a sentence.</summary>
    public required string Said { get; set; }
}

internal sealed class ServingConfiguration
    : IEntityTypeConfiguration<Instance>,
        IEntityTypeConfiguration<Mishap>,
        IEntityTypeConfiguration<Chore>
{
    public void Configure(EntityTypeBuilder<Instance> builder)
    {
        builder.ToTable("instances");
        builder.Property(i => i.Name).HasMaxLength(Instance.MaxName);
        builder.Property(i => i.Version).HasMaxLength(20);
    }

    public void Configure(EntityTypeBuilder<Mishap> builder)
    {
        builder.ToTable("mishaps");
        builder.HasKey(m => new
        {
            m.Day,
            m.Kind,
            m.Place,
        });
        builder.Property(m => m.Kind).HasMaxLength(Mishap.MaxKind);
        builder.Property(m => m.Place).HasMaxLength(Mishap.MaxPlace);
    }

    public void Configure(EntityTypeBuilder<Chore> builder)
    {
        builder.ToTable("chores");
        builder.HasKey(c => c.Name);
        builder.Property(c => c.Name).HasMaxLength(40);
        builder.Property(c => c.By).HasMaxLength(Instance.MaxName);
        builder.Property(c => c.Said).HasMaxLength(Chore.MaxSaid);
    }
}
