namespace Zenrik.Core.BenchLedger;

/// <summary>Hands-on time of a session, told apart from pauses.</summary>
public static class WorkingTime
{
    /// <summary>A gap between two acts longer than this is a pause and counts for nothing.</summary>
    public static readonly TimeSpan LongestAct = TimeSpan.FromMinutes(12);

    /// <summary>The sum of the gaps between neighbouring moments that are no pauses.</summary>
    /// <param name="start">When the session began.</param>
    /// <param name="acts">When each act was recorded, in order.</param>
    public static TimeSpan Of(DateTimeOffset start, IEnumerable<DateTimeOffset> acts)
    {
        var total = TimeSpan.Zero;
        var last = start;
        foreach (var at in acts)
        {
            var gap = at - last;
            total += gap <= LongestAct ? gap : TimeSpan.Zero;
            last = at;
        }

        return total;
    }
}
