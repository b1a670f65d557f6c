using Microsoft.EntityFrameworkCore;

namespace Zenrik.Workshop.Operating;

/// <summary>This running program, as the book knows it.</summary>
/// <param name="Version">As CHANGELOG.md lists it.</param>
public sealed record ThisInstance(Guid Id, string Name, string Version, DateTimeOffset StartedAt)
{
    /// <summary>An instance that has not been heard of for so long is gone.</summary>
    public static readonly TimeSpan Gone = TimeSpan.FromMinutes(2);

    /// <summary>This process, begun now.</summary>
    public static ThisInstance Of(DateTimeOffset now)
    {
        var version = typeof(ThisInstance).Assembly.GetName().Version!.ToString(3);
        var name = $"{Environment.MachineName} {Environment.ProcessId}";
        return new ThisInstance(
            Guid.CreateVersion7(),
            name.Length > Instance.MaxName ? name[..Instance.MaxName] : name,
            version,
            now
        );
    }
}

/// <summary>Says now and then that this instance serves, and counts what went wrong in it.</summary>
/// <remarks>Each is one statement outside the pipeline of writes: nobody did it, and losing one loses nothing.</remarks>
public sealed class SayServing(WorkshopDb db, ThisInstance me, TimeProvider clock)
{
    public Task Run(CancellationToken stop = default)
    {
        var now = clock.GetUtcNow();
        return db.Database.ExecuteSqlAsync(
            $"""
            INSERT INTO instances (id, name, version, started_at, seen_at)
            VALUES ({me.Id}, {me.Name}, {me.Version}, {me.StartedAt}, {now})
            ON CONFLICT (id) DO UPDATE SET seen_at = EXCLUDED.seen_at
            """,
            stop
        );
    }

    /// <summary>The program ends in order.</summary>
    public Task Ends(CancellationToken stop = default) =>
        db.Instances.Where(i => i.Id == me.Id).ExecuteDeleteAsync(stop);

    /// <param name="kind">The exception's name.</param>
    /// <param name="place">Method and route, without what was in it.</param>
    public Task Mishap(string kind, string place, CancellationToken stop = default)
    {
        var now = clock.GetUtcNow();
        var day = DateOnly.FromDateTime(now.UtcDateTime);
        kind = kind.Length > Book.Mishap.MaxKind ? kind[..Book.Mishap.MaxKind] : kind;
        place = place.Length > Book.Mishap.MaxPlace ? place[..Book.Mishap.MaxPlace] : place;
        return db.Database.ExecuteSqlAsync(
            $"""
            INSERT INTO mishaps (day, kind, place, count, last_at) VALUES ({day}, {kind}, {place}, 1, {now})
            ON CONFLICT (day, kind, place) DO UPDATE SET count = mishaps.count + 1, last_at = EXCLUDED.last_at
            """,
            stop
        );
    }
}
