using System.Diagnostics;
using System.Diagnostics.Metrics;

namespace Zenrik.Workshop.Book;

/// <summary>
/// What the program measures of itself as it works: acts by name, retries, locks waited for, plans, news. Whoever listens is
/// the host's matter; nobody listening, it costs next to nothing. Names and units by OpenTelemetry's conventions.
/// </summary>
public static class Measured
{
    /// <summary>Name of the meter and of the source of activities.</summary>
    public const string Name = "Zenrik";

    private static readonly ActivitySource Source = new(Name);
    private static readonly Meter Meter = new(Name);

    private static readonly Histogram<double> Acts = Meter.CreateHistogram<double>(
        "zenrik.act.duration",
        "s",
        "A change of the book, from its begin to its commit, by act and what became of it."
    );

    private static readonly Counter<long> Retries = Meter.CreateCounter<long>(
        "zenrik.act.retries",
        "{retry}",
        "Changes done again because PostgreSQL chose them to break a deadlock."
    );

    private static readonly Histogram<double> Waits = Meter.CreateHistogram<double>(
        "zenrik.lock.duration",
        "s",
        "Until rows to be changed were held, waiting for others included."
    );

    private static readonly Histogram<double> Plans = Meter.CreateHistogram<double>(
        "zenrik.plan.duration",
        "s",
        "Until a plan was found that was not remembered."
    );

    private static readonly Counter<long> News = Meter.CreateCounter<long>(
        "zenrik.news",
        "{line}",
        "Lines of bench ledgers this instance was told of."
    );

    /// <summary>An act, timed, with what became of it: done, refused, failed.</summary>
    /// <param name="refused">Whether an answer is a refusal.</param>
    internal static async Task<T> Act<T>(string act, Func<Task<T>> work, Func<T, bool> refused)
    {
        using var activity = Source.StartActivity(act);
        var start = Stopwatch.GetTimestamp();
        var became = "failed";
        try
        {
            var answer = await work();
            became = refused(answer) ? "refused" : "done";
            return answer;
        }
        finally
        {
            activity?.SetTag("zenrik.outcome", became);
            if (became == "failed")
            {
                activity?.SetStatus(ActivityStatusCode.Error);
            }

            Acts.Record(
                Stopwatch.GetElapsedTime(start).TotalSeconds,
                new KeyValuePair<string, object?>("zenrik.act", act),
                new KeyValuePair<string, object?>("zenrik.outcome", became)
            );
        }
    }

    internal static void Retry() => Retries.Add(1);

    internal static void Waited(long since) => Waits.Record(Stopwatch.GetElapsedTime(since).TotalSeconds);

    internal static void Planned(long since) => Plans.Record(Stopwatch.GetElapsedTime(since).TotalSeconds);

    internal static void Told() => News.Add(1);
}
