using System.Diagnostics;
using System.Globalization;

namespace Zenrik.Benchmarks;

/// <summary>
/// Pages as a workshop asks for them, all kinds mixed, by one and by many at once: how many a second against empty pages,
/// how long they wait, and the processor's time for each on either side of the connection to the database.
/// </summary>
internal static class CrowdMeasures
{
    private const int Clients = 50;

    /// <param name="mixed">Addresses, each as often as it is asked for in this mix.</param>
    public static async Task Run(RunningProgram program, EmptyPage empty, IReadOnlyList<string> mixed, bool quick)
    {
        var seconds = quick ? 5 : 20;
        var seed = 0;
        Func<Random, Task> page = random => program.Get(mixed[random.Next(mixed.Count)], fragment: false);
        Func<Random, Task> nothing = _ => empty.Get();
        // Until the code asked for most is compiled to its last tier, which at a workshop it is after the first minutes.
        _ = await Ask(1, quick ? 30 : 120, page);

        var (ours, theirs) = (program.ProcessorTime, PostgresTime());
        var alone = await Ask(1, seconds, page);
        var (program1, postgres1) = (program.ProcessorTime - ours, PostgresTime() - theirs);
        var emptyAlone = await Ask(1, seconds / 4, nothing);
        var crowd = await Ask(Clients, seconds, page);
        var emptyCrowd = await Ask(Clients, seconds / 4, nothing);

        foreach (var kind in mixed.Distinct().GroupBy(KindOf))
        {
            var times = await Measure.Times(() => program.Get(kind.ElementAt(seed++ % kind.Count()), false), 20);
            Say($"  of them {kind.Key, -22} median {Measure.Quantile(times, 0.5):0.0} ms");
        }

        Say(
            $"  mixed pages, one client        {PerSecond(alone) / PerSecond(emptyAlone):0.000} × empty pages a second ({PerSecond(alone):0} against {PerSecond(emptyAlone):0})"
        );
        Say(
            $"  mixed pages, {Clients} clients       p95 {P95(crowd) / P95(emptyCrowd):0.0} × the empty page's ({P95(crowd):0} ms against {P95(emptyCrowd):0.0}), {PerSecond(crowd):0} a second"
        );
        Say(
            $"  processor time of a mixed page  {program1 / alone.Times.Count:0.0} ms in the program, {postgres1 / alone.Times.Count:0.0} ms in PostgreSQL"
        );

        async Task<(IReadOnlyList<double> Times, double Seconds)> Ask(int clients, int lasts, Func<Random, Task> ask)
        {
            var watch = Stopwatch.StartNew();
            var times = await Task.WhenAll(
                Enumerable
                    .Range(0, clients)
                    .Select(async _ =>
                    {
                        var random = new Random(Interlocked.Increment(ref seed));
                        var own = new List<double>();
                        while (watch.Elapsed.TotalSeconds < lasts)
                        {
                            var begun = Stopwatch.GetTimestamp();
                            await ask(random);
                            own.Add(Stopwatch.GetElapsedTime(begun).TotalMilliseconds);
                        }

                        return own;
                    })
            );
            return ([.. times.SelectMany(t => t).Order()], watch.Elapsed.TotalSeconds);
        }

        // "/fleet/SK-01000" is one of many pages under "/fleet/", "/fleet?search=…" a search.
        static string KindOf(string address) =>
            address.LastIndexOf('/') is var last and > 0 ? address[..(last + 1)]
            : address.IndexOf('?', StringComparison.Ordinal) is var asks and > 0 ? address[..(asks + 1)]
            : address;
        static double PerSecond((IReadOnlyList<double> Times, double Seconds) asked) =>
            asked.Times.Count / asked.Seconds;
        static double P95((IReadOnlyList<double> Times, double Seconds) asked) => Measure.Quantile(asked.Times, 0.95);
        static void Say(FormattableString text) => Console.WriteLine(text.ToString(CultureInfo.InvariantCulture));
    }

    /// <summary>
    /// Milliseconds of all processes of PostgreSQL on this machine, of those that have ended too; 0 where the system does
    /// not tell. Fields 2 and 14 to 17 of /proc/PID/stat, times in ticks of a hundredth of a second (proc(5)).
    /// </summary>
    private static double PostgresTime()
    {
        var ticks = 0.0;
        foreach (var process in Directory.Exists("/proc") ? Directory.EnumerateDirectories("/proc") : [])
        {
            try
            {
                var stat = File.Exists($"{process}/stat") ? File.ReadAllText($"{process}/stat") : "";
                if (stat.Contains("(postgres)", StringComparison.Ordinal))
                {
                    ticks += stat[(stat.LastIndexOf(')') + 2)..]
                        .Split(' ')[11..15]
                        .Sum(t => double.Parse(t, CultureInfo.InvariantCulture));
                }
            }
            catch (IOException)
            {
                // It has ended; its time is its parent's now.
            }
        }

        return ticks * 10;
    }
}
