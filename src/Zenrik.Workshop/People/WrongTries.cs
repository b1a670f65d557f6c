using System.Security.Cryptography;
using System.Text;
using System.Threading.RateLimiting;
using Microsoft.EntityFrameworkCore;

namespace Zenrik.Workshop.People;

/// <summary>
/// How often somebody may be wrong at the door: by name and address, and by address alone, on all instances together. Whoever
/// guesses shuts out their own address and nobody else; the right person signs in from theirs.
/// </summary>
public sealed class WrongTries(WorkshopDb db, TimeProvider clock)
{
    public static TimeSpan Window { get; } = TimeSpan.FromMinutes(5);

    private const int ByName = 6;
    private const int ByAddress = 120;
    private const int MostDoublings = 4;

    private static readonly TimeSpan Shortest = TimeSpan.FromMilliseconds(200);

    /// <summary>
    /// Tries for one name from one address go one after another: many at once would all be looked at before the first is found
    /// wrong. Each instance has its own queue, so that so many more can be looked at as there are instances.
    /// </summary>
    private static readonly PartitionedRateLimiter<(string Address, string Name)> Turns = PartitionedRateLimiter.Create<
        (string, string),
        (string, string)
    >(who =>
        RateLimitPartition.GetConcurrencyLimiter(
            who,
            _ => new ConcurrencyLimiterOptions { PermitLimit = 1, QueueLimit = MostWaiting }
        )
    );

    private const int MostWaiting = 50;

    /// <summary>Looks whether somebody is who they say, unless this address has been wrong too often.</summary>
    /// <param name="address">Where they are.</param>
    /// <param name="name">Who they say they are.</param>
    /// <param name="knows">Whether name and password belong together.</param>
    /// <returns>
    /// Whether they are let in, and how long the answer to a wrong try takes at least: longer with each one, and the same
    /// for a name nobody has, a wrong password and too many tries, so that it tells none from another.
    /// </returns>
    public async Task<(bool In, TimeSpan Delay)> Try(
        string address,
        string name,
        Func<Task<bool>> knows,
        CancellationToken stop
    )
    {
        address = address.Length > WrongTry.MaxAddress ? address[..WrongTry.MaxAddress] : address;
        var hash = SHA256.HashData(Encoding.UTF8.GetBytes(name.ToUpperInvariant()));
        using var turn = await Turns.AcquireAsync((address, Convert.ToHexString(hash)), 1, stop);
        var (named, all) = await Wrong(address, hash, stop);
        if (!turn.IsAcquired || named >= ByName || all >= ByAddress)
        {
            // What was not looked at is no guess: whoever is shut out gets in again in time, however often they ask.
            return (false, Delay(ByName));
        }

        if (await knows())
        {
            return (true, TimeSpan.Zero);
        }

        // What the look left behind is not written with it.
        db.ChangeTracker.Clear();
        db.WrongTries.Add(
            new WrongTry
            {
                Id = Guid.CreateVersion7(),
                Address = address,
                Name = hash,
                At = clock.GetUtcNow(),
            }
        );
        await db.SaveChangesAsync(CancellationToken.None);
        return (false, Delay(named + 1));
    }

    private static TimeSpan Delay(int wrong) => Shortest * Math.Pow(2, Math.Clamp(wrong - 1, 0, MostDoublings));

    private async Task<(int Named, int All)> Wrong(string address, byte[] name, CancellationToken stop)
    {
        var since = clock.GetUtcNow() - Window;
        var counts = await db
            .WrongTries.Where(t => t.Address == address && t.At > since)
            .GroupBy(t => 1)
            .Select(g => new { All = g.Count(), Named = g.Count(t => t.Name == name) })
            .SingleOrDefaultAsync(stop);
        return (counts?.Named ?? 0, counts?.All ?? 0);
    }
}
