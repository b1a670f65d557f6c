namespace Zenrik.Core.Scheduling;

/// <summary>What would keep a promise that is at risk.</summary>
/// <param name="Hand">Who would do it.</param>
/// <param name="Behind">The job it would be done after; null: it would be their first.</param>
/// <param name="Ends">When it would be done.</param>
/// <param name="Harmed">Promises that this would put at risk instead.</param>
public sealed record Rescue(BenchHand Hand, BenchJob? Behind, DateTimeOffset Ends, IReadOnlyList<PlacedJob> Harmed)
{
    /// <summary>
    /// Ways to keep a promise by doing the job earlier, or by another hand; those that harm least first, at most one of each
    /// hand. None: its part comes too late, or nobody has the time.
    /// </summary>
    /// <param name="orders">The schedule as it stands.</param>
    public static IReadOnlyList<Rescue> Of(BenchWork work, IReadOnlyList<IReadOnlyList<int>> orders, string jobId)
    {
        var job = work.Jobs.Index().FirstOrDefault(j => j.Item.Id == jobId, (-1, null!)).Index;
        var hand = job < 0 ? -1 : orders.Index().FirstOrDefault(o => o.Item.Contains(job), (-1, [])).Index;
        if (hand < 0)
        {
            return [];
        }

        var before = work.Placed(orders).Where(p => p.AtRisk).Select(p => p.Job.Id).ToHashSet();
        var without = orders.Select((o, h) => h == hand ? [.. o.Where(j => j != job)] : o).ToArray();
        return
        [
            .. Dispatch
                .Places(work, without, job)
                .Select(place =>
                {
                    IReadOnlyList<int>[] then = [.. without];
                    then[place.Hand] = place.Order;
                    var placed = work.Placed(then);
                    var at = place.Order.IndexOf(job);
                    return (
                        place.Cost,
                        Kept: !placed.First(p => p.Job.Id == jobId).AtRisk,
                        Way: new Rescue(
                            work.Hands[place.Hand],
                            at == 0 ? null : work.Jobs[place.Order[at - 1]],
                            placed.First(p => p.Job.Id == jobId).Ends,
                            [.. placed.Where(p => p.AtRisk && !before.Contains(p.Job.Id))]
                        )
                    );
                })
                .Where(w => w.Kept)
                .GroupBy(w => w.Way.Hand.Id)
                .Select(g => g.OrderBy(w => w.Way.Harmed.Count).ThenBy(w => w.Cost).First())
                .OrderBy(w => w.Way.Harmed.Count)
                .ThenBy(w => w.Cost)
                .Select(w => w.Way),
        ];
    }
}
