using System.Net.Sockets;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;
using Zenrik.Core;
using Zenrik.Workshop.People;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Preparing;

/// <summary>Brings a database to the point where the program can serve it.</summary>
public sealed class PrepareDatabase(
    WorkshopDb db,
    UserManager<Technician> people,
    RoleManager<IdentityRole<Guid>> roles
)
{
    /// <summary>The same in every version: instances of two may start at the same time.</summary>
    private const long LockKey = 5217;

    /// <summary>Every step of the tables this version knows, oldest first.</summary>
    public static IEnumerable<string> Steps
    {
        get
        {
            // Nothing is asked of a database for that.
            var options = new DbContextOptionsBuilder<WorkshopDb>();
            WorkshopDb.Configure(options, "Host=none");
            using var db = new WorkshopDb(options.Options);
            return db.Database.GetMigrations();
        }
    }

    /// <summary>Migrates, gives rights, makes the standing bins and the roles.</summary>
    /// <param name="firstLead">True: where nobody signs in yet, a first lead is made.</param>
    /// <param name="role">Gets what the running program needs and no more; null: it runs as the owner.</param>
    /// <returns>Sentences for the person who started the program.</returns>
    public async Task<IReadOnlyList<string>> Run(
        bool firstLead = true,
        string? role = null,
        CancellationToken stop = default
    )
    {
        await db.Database.OpenConnectionAsync(stop);
        // One instance prepares; others that start at the same time wait and find everything done.
        await db.Database.ExecuteSqlAsync($"SELECT pg_advisory_lock({LockKey})", stop);
        try
        {
            await KnowEarlierTables(stop);
            await db.Database.MigrateAsync(stop);
            if (role is not null)
            {
                await RuntimeRights.Grant(db, role, stop);
            }

            await AddBin.EnsureStanding(db, stop);
            foreach (var kind in Roles.All)
            {
                if (!await roles.RoleExistsAsync(kind))
                {
                    await roles.CreateAsync(new IdentityRole<Guid>(kind));
                }
            }

            if (!firstLead || await people.Users.AnyAsync(stop))
            {
                return [];
            }

            var password = KeepPeople.Fresh();
            await MakePerson.Run(people, "lead", "First lead", Roles.Lead, password, mustChange: true);
            return
            [
                $"First sign-in: name \"lead\", password \"{password}\". It is shown this once and must be changed.",
            ];
        }
        finally
        {
            await db.Database.ExecuteSqlAsync($"SELECT pg_advisory_unlock({LockKey})", CancellationToken.None);
            await db.Database.CloseConnectionAsync();
        }
    }

    /// <summary>
    /// The migrations that made the same tables step by step were put together into one. Where the last of them has run, so
    /// has that.
    /// </summary>
    private Task<int> KnowEarlierTables(CancellationToken stop) =>
        db.Database.ExecuteSqlRawAsync(
            """
            DO $$ BEGIN
                IF to_regclass('"__EFMigrationsHistory"') IS NOT NULL THEN
                    INSERT INTO "__EFMigrationsHistory" (migration_id, product_version)
                    SELECT '20261127000000_TheBook', product_version FROM "__EFMigrationsHistory"
                    WHERE migration_id = '20261126165500_OwnPasswordsAndScopes'
                    ON CONFLICT DO NOTHING;
                END IF;
            END $$
            """,
            stop
        );

    /// <summary>The role the running program signs in as, when that is not the tables' owner.</summary>
    public static string? RoleOf(string connection, string? owner) =>
        owner is null ? null : new NpgsqlConnectionStringBuilder(connection).Username;

    /// <summary>The same for what may be refused.</summary>
    public static async Task<int> Report(IServiceProvider services, Func<IServiceProvider, Task<Outcome<string>>> work)
    {
        Refusal? refusal = null;
        var ended = await Report(
            services,
            async scope => (await work(scope)).Try(out var said, out refusal) ? (IReadOnlyList<string>)[said] : []
        );
        if (refusal is not null)
        {
            await Console.Error.WriteLineAsync($"zenrik: {refusal.Message}");
        }

        return refusal is null ? ended : 1;
    }

    /// <summary>Carries a preparation out for a command line: says what it says, and on one line what went wrong.</summary>
    /// <returns>The process's exit code.</returns>
    public static async Task<int> Report(
        IServiceProvider services,
        Func<IServiceProvider, Task<IReadOnlyList<string>>> prepare
    )
    {
        await using var scope = services.CreateAsyncScope();
        try
        {
            foreach (var sentence in await prepare(scope.ServiceProvider))
            {
                Console.WriteLine(sentence);
            }

            return 0;
        }
        catch (Exception e) when (e.GetBaseException() is NpgsqlException or SocketException)
        {
            await Console.Error.WriteLineAsync(e.GetBaseException().Message);
            return 1;
        }
    }
}
