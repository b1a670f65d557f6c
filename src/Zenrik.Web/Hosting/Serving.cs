using Zenrik.Workshop.Economics;
using Zenrik.Workshop.Operating;

namespace Zenrik.Web.Hosting;

/// <summary>
/// Says that this instance serves, does the day's chores where no other has done them, and reckons the fleet's figures once.
/// </summary>
internal sealed partial class Serving(IServiceScopeFactory scopes, TimeProvider clock, ILogger<Serving> log)
    : BackgroundService
{
    private static readonly TimeSpan Often = TimeSpan.FromSeconds(30);

    /// <summary>Chores are looked at now and then; by their own reckoning they are due once a day.</summary>
    private const int RoundsBetweenChores = 20;

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(Often, clock);
        for (var round = 0; ; round++)
        {
            await Quietly<SayServing>(s => s.Run(stoppingToken));
            if (round == 1)
            {
                await Quietly<YearAhead>(y => Reckon(y, stoppingToken));
            }

            if (round % RoundsBetweenChores == 1)
            {
                await Quietly<DoChores>(async c =>
                {
                    if (await c.Run(stoppingToken) is { } said)
                    {
                        LogDone(log, said);
                    }
                });
            }

            if (!await timer.WaitForNextTickAsync(stoppingToken))
            {
                return;
            }
        }
    }

    public override async Task StopAsync(CancellationToken cancellationToken)
    {
        await base.StopAsync(cancellationToken);
        try
        {
            await Quietly<SayServing>(s => s.Ends(cancellationToken));
        }
        catch (ObjectDisposedException)
        {
            // A host torn down at once takes its services with it; others see in two minutes that this one is gone.
        }
    }

    /// <summary>
    /// The figures of the whole fleet, so that nobody who looks ahead waits for them: of a hundred thousand units that takes
    /// half a minute. The year's money is reckoned from all of them.
    /// </summary>
    private async Task Reckon(YearAhead year, CancellationToken stop)
    {
        try
        {
            _ = await year.Run(stop);
        }
        catch (Exception wrong) when (!stop.IsCancellationRequested && !Away.OrRefused(wrong))
        {
            // Whoever asks for them sees it; the program serves on.
            LogFailed(log, wrong);
        }
    }

    /// <summary>A database that is away is told where it matters; this waits for the next round.</summary>
    private async Task Quietly<T>(Func<T, Task> work)
        where T : notnull
    {
        try
        {
            await using var scope = scopes.CreateAsyncScope();
            await work(scope.ServiceProvider.GetRequiredService<T>());
        }
        catch (Exception e) when (Away.OrRefused(e))
        {
            LogNotNow(log, typeof(T).Name, e.GetBaseException().Message);
        }
    }

    [LoggerMessage(Level = LogLevel.Information, Message = "{Said}")]
    private static partial void LogDone(ILogger logger, string said);

    [LoggerMessage(Level = LogLevel.Warning, Message = "The fleet's figures could not be reckoned.")]
    private static partial void LogFailed(ILogger logger, Exception wrong);

    [LoggerMessage(Level = LogLevel.Debug, Message = "{What} not now: {Reason}")]
    private static partial void LogNotNow(ILogger logger, string what, string reason);
}
