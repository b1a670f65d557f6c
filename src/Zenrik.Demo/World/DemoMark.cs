using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace Zenrik.Demo.World;

/// <summary>
/// Says that a database holds the demo world: a table of its own with at most one row, which the product does not know.
/// False in it while the world is being made.
/// </summary>
internal static class DemoMark
{
    private const string Table = """
        CREATE TABLE IF NOT EXISTS demo_marks (
            id integer CONSTRAINT pk_demo_marks PRIMARY KEY CONSTRAINT ck_demo_marks_single CHECK (id = 1),
            complete boolean NOT NULL)
        """;

    /// <summary>Makes the table where it is missing.</summary>
    public static Task Ensure(WorkshopDb db, CancellationToken stop) => db.Database.ExecuteSqlRawAsync(Table, stop);

    /// <returns>True when the world is whole, false when it is half made, null when there is none.</returns>
    public static async Task<bool?> Find(WorkshopDb db, CancellationToken stop) =>
        await db.Database.SqlQuery<bool>($"SELECT complete AS \"Value\" FROM demo_marks").ToListAsync(stop)
            is [var whole]
            ? whole
            : null;

    /// <summary>True when the world is there and whole; also asked of a database that never heard of it.</summary>
    public static async Task<bool> IsLoaded(WorkshopDb db, CancellationToken stop = default)
    {
        try
        {
            return await Find(db, stop) == true;
        }
        catch (PostgresException e) when (e.SqlState == PostgresErrorCodes.UndefinedTable)
        {
            return false;
        }
    }

    public static Task Set(WorkshopDb db, bool complete, CancellationToken stop) =>
        db.Database.ExecuteSqlAsync(
            $"INSERT INTO demo_marks (id, complete) VALUES (1, {complete}) ON CONFLICT (id) DO UPDATE SET complete = EXCLUDED.complete",
            stop
        );
}
