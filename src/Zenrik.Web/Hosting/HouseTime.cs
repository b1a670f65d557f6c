using Zenrik.Workshop.Sourcing;

namespace Zenrik.Web.Hosting;

/// <summary>
/// Makes the house's time zone this process's own, so that days and hours are the workshop's wherever the server stands; looks
/// now and then whether another instance was told of another one.
/// </summary>
internal sealed class HouseTime(IServiceScopeFactory scopes, TimeProvider clock) : BackgroundService
{
    private static readonly TimeSpan Often = TimeSpan.FromSeconds(30);

    private static readonly string? OfTheMachine = Environment.GetEnvironmentVariable("TZ");

    private static string? inUse;

    /// <param name="zone">By its IANA name; blank: that of the machine.</param>
    public static void Use(string? zone)
    {
        var wanted = string.IsNullOrWhiteSpace(zone) ? null : zone.Trim();
        if (wanted == inUse)
        {
            return;
        }

        inUse = wanted;
        Environment.SetEnvironmentVariable("TZ", wanted ?? OfTheMachine);
        TimeZoneInfo.ClearCachedData();
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(Often, clock);
        do
        {
            try
            {
                await using var scope = scopes.CreateAsyncScope();
                Use((await scope.ServiceProvider.GetRequiredService<SetFigures>().Read(stoppingToken)).TimeZone);
            }
            catch (Exception e) when (Away.OrRefused(e))
            {
                // A database that is away is told where it matters; the time stays as it was.
            }
        } while (await timer.WaitForNextTickAsync(stoppingToken));
    }
}
