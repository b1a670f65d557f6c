namespace Zenrik.Core.Scheduling;

/// <summary>The instant answer: a rule that chooses whenever somebody is free, and small changes as long as one makes it better.</summary>
public static class Dispatch
{
    // How far ahead lateness is felt, in mean jobs, and how much setting up counts, in mean set-ups: middling values of the
    // ranges found good (Lee, Bhaskaran and Pinedo, IIE Transactions 29 (1997) 45, from memory).
    private const double LookAhead = 2;
    private const double SetUpWeighs = 1;

    /// <summary>Jobs looked at while small changes are tried: some hundredths of a second, whatever is waiting.</summary>
    private const int MostLookedAt = 1_500_000;

    /// <summary>A schedule: of each hand its jobs in their order.</summary>
    public static IReadOnlyList<IReadOnlyList<int>> Lay(BenchWork work) => Improve(work, ByRule(work));

    /// <summary>The order in which jobs came in: what a shelf of waiting machines does by itself.</summary>
    public static IReadOnlyList<IReadOnlyList<int>> FirstComeFirstServed(BenchWork work) =>
        Serve(work, (_, _, _, jobs) => jobs.Min());

    /// <summary>
    /// Apparent tardiness cost with set-ups: weight ÷ minutes, less the more time is left, less where it has to be set up for.
    /// </summary>
    private static List<int>[] ByRule(BenchWork work)
    {
        var mean = work.Jobs.Select(j => (double)j.Takes).DefaultIfEmpty(1).Average();
        return Serve(work, (hand, at, before, jobs) => jobs.MaxBy(j => Index(hand, at, before, j)));

        double Index(int hand, int at, int before, int job)
        {
            var takes = work.Hands[hand].Takes(work.Jobs[job]);
            var setUp = work.Takes(hand, job, before) - takes;
            var slack = Math.Max(
                0,
                work.DueAt[job] - work.HouseAt(hand, Math.Min(at + takes, work.Hands[hand].Shifts.Minutes))
            );
            return work.Jobs[job].Weight
                / (double)takes
                * Math.Exp(-slack / (LookAhead * mean))
                * Math.Exp(-setUp / (SetUpWeighs * Math.Max(1, work.SetUpMinutes)));
        }
    }

    /// <summary>Gives whoever is free first a job that is ready for them, until every job is given.</summary>
    /// <param name="choose">Of hand, minute, job before and the jobs that are ready, one of these.</param>
    private static List<int>[] Serve(BenchWork work, Func<int, int, int, IReadOnlyList<int>, int> choose)
    {
        // What is pinned comes first; the rest is laid behind it, and small changes fill the gaps.
        var orders = work.Hands.Select((_, h) => work.Pinned(h).ToList()).ToArray();
        var left = Enumerable.Range(0, work.Jobs.Count).Where(j => work.Jobs[j].Pin is null).ToHashSet();
        var at = orders.Select((order, h) => work.Walk(h, order).LastOrDefault().Ends).ToArray();
        var done = new bool[work.Hands.Count];
        while (left.Count > 0 && done.Contains(false))
        {
            var hand = Enumerable.Range(0, at.Length).Where(h => !done[h]).MinBy(h => Free(work, h, at[h]));
            List<int> mine = [.. left.Where(j => work.May(j, hand)).Order()];
            var ready = mine.FindAll(j => work.ReadyAt[j][hand] <= at[hand]);
            if (mine.Count == 0 || at[hand] >= work.Hands[hand].Shifts.Minutes)
            {
                done[hand] = true;
            }
            else if (ready.Count == 0)
            {
                at[hand] = mine.Min(j => work.ReadyAt[j][hand]);
            }
            else
            {
                var before = orders[hand].Count > 0 ? orders[hand][^1] : -1;
                var job = choose(hand, at[hand], before, ready);
                var ends = at[hand] + work.Takes(hand, job, before);
                if (ends > work.Hands[hand].Shifts.Minutes)
                {
                    // Whoever else has room takes it; where nobody has, it is squeezed in below.
                    done[hand] = true;
                    continue;
                }

                orders[hand].Add(job);
                at[hand] = ends;
                left.Remove(job);
            }
        }

        foreach (var job in left.Order())
        {
            Squeeze(work, orders, job);
        }

        return orders;
    }

    private static DateTimeOffset Free(BenchWork work, int hand, int at) =>
        at < work.Hands[hand].Shifts.Minutes ? work.Hands[hand].Shifts.Begins(at) : DateTimeOffset.MaxValue;

    /// <summary>Where it costs least; where it has no room at all it is left out, and whoever asks sees it is missing.</summary>
    private static void Squeeze(BenchWork work, List<int>[] orders, int job)
    {
        var best = Places(work, orders, job).OrderBy(p => p.Cost).FirstOrDefault();
        if (best.Order is not null)
        {
            orders[best.Hand] = best.Order;
        }
    }

    /// <summary>Every place a job can be put into, with what the hand's order then costs more.</summary>
    internal static IEnumerable<(int Hand, List<int> Order, ScheduleCost Cost)> Places(
        BenchWork work,
        IReadOnlyList<IReadOnlyList<int>> orders,
        int job
    )
    {
        for (var h = 0; h < orders.Count; h++)
        {
            if (!work.May(job, h) || work.Cost(h, orders[h]) is not { } was)
            {
                continue;
            }

            for (var at = 0; at <= orders[h].Count; at++)
            {
                List<int> order = [.. orders[h].Take(at), job, .. orders[h].Skip(at)];
                if (work.Cost(h, order) is { } cost)
                {
                    yield return (h, order, new ScheduleCost(cost.Late - was.Late, cost.Done - was.Done));
                }
            }
        }
    }

    /// <summary>Takes each job out and puts it where it costs least, as long as that makes anything better.</summary>
    public static IReadOnlyList<IReadOnlyList<int>> Improve(BenchWork work, IReadOnlyList<IReadOnlyList<int>> from)
    {
        var orders = from.Select(o => o.ToList()).ToArray();
        var lookedAt = 0L;
        for (var better = true; better; )
        {
            better = false;
            for (var job = 0; job < work.Jobs.Count; job++)
            {
                lookedAt += orders.Sum(o => (long)o.Count * o.Count);
                if (lookedAt > MostLookedAt)
                {
                    return orders;
                }

                var hand = Array.FindIndex(orders, o => o.Contains(job));
                if (hand < 0)
                {
                    continue;
                }

                var without = orders.Select((o, h) => h == hand ? o.FindAll(j => j != job) : o).ToArray();
                if (work.Cost(hand, orders[hand]) is not { } was || work.Cost(hand, without[hand]) is not { } saved)
                {
                    continue;
                }

                var now = new ScheduleCost(was.Late - saved.Late, was.Done - saved.Done);
                var best = Places(work, without, job).MinBy(p => p.Cost);
                if (best.Order is not null && best.Cost < now)
                {
                    (orders, better) = (without, true);
                    orders[best.Hand] = best.Order;
                }
            }
        }

        return orders;
    }
}
