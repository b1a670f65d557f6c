using Microsoft.EntityFrameworkCore;

namespace Zenrik.Workshop.Reliability;

/// <summary>What the book held when figures were reckoned from it. Kept figures are kept under it, so that they are never old.</summary>
/// <param name="Reading">The newest battery reading.</param>
/// <param name="Movement">The newest movement.</param>
/// <param name="Event">The newest change of a unit.</param>
/// <param name="Day">The day of the question: ages grow by themselves.</param>
internal sealed record Freshness(long? Reading, long? Movement, long? Event, DateOnly Day)
{
    /// <summary>True when nothing of another is missing here: what follows the book may be a moment behind it.</summary>
    public bool Holds(Freshness other) =>
        Day == other.Day
        && (Reading ?? 0) >= (other.Reading ?? 0)
        && (Movement ?? 0) >= (other.Movement ?? 0)
        && (Event ?? 0) >= (other.Event ?? 0);
}

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
