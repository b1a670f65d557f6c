using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace Zenrik.Workshop;

/// <summary>Tells which of the database's rules a save ran into.</summary>
internal static class Conflicts
{
    /// <summary>True when the save was refused by the unique index or constraint of this name.</summary>
    public static bool Broke(this DbUpdateException exception, string constraint) =>
        exception.InnerException is PostgresException { SqlState: PostgresErrorCodes.UniqueViolation } e
        && e.ConstraintName == constraint;

    /// <summary>
    /// Does a transaction again when PostgreSQL chose it to break a deadlock, which undid all of it. Rows are locked in one
    /// order where they are known beforehand; a count and a promise can still meet crosswise.
    /// </summary>
    /// <param name="work">Begins and ends its own transaction.</param>
    public static async Task<T> Again<T>(WorkshopDb db, Func<Task<T>> work)
    {
        const int most = 5;
        for (var attempt = 1; ; attempt++)
        {
            try
            {
                return await work();
            }
            catch (Exception e) when (attempt < most && IsDeadlock(e))
            {
                db.ChangeTracker.Clear();
            }
        }
    }

    private static bool IsDeadlock(Exception exception) =>
        exception is PostgresException { SqlState: PostgresErrorCodes.DeadlockDetected }
        || (exception.InnerException is { } inner && IsDeadlock(inner));
}
