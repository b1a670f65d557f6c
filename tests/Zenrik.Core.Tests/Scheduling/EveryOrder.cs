using Zenrik.Core.Scheduling;

namespace Zenrik.Core.Tests.Scheduling;

/// <summary>Every job in every place of every hand, for problems of a few jobs.</summary>
internal static class EveryOrder
{
    /// <summary>The least weighted lateness of all schedules.</summary>
    public static long Least(BenchWork work)
    {
        var orders = work.Hands.Select(_ => new List<int>()).ToArray();
        var least = long.MaxValue;
        Put(0);
        return least;

        void Put(int job)
        {
            if (job == work.Jobs.Count)
            {
                least = work.Cost(orders) is { } cost ? Math.Min(least, cost.Late) : least;
                return;
            }

            foreach (var order in orders)
            {
                for (var at = 0; at <= order.Count; at++)
                {
                    order.Insert(at, job);
                    Put(job + 1);
                    order.RemoveAt(at);
                }
            }
        }
    }
}
