using Microsoft.Extensions.Caching.Memory;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging;

namespace Zenrik.Workshop.Reliability;

/// <summary>Reckons figures.</summary>
/// <param name="room">Who does, of this request.</param>
/// <param name="before">What was reckoned last on the same day; null: nothing was.</param>
/// <param name="at">When <paramref name="before"/> was begun.</param>
internal delegate Task<T> Reckoning<in TRoom, T>(TRoom room, T? before, DateTimeOffset at, CancellationToken stop)
    where T : class;

/// <summary>
/// Figures of the whole fleet, kept in this instance's memory, and reckoned by one at a time. What is quickly reckoned is so
/// as soon as the book has changed. What takes longer is reckoned behind the back of whoever asks: they are shown what was
/// reckoned last, and told of when it is.
/// </summary>
public sealed partial class KeptFigures(
    IMemoryCache cache,
    IServiceScopeFactory scopes,
    TimeProvider clock,
    ILogger<KeptFigures> log
)
{
    /// <summary>What takes no longer than this nobody minds waiting for.</summary>
    private static readonly TimeSpan Quick = TimeSpan.FromSeconds(1);

    /// <summary>What takes longer may be so many times as old as it takes, so that a busy book does not reckon all day.</summary>
    private const int Patience = 20;

    /// <summary>Nobody is shown anything older, and what nobody asked for so long is forgotten.</summary>
    private static readonly TimeSpan Oldest = TimeSpan.FromDays(1);

    /// <param name="room">Who reckons it, of this request.</param>
    /// <param name="now">What the book holds, as this request sees it.</param>
    /// <returns>The figures, and since when they are when the book has changed since; null: they are of now.</returns>
    internal async Task<(T Figures, DateTimeOffset? Since)> Of<TRoom, T>(
        TRoom room,
        Freshness now,
        Reckoning<TRoom, T> reckon,
        CancellationToken stop
    )
        where TRoom : notnull
        where T : class
    {
        var place = cache.GetOrCreate(
            typeof(TRoom),
            entry =>
            {
                entry.SlidingExpiration = Oldest;
                return new Place<T>();
            }
        )!;
        if (place.Newest is { } newest)
        {
            if (newest.Of.Holds(now))
            {
                return (newest.Figures, null);
            }

            var age = clock.GetUtcNow() - newest.At;
            // On the same day it is renewed. How long that takes shows the first time, which is begun at once.
            var takes = newest.Of.Day == now.Day && place.Anew > Quick ? place.Renewal : place.Anew;
            var isQuick = takes <= Quick;
            if (!isQuick && age < Oldest)
            {
                if (age >= (takes ?? TimeSpan.Zero) * Patience && place.Turn.Wait(0, CancellationToken.None))
                {
                    _ = Task.Run(() => Behind(place, reckon), CancellationToken.None);
                }

                return (newest.Figures, newest.At);
            }
        }

        await place.Turn.WaitAsync(stop);
        try
        {
            if (place.Newest?.Of.Holds(now) != true)
            {
                await Reckon(place, now, room, reckon, stop);
            }

            return (place.Newest!.Figures, null);
        }
        finally
        {
            place.Turn.Release();
        }
    }

    private async Task Behind<TRoom, T>(Place<T> place, Reckoning<TRoom, T> reckon)
        where TRoom : notnull
        where T : class
    {
        try
        {
            await using var scope = scopes.CreateAsyncScope();
            var db = scope.ServiceProvider.GetRequiredService<WorkshopDb>();
            var room = scope.ServiceProvider.GetRequiredService<TRoom>();
            await Reckon(place, await db.Freshness(clock.Today(), default), room, reckon, default);
        }
        catch (Exception wrong)
        {
            // Whoever asks next is shown what there is, and begins it again.
            LogFailed(wrong, typeof(TRoom).Name);
        }
        finally
        {
            place.Turn.Release();
        }
    }

    private async Task Reckon<TRoom, T>(
        Place<T> place,
        Freshness of,
        TRoom room,
        Reckoning<TRoom, T> reckon,
        CancellationToken stop
    )
        where T : class
    {
        var (at, began) = (clock.GetUtcNow(), clock.GetTimestamp());
        // Ages grow overnight: figures of another day are none to begin with.
        var before = place.Newest is { } newest && newest.Of.Day == of.Day ? newest : null;
        var figures = await reckon(room, before?.Figures, before?.At ?? at, stop);
        var took = clock.GetElapsedTime(began);
        if (before is null)
        {
            place.Anew = took;
        }
        else
        {
            place.Renewal = took;
        }

        place.Newest = new Kept<T>(of, figures, at);
        LogReckoned(typeof(TRoom).Name, before is null ? "anew" : "from what was written since", took.TotalSeconds);
    }

    private sealed record Kept<T>(Freshness Of, T Figures, DateTimeOffset At);

    private sealed class Place<T>
    {
        public SemaphoreSlim Turn { get; } = new(1, 1);

        public Kept<T>? Newest { get; set; }

        /// <summary>How long it takes to reckon everything; null: not known yet.</summary>
        public TimeSpan? Anew { get; set; }

        /// <summary>How long it takes with figures of the same day to begin with; null: not known yet.</summary>
        public TimeSpan? Renewal { get; set; }
    }

    [LoggerMessage(LogLevel.Information, "{Figures} reckoned {How} in {Seconds:0.0} s.")]
    private partial void LogReckoned(string figures, string how, double seconds);

    [LoggerMessage(LogLevel.Warning, "{Figures} could not be reckoned behind somebody's back; those before stay.")]
    private partial void LogFailed(Exception wrong, string figures);
}

/// <summary>The figures that one request asks for.</summary>
public sealed class Figures(WorkshopDb db, KeptFigures kept, TimeProvider clock)
{
    /// <summary>Since when the oldest are that were given; null: all are of now.</summary>
    public DateTimeOffset? Since { get; private set; }

    internal async Task<T> Of<TRoom, T>(TRoom room, Reckoning<TRoom, T> reckon, CancellationToken stop)
        where TRoom : notnull
        where T : class
    {
        var (figures, since) = await kept.Of(room, await db.Freshness(clock.Today(), stop), reckon, stop);
        Since = since < Since || Since is null ? since : Since;
        return figures;
    }
}
