using Zenrik.Core.Teardown;

namespace Zenrik.Core.BenchLedger;

/// <summary>How long each act of a session took, from the moments its lines were written.</summary>
public static class ActDurations
{
    /// <summary>
    /// Seconds by act: from the line that ended the act before to the one that ended it, pauses (see
    /// <see cref="WorkingTime.LongestAct"/>) left out. Acts that were taken back, and those right after, say nothing; nor do acts that were ticked off in a burst
    /// (see <see cref="WorkingTime.ShortestAct"/>), the first of them, which took the time of all, among them.
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
        var history = new Stack<(IReadOnlyList<Act> Acts, (Act, double)? Took)>();
        foreach (var (entry, at) in lines)
        {
            var gap = at - last;
            (since, clean, last) = (since + gap, clean && gap <= WorkingTime.LongestAct, at);
            if (entry is Entry.TakenBack)
            {
                acts = history.TryPop(out var undone) ? undone.Acts : acts;
                (since, clean) = (TimeSpan.Zero, false);
                continue;
            }

            var step = Ledger.StepOf(entry);
            // Several acts in one go say nothing of each.
            var isAct =
                step >= 1
                && step <= acts.Count
                && entry is (Entry.Done { Acts: 1 } or Entry.CountDiffers or Entry.NumberRead);
            var ticked = isAct && since < WorkingTime.ShortestAct;
            if (ticked && history.TryPop(out var before))
            {
                history.Push((before.Acts, null));
            }

            history.Push((acts, isAct && clean && !ticked ? (acts[step - 1], since.TotalSeconds) : null));
            if (isAct || entry is Entry.Left or Entry.Done)
            {
                (since, clean) = (TimeSpan.Zero, true);
            }
            else if (entry is Entry.Replanned replanned)
            {
                acts = [.. acts.Take(step - 1), .. replanned.Rest];
            }
        }

        return history.Reverse().Select(h => h.Took).OfType<(Act, double)>();
    }
}
