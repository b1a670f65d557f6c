using Zenrik.Core.Teardown;

namespace Zenrik.Core.BenchLedger;

/// <summary>How long each act of a session took, from the moments its lines were written.</summary>
public static class ActDurations
{
    /// <summary>
    /// Seconds by act: from the line that ended the act before to the one that ended it, pauses (see
    /// <see cref="WorkingTime.LongestAct"/>) left out. Acts that were taken back, or around which something was, say
    /// nothing and are left out.
    /// </summary>
    /// <param name="acts">The plan's acts.</param>
    /// <param name="start">When the session began.</param>
    /// <param name="lines">Its lines with their moments, in order.</param>
    public static IEnumerable<(Act Act, double Seconds)> Of(
        IReadOnlyList<Act> acts,
        DateTimeOffset start,
        IEnumerable<(Entry Entry, DateTimeOffset At)> lines
    )
    {
        var (since, last, clean) = (TimeSpan.Zero, start, true);
        foreach (var (entry, at) in lines)
        {
            var gap = at - last;
            (since, clean, last) = (since + gap, clean && gap <= WorkingTime.LongestAct, at);
            switch (entry)
            {
                case Entry.TakenBack:
                    (since, clean) = (TimeSpan.Zero, false);
                    break;
                case Entry.Done or Entry.CountDiffers or Entry.NumberRead:
                    var step = Ledger.StepOf(entry);
                    if (clean && step >= 1 && step <= acts.Count)
                    {
                        yield return (acts[step - 1], since.TotalSeconds);
                    }

                    (since, clean) = (TimeSpan.Zero, true);
                    break;
            }
        }
    }
}
