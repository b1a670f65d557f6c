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
}
