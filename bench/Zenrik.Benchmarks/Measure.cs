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
    public static async Task<double> MedianAsync(Func<Task> action, int runs)
    {
        var times = new List<double>();
        for (var i = 0; i < runs + WarmUps; i++)
        {
            var start = Stopwatch.GetTimestamp();
            await action();
            times.Add(Stopwatch.GetElapsedTime(start).TotalMilliseconds);
        }

        return MedianOf(times);
    }

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
