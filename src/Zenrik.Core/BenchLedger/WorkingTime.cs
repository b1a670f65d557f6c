namespace Zenrik.Core.BenchLedger;

/// <summary>Hands-on time of a session, told apart from pauses.</summary>
public static class WorkingTime
{
    /// <summary>A gap between two acts longer than this is a pause and counts for nothing.</summary>
    public static readonly TimeSpan LongestAct = TimeSpan.FromMinutes(12);

    /// <summary>
    /// Nobody does an act faster: what is confirmed sooner was done before and is only being ticked off. Common practice, no
    /// published source.
    /// </summary>
    public static readonly TimeSpan ShortestAct = TimeSpan.FromSeconds(1.5);

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
