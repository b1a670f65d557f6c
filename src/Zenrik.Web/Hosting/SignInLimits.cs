using System.Threading.RateLimiting;

namespace Zenrik.Web.Hosting;

/// <summary>
/// How often somebody may be wrong at the door: by name and address, and by address alone. Whoever guesses shuts out their own
/// address and nobody else; the right person signs in from theirs. Kept by each instance for itself, since forgetting it
/// when one restarts costs nothing but a few guesses.
/// </summary>
public sealed class SignInLimits : IDisposable
{
    public static TimeSpan Window { get; } = TimeSpan.FromMinutes(5);

    private const int ByName = 6;
    private const int ByAddress = 120;

    private readonly PartitionedRateLimiter<(string Address, string Name)> names = Limiter(
        a => (a.Address, Name: a.Name.ToUpperInvariant()),
        ByName
    );

    private readonly PartitionedRateLimiter<(string Address, string Name)> addresses = Limiter(
        a => a.Address,
        ByAddress
    );

    /// <summary>Tries for one name from one address go one after another: many at once would all come before the first is counted.</summary>
    private readonly PartitionedRateLimiter<(string Address, string Name)> oneByOne = PartitionedRateLimiter.Create<
        (string Address, string Name),
        (string, string)
    >(a =>
        RateLimitPartition.GetConcurrencyLimiter(
            (a.Address, a.Name.ToUpperInvariant()),
            _ => new ConcurrencyLimiterOptions { PermitLimit = 1, QueueLimit = MostWaiting }
        )
    );

    private const int MostWaiting = 50;
    private const int MostDoublings = 4;

    private static readonly TimeSpan Shortest = TimeSpan.FromMilliseconds(200);

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
        var who = (address, name);
        using var turn = await oneByOne.AcquireAsync(who, 1, stop);
        if (turn.IsAcquired && Left(names, who, ByName) > 0 && Left(addresses, who, ByAddress) > 0)
        {
            if (await knows())
            {
                return (true, TimeSpan.Zero);
            }

            names.AttemptAcquire(who).Dispose();
            addresses.AttemptAcquire(who).Dispose();
        }

        var wrong = ByName - Left(names, who, ByName);
        return (false, Shortest * Math.Pow(2, Math.Clamp(wrong - 1, 0, MostDoublings)));
    }

    public void Dispose()
    {
        oneByOne.Dispose();
        names.Dispose();
        addresses.Dispose();
    }

    private static long Left(
        PartitionedRateLimiter<(string Address, string Name)> limiter,
        (string Address, string Name) who,
        int all
    ) => limiter.GetStatistics(who)?.CurrentAvailablePermits ?? all;

    private static PartitionedRateLimiter<(string Address, string Name)> Limiter<TKey>(
        Func<(string Address, string Name), TKey> key,
        int permits
    )
        where TKey : notnull =>
        PartitionedRateLimiter.Create<(string Address, string Name), TKey>(attempt =>
            RateLimitPartition.GetSlidingWindowLimiter(
                key(attempt),
                _ => new SlidingWindowRateLimiterOptions
                {
                    PermitLimit = permits,
                    Window = Window,
                    SegmentsPerWindow = 5,
                    QueueLimit = 0,
                }
            )
        );
}
