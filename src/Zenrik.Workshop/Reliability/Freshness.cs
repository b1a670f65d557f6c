using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Caching.Memory;

namespace Zenrik.Workshop.Reliability;

/// <summary>What the book held when figures were reckoned from it. Kept figures are kept under it, so that they are never old.</summary>
/// <param name="Reading">The newest battery reading.</param>
/// <param name="Movement">The newest movement.</param>
/// <param name="Event">The newest change of a unit.</param>
/// <param name="Day">The day of the question: ages grow by themselves.</param>
internal sealed record Freshness(long? Reading, long? Movement, long? Event, DateOnly Day);

internal static class FreshnessQuery
{
    /// <summary>One statement, the ends of three indexes.</summary>
    public static async Task<Freshness> Freshness(this WorkshopDb db, DateOnly day, CancellationToken stop)
    {
        var newest = (
            await db
                .Database.SqlQuery<Newest>(
                    $"""
                    SELECT (SELECT max(id) FROM battery_readings) AS reading,
                           (SELECT max(id) FROM movements) AS movement,
                           (SELECT max(id) FROM unit_events) AS event
                    """
                )
                .ToListAsync(stop)
        )[0];
        return new Freshness(newest.Reading, newest.Movement, newest.Event, day);
    }

    private sealed record Newest(long? Reading, long? Movement, long? Event);
}

/// <summary>Figures of the whole fleet, kept in this instance's memory while the book they were reckoned from is the same.</summary>
internal static class KeptFigures
{
    /// <summary>What takes no longer than this is reckoned anew after every change.</summary>
    private static readonly TimeSpan Quick = TimeSpan.FromSeconds(1);

    /// <summary>What takes longer may be so many times as old as it takes, so that a busy book does not reckon all day.</summary>
    private const int Patience = 20;

    private sealed record Kept<T>(Freshness Of, T Figures, DateTimeOffset At, TimeSpan Took);

    public static async Task<T> Figures<T>(
        this IMemoryCache cache,
        string name,
        Freshness now,
        TimeProvider clock,
        Func<Task<T>> reckon
    )
    {
        var at = clock.GetUtcNow();
        if (
            cache.TryGetValue(name, out Kept<T>? kept)
            && (kept!.Of == now || (kept.Of.Day == now.Day && kept.Took > Quick && at - kept.At < kept.Took * Patience))
        )
        {
            return kept.Figures;
        }

        var began = clock.GetTimestamp();
        var figures = await reckon();
        _ = cache.Set(name, new Kept<T>(now, figures, at, clock.GetElapsedTime(began)), TimeSpan.FromHours(2));
        return figures;
    }
}
