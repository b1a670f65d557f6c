using Zenrik.Workshop.Economics;
using Zenrik.Workshop.Operating;
using Zenrik.Workshop.Repairs;

namespace Zenrik.Web.Hosting;

/// <summary>
/// Says that this instance serves, does the day's chores where no other has done them, and asks once for what takes long at first.
/// </summary>
internal sealed partial class Serving(IServiceScopeFactory scopes, TimeProvider clock, ILogger<Serving> log)
    : BackgroundService
{
    private static readonly TimeSpan Often = TimeSpan.FromSeconds(30);
    private static readonly TimeSpan AheadAfter = TimeSpan.FromSeconds(5);

    /// <summary>Chores are looked at now and then; by their own reckoning they are due once a day.</summary>
    private const int RoundsBetweenChores = 20;

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(Often, clock);
        for (var round = 0; ; round++)
        {
            await Quietly<SayServing>(s => s.Run(stoppingToken));
            if (round == 0)
            {
                // Who waits for a program to come back, with a machine open, goes first.
                await Task.Delay(AheadAfter, clock, stoppingToken);
                await Ahead<ViewCounter>(c => c.Run(stoppingToken), stoppingToken);
            }

            if (round == 1)
            {
                await Ahead<YearAhead>(y => y.Run(stoppingToken), stoppingToken);
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
    /// What somebody would wait for otherwise: what everybody opens first, which takes seconds as long as nothing is compiled
    /// and no map read; and the figures of the whole fleet, of a hundred thousand units half a minute. The year's money is
    /// reckoned from all of them.
    /// </summary>
    private async Task Ahead<T>(Func<T, Task> work, CancellationToken stop)
        where T : notnull
    {
        try
        {
            await Quietly(work);
        }
        catch (Exception wrong) when (!stop.IsCancellationRequested)
        {
            // Whoever asks for it sees it; the program serves on.
            LogFailed(log, typeof(T).Name, wrong);
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

    [LoggerMessage(Level = LogLevel.Warning, Message = "{What} could not be asked ahead.")]
    private static partial void LogFailed(ILogger logger, string what, Exception wrong);

    [LoggerMessage(Level = LogLevel.Debug, Message = "{What} not now: {Reason}")]
    private static partial void LogNotNow(ILogger logger, string what, string reason);
}
