using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Zenrik.Workshop.People;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Demo;

/// <summary>Brings a database to the point where the program can serve it.</summary>
public sealed class PrepareDatabase(
    WorkshopDb db,
    LoadDemo demo,
    UserManager<Technician> people,
    RoleManager<IdentityRole<Guid>> roles
)
{
    private const long LockKey = 5217;

    /// <summary>Migrates; then, in a database nobody uses yet, makes the demo world or a first sign-in.</summary>
    /// <param name="withDemo">False for an empty workshop.</param>
    /// <param name="fleet">Generated units beyond the demo's own; only into an empty database.</param>
    /// <param name="role">Gets what the running program needs and no more; null: it runs as the owner.</param>
    /// <param name="say">Told how far long work is.</param>
    /// <returns>Sentences for the person who started the program.</returns>
    public async Task<IReadOnlyList<string>> Run(
        bool withDemo,
        int fleet = 0,
        string? role = null,
        Action<string>? say = null,
        CancellationToken stop = default
    )
    {
        var said = new List<string>();
        await db.Database.OpenConnectionAsync(stop);
        // One instance prepares; others that start at the same time wait and find everything done.
        await db.Database.ExecuteSqlAsync($"SELECT pg_advisory_lock({LockKey})", stop);
        try
        {
            await db.Database.MigrateAsync(stop);
            if (role is not null)
            {
                await RuntimeRights.Grant(db, role, stop);
            }

            if (await db.DemoMarks.AnyAsync(m => !m.Complete, stop))
            {
                await LoadDemo.Clear(db, stop);
                said.Add("An earlier start was stopped while making the demo world; it is made anew.");
            }

            await AddBin.EnsureStanding(db, stop);
            if (await people.Users.AnyAsync(stop))
            {
                if (fleet > 0)
                {
                    said.Add("There is a workshop in this database already; no fleet was generated into it.");
                }

                return said;
            }

            foreach (var kind in Roles.All)
            {
                if (!await roles.RoleExistsAsync(kind))
                {
                    await roles.CreateAsync(new IdentityRole<Guid>(kind));
                }
            }

            if (withDemo)
            {
                await demo.Run(fleet, say, stop);
                said.Add("The demo world of Skerrow Isles Council is loaded; its sign-ins stand on the sign-in page.");
            }
            else
            {
                var password = KeepPeople.Fresh();
                await LoadDemo.SignIn(people, "lead", "First lead", Roles.Lead, password, mustChange: true);
                said.Add(
                    $"First sign-in: name \"lead\", password \"{password}\". It is shown this once and must be changed."
                );
            }

            return said;
        }
        finally
        {
            await db.Database.ExecuteSqlAsync($"SELECT pg_advisory_unlock({LockKey})", CancellationToken.None);
            await db.Database.CloseConnectionAsync();
        }
    }
}
