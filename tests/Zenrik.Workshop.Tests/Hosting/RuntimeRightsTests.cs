using Microsoft.EntityFrameworkCore;
using Npgsql;
using Zenrik.Core;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Tests;

/// <summary>What the running program's role can do, tried with its own connection.</summary>
public sealed class RuntimeRightsTests(TemplateDatabase template)
{
    [Fact]
    public async Task The_program_writes_rows_and_can_neither_change_tables_nor_history()
    {
        await using var owner = await template.NewBook();
        var role = $"r{Guid.NewGuid():N}";
        await owner.Sql($"CREATE ROLE {role} LOGIN PASSWORD 'x'");
        try
        {
            await owner.Ask(async db =>
            {
                await RuntimeRights.Grant(db, role, default);
                return 0;
            });
            var connection = new NpgsqlConnectionStringBuilder(owner.Connection) { Username = role, Password = "x" };
            await using var book = Book.Open(connection.ConnectionString);
            foreach (var table in RuntimeRights.AppendOnly)
            {
                var column = await owner.Ask(db =>
                    db.Database.SqlQuery<string>(
                            $"SELECT column_name::text AS \"Value\" FROM information_schema.columns WHERE table_name = {table} LIMIT 1"
                        )
                        .SingleAsync()
                );
                foreach (
                    var sql in new[]
                    {
                        $"DELETE FROM {table}",
                        $"UPDATE {table} SET {column} = {column}",
                        $"TRUNCATE {table}",
                        $"ALTER TABLE {table} DISABLE TRIGGER ALL",
                        $"DROP TABLE {table}",
                    }
                )
                {
                    (await book.Sql(sql))
                        .ShouldNotBeNull(sql)
                        .ShouldMatch("permission denied|must be (owner|superuser)", sql);
                }
            }

            foreach (
                var sql in new[]
                {
                    "CREATE TABLE mine (a int)",
                    "CREATE FUNCTION f() RETURNS int LANGUAGE sql AS 'SELECT 1'",
                    "ALTER TABLE units ADD COLUMN a int",
                    "DELETE FROM \"__EFMigrationsHistory\"",
                    "COPY units TO PROGRAM 'cat'",
                    "SELECT pg_read_file('/etc/passwd')",
                    "CREATE ROLE another",
                }
            )
            {
                (await book.Sql(sql))
                    .ShouldNotBeNull(sql)
                    .ShouldMatch("permission denied|must be (owner|superuser)", sql);
            }

            // And it can do the workshop's work.
            var aled = await book.Person("aled");
            (await book.OnBench(aled, "battery", "battery worn")).ShouldBeGreaterThan(0);
            (await book.Do<AddBin, Outcome<string>>(b => b.Shelf("R-01", book.Lead))).Refusal.ShouldBeNull();
        }
        finally
        {
            await owner.Sql($"DROP OWNED BY {role}; DROP ROLE {role}");
        }
    }

    [Fact]
    public async Task Every_table_that_refuses_changes_by_a_trigger_is_one_of_those()
    {
        await using var book = await template.NewBook();
        var guarded = await book.Ask(db =>
            db.Database.SqlQuery<string>(
                    $"SELECT c.relname::text AS \"Value\" FROM pg_trigger t JOIN pg_class c ON c.oid = t.tgrelid WHERE t.tgname LIKE '%_append_only' ORDER BY 1"
                )
                .ToListAsync()
        );
        guarded.ShouldBe(RuntimeRights.AppendOnly.Order(StringComparer.Ordinal));
    }
}
