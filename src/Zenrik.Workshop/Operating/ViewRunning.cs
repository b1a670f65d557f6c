using Microsoft.EntityFrameworkCore;
using Zenrik.Workshop.Preparing;

namespace Zenrik.Workshop.Operating;

/// <summary>What PostgreSQL says of itself.</summary>
/// <param name="Bytes">Of this database on its disk.</param>
/// <param name="Connections">To all its databases, of <paramref name="Most"/> there may be.</param>
/// <param name="Replicas">Servers that follow this one, as far as this role may see them.</param>
/// <param name="Synchronous">True when a commit waits for one of them.</param>
public sealed record DatabaseFacts(
    string Version,
    long Bytes,
    int Connections,
    int Most,
    int Replicas,
    bool Synchronous
);

/// <summary>A table and its room.</summary>
/// <param name="Rows">As PostgreSQL last estimated.</param>
/// <param name="Bytes">With its indexes.</param>
public sealed record TableSize(string Name, long Rows, long Bytes);

/// <summary>What went wrong of a kind at a place, and when last.</summary>
public sealed record MishapLine(string Kind, string Place, int Count, DateTimeOffset LastAt);

/// <summary>How the program runs: who serves, on what, and what went wrong.</summary>
/// <param name="Instances">Those heard of lately, the longest-serving first.</param>
/// <param name="Largest">Tables, the largest first.</param>
/// <param name="Since">From when on mishaps are counted.</param>
/// <param name="Mishaps">Of a fortnight, the most frequent first.</param>
public sealed record Running(
    IReadOnlyList<Instance> Instances,
    DatabaseFacts Database,
    IReadOnlyList<TableSize> Largest,
    IReadOnlyList<Chore> Chores,
    BackupRecord? Backup,
    DateOnly Since,
    IReadOnlyList<MishapLine> Mishaps
);

/// <summary>Answers what somebody asks who runs the program.</summary>
public sealed class ViewRunning(WorkshopDb db, ViewBeginning beginning, TimeProvider clock)
{
    private const int Days = 14;
    private const int Tables = 8;

    public async Task<Running> Run(CancellationToken stop = default)
    {
        var now = clock.GetUtcNow();
        var (gone, since) = (now - ThisInstance.Gone, DateOnly.FromDateTime(now.UtcDateTime).AddDays(-Days));
        var mishaps = await db
            .Mishaps.AsNoTracking()
            .Where(m => m.Day > since)
            .GroupBy(m => new { m.Kind, m.Place })
            .Select(g => new
            {
                g.Key.Kind,
                g.Key.Place,
                Count = g.Sum(m => m.Count),
                LastAt = g.Max(m => m.LastAt),
            })
            .OrderByDescending(m => m.Count)
            .Take(20)
            .ToListAsync(stop);
        return new Running(
            await db
                .Instances.AsNoTracking()
                .Where(i => i.SeenAt > gone)
                .OrderBy(i => i.StartedAt)
                .Take(50)
                .ToListAsync(stop),
            await db
                .Database.SqlQuery<DatabaseFacts>(
                    $"""
                    SELECT current_setting('server_version') AS version,
                           pg_database_size(current_database()) AS bytes,
                           (SELECT count(*)::int FROM pg_stat_activity WHERE backend_type = 'client backend') AS connections,
                           current_setting('max_connections')::int AS most,
                           (SELECT count(*)::int FROM pg_stat_replication) AS replicas,
                           current_setting('synchronous_standby_names') <> '' AS synchronous
                    """
                )
                .SingleAsync(stop),
            await db
                .Database.SqlQuery<TableSize>(
                    $"""
                    SELECT relname AS name, greatest(reltuples, 0)::bigint AS rows, pg_total_relation_size(oid) AS bytes
                    FROM pg_class WHERE relkind = 'r' AND relnamespace = 'public'::regnamespace
                    ORDER BY 3 DESC LIMIT {Tables}
                    """
                )
                .ToListAsync(stop),
            await db.Chores.AsNoTracking().OrderBy(c => c.Name).ToListAsync(stop),
            await beginning.LastBackup(stop),
            since.AddDays(1),
            mishaps.ConvertAll(m => new MishapLine(m.Kind, m.Place, m.Count, m.LastAt))
        );
    }
}
