using System.Globalization;
using Zenrik.Core.Scheduling;
using Zenrik.Core.Teardown;
using Zenrik.Demo.World;
using Zenrik.Workshop.Scheduling;

namespace Zenrik.Benchmarks;

/// <summary>
/// How much later than it must be a workshop's week gets done: jobs as the demo's plans have them, on the hours of its
/// people, more than fit before their promises.
/// </summary>
internal static class ScheduleMeasures
{
    private static readonly DateTimeOffset Monday = new(2026, 11, 30, 0, 0, 0, TimeSpan.Zero);

    public static void Run(bool quick)
    {
        Console.WriteLine("Bench calendar");
        foreach (var jobs in new[] { 25, 40, 80 })
        {
            var (first, rule, solved, gaps, proved, weeks) = (0L, 0L, 0L, new List<double>(), 0, quick ? 2 : 8);
            for (var seed = 0; seed < weeks; seed++)
            {
                var work = Week(new Random(417 + seed), jobs);
                first += work.Cost(Dispatch.FirstComeFirstServed(work))!.Value.Late;
                var laid = Dispatch.Lay(work);
                var better = SolveSchedule.Run(work, laid, TimeSpan.FromSeconds(5));
                rule += work.Cost(laid)!.Value.Late;
                solved += better.Late;
                gaps.Add(better.Late == 0 ? 0 : (better.Late - better.Bound) / (double)better.Late);
                proved += better.Bound >= better.Late ? 1 : 0;
            }

            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"  {jobs} jobs, {weeks} weeks: weighted lateness by rule {rule / (double)first:0.00} ×, after 5 s {solved / (double)first:0.00} × first come, first served; gap to the bound {100 * gaps.Average():0} of 100 on average, proved best in {proved} of {weeks}"
                )
            );
        }
    }

    private static BenchWork Week(Random random, int count)
    {
        string[] models = ["sandpiper-14", "thimble-11", "thimble-10-k", "thimble-11-r", "grebe-15"];
        double[] minutes = [9, 13, 14, 22, 23, 34, 50, 55, 93];
        return BenchWork
            .Of(
                Enumerable
                    .Range(0, count)
                    .Select(i =>
                    {
                        var m = minutes[random.Next(minutes.Length)];
                        var promised = random.Next(3) > 0;
                        return new BenchJob(
                            $"R-{i}",
                            models[random.Next(models.Length)],
                            new Minutes(m, m * 0.8, m * 1.2),
                            (promised ? 3 : 1) * (1 << random.Next(3)),
                            Monday.AddHours(random.Next(4) == 0 ? 12 + (24 * random.Next(3)) : 0),
                            Monday.AddDays(promised ? 1 + random.Next(4) : 8),
                            promised
                        );
                    }),
                LoadDemo.Hours.Select(
                    (hand, h) =>
                        new BenchHand(
                            new Guid(h, 0, 0, new byte[8]),
                            $"{h}",
                            Shifts.Of(
                                WeekHours
                                    .Read(hand.Days)
                                    .Value.Shifts(new DateOnly(2026, 11, 30), ViewCalendar.Ahead, TimeZoneInfo.Utc)
                            )
                        )
                ),
                BenchCustom.SetUpMinutes
            )
            .Work;
    }
}
