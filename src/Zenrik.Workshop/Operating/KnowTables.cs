using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace Zenrik.Workshop.Operating;

/// <summary>
/// Whether this program and these tables go together. Tables first grow what a newer program needs, which an older one does
/// not see; what an older one needs is taken away only a version later, and then the tables say which is the least.
/// </summary>
public sealed class KnowTables(WorkshopDb db)
{
    /// <summary>Before the least version, in the comment on the table of migrations.</summary>
    public const string Least = "zenrik from ";

    /// <returns>Why this program must not serve these tables, with what to do; null: it may, or nothing answers.</returns>
    /// <param name="version">This program's.</param>
    public async Task<string?> Refusal(Version version, CancellationToken stop = default)
    {
        List<string> applied;
        string? comment;
        try
        {
            applied = [.. await db.Database.GetAppliedMigrationsAsync(stop)];
            comment = await db
                .Database.SqlQuery<string?>(
                    $"""SELECT obj_description(to_regclass('"__EFMigrationsHistory"')) AS "Value" """
                )
                .SingleAsync(stop);
        }
        catch (Exception e) when (e.GetBaseException() is NpgsqlException or System.Net.Sockets.SocketException)
        {
            // Away for now: pages say so, and serve when it is back.
            return null;
        }

        var missing = db.Database.GetMigrations().Except(applied).ToList();
        if (missing.Count > 0)
        {
            return applied.Count == 0
                ? "The database is empty. Run \"prepare\" first: it makes the tables."
                : $"The tables are of an older version: {missing.Count} of their changes are missing, the first is {missing[0]}. Run \"prepare\" first.";
        }

        return
            comment?.StartsWith(Least, StringComparison.Ordinal) == true
            && Version.TryParse(comment[Least.Length..], out var least)
            && version < least
            ? $"The tables have been changed for version {least} and later; this is {version}. Start a newer program, or go back to the backup from before."
            : null;
    }
}
