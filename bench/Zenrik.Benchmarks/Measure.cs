using System.Diagnostics;
using System.Globalization;

namespace Zenrik.Benchmarks;

/// <summary>Medians of repeated runs, after a few that only warm up.</summary>
internal static class Measure
{
    private const int WarmUps = 5;

    /// <summary>Median milliseconds of an action.</summary>
    public static double Median(Action action, int runs)
    {
        var times = new List<double>();
        for (var i = 0; i < runs + WarmUps; i++)
        {
            var start = Stopwatch.GetTimestamp();
            action();
            times.Add(Stopwatch.GetElapsedTime(start).TotalMilliseconds);
        }

        return MedianOf(times);
    }

    /// <summary>Median milliseconds of an asynchronous action.</summary>
    public static async Task<double> MedianAsync(Func<Task> action, int runs) =>
        Quantile(await Times(action, runs), 0.5);

    /// <summary>Milliseconds of each run of an asynchronous action, shortest first.</summary>
    public static async Task<IReadOnlyList<double>> Times(Func<Task> action, int runs) =>
        (await ByTurns(action, () => Task.CompletedTask, runs)).One;

    /// <summary>Milliseconds of two actions by turns, so that neither finds caches or clock speeds the other does not; shortest first.</summary>
    public static async Task<(IReadOnlyList<double> One, IReadOnlyList<double> Other)> ByTurns(
        Func<Task> one,
        Func<Task> other,
        int runs
    )
    {
        var (ones, others) = (new List<double>(), new List<double>());
        for (var i = 0; i < runs + WarmUps; i++)
        {
            ones.Add(await Took(one));
            others.Add(await Took(other));
        }

        return ([.. ones.Skip(WarmUps).Order()], [.. others.Skip(WarmUps).Order()]);

        static async Task<double> Took(Func<Task> action)
        {
            var start = Stopwatch.GetTimestamp();
            await action();
            return Stopwatch.GetElapsedTime(start).TotalMilliseconds;
        }
    }

    /// <summary>The time that a share of the runs stays within.</summary>
    /// <param name="times">Shortest first.</param>
    public static double Quantile(IReadOnlyList<double> times, double share) =>
        times[Math.Min(times.Count - 1, (int)(times.Count * share))];

    public static void Print(string what, double ms, string against, double baseline) =>
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"  {what, -32} {ms / baseline, 7:0.00} × {against} ({ms:0.00} ms against {baseline:0.00} ms)"
            )
        );

    private static double MedianOf(List<double> times)
    {
        var measured = times.Skip(WarmUps).Order().ToList();
        return measured[measured.Count / 2];
    }
}
