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

    /// <summary>True when this address has been wrong too often, for this name or altogether.</summary>
    public bool IsShut(string address, string name) =>
        names.GetStatistics((address, name))?.CurrentAvailablePermits == 0
        || addresses.GetStatistics((address, name))?.CurrentAvailablePermits == 0;

    /// <summary>
    /// How long the answer to a wrong try takes at least: longer with each one. The same for a name nobody has, a wrong
    /// password and too many tries, so that how long it takes tells none from another.
    /// </summary>
    public TimeSpan Delay(string address, string name)
    {
        var left = names.GetStatistics((address, name))?.CurrentAvailablePermits ?? ByName;
        return Shortest * Math.Pow(2, Math.Clamp(ByName - left, 0, MostDoublings));
    }

    private static readonly TimeSpan Shortest = TimeSpan.FromMilliseconds(200);

    private const int MostDoublings = 4;

    public void Wrong(string address, string name)
    {
        names.AttemptAcquire((address, name)).Dispose();
        addresses.AttemptAcquire((address, name)).Dispose();
    }

    public void Dispose()
    {
        names.Dispose();
        addresses.Dispose();
    }

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
