using System.Diagnostics;
using System.Globalization;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Tests.Triage;
using Zenrik.Core.Tests.Triage.Oracles;
using Zenrik.Core.Triage;

namespace Zenrik.Benchmarks;

/// <summary>How good the advice is, and what it takes to give it.</summary>
internal static class TriageMeasures
{
    public static async Task Run(EmptyPage page, bool quick)
    {
        Console.WriteLine("Triage");
        var small = Enumerable
            .Range(1, quick ? 40 : 300)
            .Select(seed => Knowledge.Generate(new Random(seed), 2 + (seed % 3), 1 + (seed % 3)))
            .Select(n => OptimalPolicy.CostOfAdvice(n) / OptimalPolicy.Cost(n))
            .Order()
            .ToList();
        Say(
            $"one step of look-ahead costs {small.Average():0.000} × the optimal policy on average, {small[^1]:0.00} × at worst, over {small.Count} small networks"
        );

        var (right, runs, advised, listed) = (0, 0, 0.0, 0.0);
        var largest = Knowledge.Of(DeviceClass.Laptop, "will-not-charge");
        foreach (var device in Enum.GetValues<DeviceClass>())
        {
            foreach (var symptom in Knowledge.Shipped.Symptoms.Where(s => s.Stop is null))
            {
                var network = Knowledge.Of(device, symptom.Id);
                largest = Size(network) > Size(largest) ? network : largest;
                var random = new Random(417);
                for (var i = 0; i < (quick ? 20 : 200); i++)
                {
                    var run = TriageTrial.Advised(network, random);
                    (right, runs) = (right + (run.Right ? 1 : 0), runs + 1);
                    (advised, listed) = (advised + run.Minutes, listed + TriageTrial.ByList(network, random));
                }
            }
        }

        Say(
            $"of {runs} machines broken as the files say, the right component is reached in {100.0 * right / runs:0.0} of 100, at {advised / listed:0.00} × the cost of the fixed list"
        );

        // Both as a program meets them that has run for a while: compiled for good.
        Warm(() => TriageAdvisor.Next(largest, []));
        Warm(() => TriageNetwork.Of(Knowledge.Shipped, largest.Case));
        _ = await page.Median(3000);
        await Task.Delay(500);
        var empty = await page.Median(400);
        var next = Measure.Median(() => TriageAdvisor.Next(largest, []), 400);
        Measure.Print("next act, the largest network", next, "empty page", empty);
        Measure.Print(
            "… its network built anew",
            Measure.Median(() => TriageNetwork.Of(Knowledge.Shipped, largest.Case), 400),
            "empty page",
            empty
        );

        static void Warm(Action action)
        {
            var start = Stopwatch.GetTimestamp();
            while (Stopwatch.GetElapsedTime(start).TotalSeconds < 1)
            {
                action();
            }
        }

        static int Size(TriageNetwork n) => n.Faults.Count * (n.Tests.Count + n.Remedies.Count);
        static void Say(FormattableString text) =>
            Console.WriteLine("  " + text.ToString(CultureInfo.InvariantCulture));
    }
}
