using Microsoft.EntityFrameworkCore;

namespace Zenrik.Workshop.Book;

/// <summary>
/// What the database lets the running program do: read and write rows, never change tables, and never change or delete
/// what is history. Somebody who takes over the program cannot do more than that either.
/// </summary>
public static class RuntimeRights
{
    /// <summary>Tables to which rows are only added.</summary>
    public static IReadOnlyList<string> AppendOnly { get; } =
    [
        "movements",
        "bench_entries",
        "service_map_revisions",
        "draft_steps",
        "unit_events",
        "battery_readings",
        "audit_lines",
        "repair_notes",
    ];

    /// <summary>Gives them to a role that exists, and takes everything else away. Run by the owner, after each migration.</summary>
    internal static async Task Grant(WorkshopDb db, string role, CancellationToken stop)
    {
        var to = $"\"{role.Replace("\"", "\"\"", StringComparison.Ordinal)}\"";
        // Names cannot be parameters; the role's is quoted above, the tables' are written here.
        var grants = $"""
            GRANT USAGE ON SCHEMA public TO {to};
            REVOKE ALL ON ALL TABLES IN SCHEMA public FROM {to};
            GRANT SELECT, INSERT, UPDATE, DELETE ON ALL TABLES IN SCHEMA public TO {to};
            REVOKE UPDATE, DELETE ON {string.Join(", ", AppendOnly)} FROM {to};
            REVOKE INSERT, UPDATE, DELETE ON "__EFMigrationsHistory" FROM {to};
            GRANT USAGE, SELECT ON ALL SEQUENCES IN SCHEMA public TO {to};
            """;
        await db.Database.ExecuteSqlRawAsync(grants, stop);
    }
}
