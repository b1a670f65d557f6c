using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Zenrik.Workshop.Preparing;

namespace Zenrik.Demo.World;

/// <summary>Prepares a database as the product does and, where nobody uses it yet, fills it with the demo world.</summary>
public sealed class MakeWorld(WorkshopDb db, PrepareDatabase prepare, LoadDemo demo, UserManager<Technician> people)
{
    /// <summary>What is held while it is made.</summary>
    private const string LockName = "demo world";

    /// <param name="withDemo">False: a real workshop; a half-made world is cleared away all the same.</param>
    /// <param name="fleet">Generated units beyond the scenario's; only into an empty database.</param>
    /// <param name="role">The role the program itself signs in as; null: it runs as the owner.</param>
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
        // One instance makes it; others that start at the same time wait and find it made.
        await db.Database.ExecuteSqlAsync($"SELECT pg_advisory_lock(hashtext({LockName}))", stop);
        try
        {
            await DemoMark.Ensure(db, stop);
            said.AddRange(await prepare.Run(firstLead: false, role, stop));
            if (await DemoMark.Find(db, stop) == false)
            {
                await LoadDemo.Clear(db, stop);
                said.Add(
                    "An earlier start was stopped while making the demo world; what there was of it is cleared away."
                );
                said.AddRange(await prepare.Run(firstLead: false, role, stop));
            }

            if (await people.Users.AnyAsync(stop))
            {
                if (fleet > 0)
                {
                    said.Add("There is a workshop in this database already; no fleet was generated into it.");
                }
            }
            else if (withDemo)
            {
                await demo.Run(fleet, say, stop);
                said.Add("The demo world of Skerrow Isles Council is loaded; its sign-ins stand on the sign-in page.");
            }
            else
            {
                said.AddRange(await prepare.Run(firstLead: true, role, stop));
            }

            return said;
        }
        finally
        {
            await db.Database.ExecuteSqlAsync(
                $"SELECT pg_advisory_unlock(hashtext({LockName}))",
                CancellationToken.None
            );
            await db.Database.CloseConnectionAsync();
        }
    }
}
