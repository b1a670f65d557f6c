using Zenrik.Core.Batteries;
using Zenrik.Core.Economics;
using Zenrik.Core.Reliability;

namespace Zenrik.Benchmarks;

/// <summary>
/// Whether the outlook is honest: simulated fleets whose truth is known, told to it day by day as a book would, and what it
/// said held against what came. Shares of fleets, not times.
/// </summary>
internal static class OutlookMeasures
{
    private static readonly DateOnly Today = new(2026, 11, 27);

    /// <param name="Life">Days until a new part fails.</param>
    private sealed record Truth(string Name, Func<Random, double> Life);

    private static double Weibull(Random random, double shape, double scale) =>
        scale * Math.Pow(-Math.Log(1 - random.NextDouble()), 1 / shape);

    private static double Gauss(Random random) =>
        Math.Sqrt(-2 * Math.Log(1 - random.NextDouble())) * Math.Cos(2 * Math.PI * random.NextDouble());

    private static readonly Truth[] Truths =
    [
        new("wear, as the demo's batteries", r => Weibull(r, 3.2, 1250)),
        new("chance, as the demo's keyboards", r => Weibull(r, 1.1, 5200)),
        new("slow wear, as the demo's fans", r => Weibull(r, 2.1, 3600)),
        new("infant mortality (unknown to it)", r => Weibull(r, 0.6, 9000)),
        new("log-normal wear (unknown to it)", r => 1400 * Math.Exp(0.5 * Gauss(r))),
        new("two kinds mixed (unknown to it)", r => r.Next(5) == 0 ? Weibull(r, 1.3, 900) : Weibull(r, 3, 3000)),
    ];

    /// <summary>One slot of a model: what was seen until today, and who serves with how many days left.</summary>
    private static (List<Lifetime> Seen, List<(double Age, double Left)> Serving) Fleet(
        Random random,
        Truth truth,
        int units,
        int years
    )
    {
        var (seen, serving) = (new List<Lifetime>(), new List<(double, double)>());
        for (var i = 0; i < units; i++)
        {
            var from = Today.AddDays(-random.Next(20, 365 * years));
            while (true)
            {
                var life = Math.Max(1, truth.Life(random));
                if (from.DayNumber + life > Today.DayNumber)
                {
                    seen.Add(new Lifetime(from, Today, false));
                    serving.Add((Today.DayNumber - from.DayNumber, from.DayNumber + life - Today.DayNumber));
                    break;
                }

                var out_ = from.AddDays((int)life);
                seen.Add(new Lifetime(from, out_, true));
                from = out_.AddDays(2);
                if (from >= Today)
                {
                    break;
                }
            }
        }

        return (seen, serving);
    }

    public static void Run(bool quick)
    {
        var fleets = quick ? 40 : 200;
        Console.WriteLine($"Outlook against the truth of {fleets} simulated fleets, shares of 100:");
        Console.WriteLine();
        foreach (var readings in new[] { 1, 3, 8 })
        {
            Console.WriteLine(
                $"  battery dates, {readings} readings each: in the 80 % interval {Batteries(fleets, readings):0}"
            );
        }

        foreach (var truth in Truths)
        {
            var (inside, served, stock, levels) = Demanded(fleets, truth);
            Console.WriteLine(
                $"  demand of 60 days, {truth.Name}: in the 80 % interval {inside:0}; enough where 95 was asked {served:0.0}; stock {stock:0.00} of a fixed level that serves as well{(levels ? "" : " (none does)")}"
            );
        }

        Console.WriteLine($"  next year's cost: in the 80 % interval {Budgeted(fleets):0}");

        foreach (var rate in new[] { 0.07, 0.15, 0.3 })
        {
            // A share of a hundred found is told apart from the next only over many.
            var (sure, any) = BadLots(fleets * 5, rate);
            Console.WriteLine(
                $"  a bad lot of 40 at three times a rate of {rate:0.00} a year, after six months: found {sure.Found:0}, false alarms in 100 slots {sure.False:0.0}; with what is suspected {any.Found:0}, {any.False:0.0}"
            );
        }
    }

    private static double Batteries(int fleets, int readings)
    {
        var (inside, all) = (0, 0);
        for (var f = 0; f < fleets; f++)
        {
            var batteries = BatteryKind(new Random((f * 31) + readings), 40, readings, bends: f % 2 != 0);
            var kind = WearPrior.Of(batteries.Select(b => b.Seen), WearPrior.Unknown);
            foreach (var (seen, truth) in batteries)
            {
                var forecast = BatteryForecast.Of(seen, kind, Today, Limit)!;
                inside +=
                    truth >= (forecast.Earliest ?? DateOnly.MaxValue) && truth <= (forecast.Latest ?? DateOnly.MaxValue)
                        ? 1
                        : 0;
                all++;
            }
        }

        return 100.0 * inside / all;
    }

    private const int Year = 365;
    private const double Limit = 0.6;

    /// <summary>Batteries of one kind: what was read of each, and when it comes under the limit.</summary>
    /// <param name="bends">Wear slows down or speeds up with age, which a line does not know.</param>
    private static List<(BatterySeen Seen, DateOnly Under)> BatteryKind(
        Random random,
        int count,
        int readings,
        bool bends
    )
    {
        var (mean, spread) = (0.0003 + (0.0002 * random.NextDouble()), 0.00004 + (0.00004 * random.NextDouble()));
        var bend = bends ? 0.9 + (0.2 * random.NextDouble()) : 1;
        return [.. Enumerable.Range(0, count).Select(_ => Battery())];

        (BatterySeen, DateOnly) Battery()
        {
            var fade = Math.Max(0.0001, mean + (spread * Gauss(random)));
            var began = Today.AddDays(-random.Next(200, 900));
            double At(double days) => 1 - (fade * 1000 * Math.Pow(days / 1000, bend)) + (0.01 * Gauss(random));
            return (
                new BatterySeen(
                    "b",
                    began,
                    [
                        .. Enumerable
                            .Range(1, readings)
                            .Select(i => (Today.DayNumber - began.DayNumber) * i / readings)
                            .Select(d => (began.AddDays(d), At(d))),
                    ]
                ),
                began.AddDays((int)Math.Ceiling(1000 * Math.Pow((1 - Limit) / (fade * 1000), 1 / bend)))
            );
        }
    }

    /// <returns>
    /// Coverage, service reached, mean stock against that of the smallest fixed level, the same for every fleet, that serves
    /// as well, and whether there was one.
    /// </returns>
    private static (double Inside, double Served, double Stock, bool Levels) Demanded(int fleets, Truth truth)
    {
        var runs = new List<(int Enough, int Came)>();
        var inside = 0;
        for (var f = 0; f < fleets; f++)
        {
            var random = new Random((f * 17) + 3);
            var (seen, serving) = Fleet(random, truth, 40 + (random.Next(5) * 60), 1 + random.Next(4));
            var demand = Demand.Of(seen, serving.ConvertAll(s => s.Age), 60);
            var came = serving.Count(s => s.Left < 60);
            runs.Add((demand.Quantile(0.95), came));
            // Counts cannot lie in exactly 80 of 100: where the count stands in its law, its own chance shared out by lot
            // (Czado, Gneiting and Held, Predictive model assessment for count data, 2009).
            var below = demand.AtMost(came - 1);
            inside += below + (random.NextDouble() * (demand.AtMost(came) - below)) is >= 0.1 and <= 0.9 ? 1 : 0;
        }

        var served = runs.Count(r => r.Came <= r.Enough);
        var level = Enumerable
            .Range(0, 200)
            .Where(l => runs.Count(r => r.Came <= l) >= served)
            .Select(l => (int?)l)
            .FirstOrDefault();
        return (
            100.0 * inside / fleets,
            100.0 * served / fleets,
            level is > 0 ? runs.Average(r => r.Enough) / level.Value : 1,
            level is not null
        );
    }

    /// <summary>A year of a whole fleet: parts by laws known and unknown, what fails twice in it, and batteries that wear.</summary>
    private static double Budgeted(int fleets)
    {
        var inside = 0;
        for (var f = 0; f < fleets; f++)
        {
            var random = new Random((f * 41) + 9);
            var (lines, came) = (new List<BudgetLine>(), 0m);
            foreach (var truth in Truths.Where((_, i) => i != f % Truths.Length))
            {
                var price = (decimal)(20 + random.Next(120));
                var (seen, serving) = Fleet(random, truth, 30 + random.Next(120), 1 + random.Next(4));
                var demand = Demand.Of(seen, serving.ConvertAll(s => s.Age), Year);
                lines.Add(new BudgetLine(truth.Name, demand.Law, price));
                came += price * serving.Sum(s => Failures(s.Left));

                int Failures(double left)
                {
                    var failures = 0;
                    for (; left < Year; left += Math.Max(1, truth.Life(random)))
                    {
                        failures++;
                    }

                    return failures;
                }
            }

            var batteries = BatteryKind(random, 40 + random.Next(80), 1 + random.Next(4), bends: f % 2 == 0);
            var kind = WearPrior.Of(batteries.Select(b => b.Seen), WearPrior.Unknown);
            var end = Today.AddDays(Year);
            var due = batteries.Select(b => BatteryForecast.Of(b.Seen, kind, Today, Limit)!.UnderBy(end));
            lines.Add(new BudgetLine("battery", Cumulants.Of(due), 60));
            came += 60 * batteries.Count(b => b.Under <= end);
            var budget = Budget.Of(lines);
            inside += came >= budget.Low && came <= budget.High ? 1 : 0;
        }

        return 100.0 * inside / fleets;
    }

    private static ((double Found, double False) Sure, (double Found, double False) Any) BadLots(
        int fleets,
        double rate
    )
    {
        const int pairs = 20;
        var (sure, any) = (new List<bool>(), new List<bool>());
        for (var f = 0; f < fleets; f++)
        {
            var random = new Random((f * 13) + (int)(rate * 100));
            var lives = new List<WatchedLife>();
            for (var pair = 0; pair < pairs; pair++)
            {
                foreach (var lot in new[] { "A", "B", "C" })
                {
                    var bad = pair == 0 && lot == "B";
                    for (var i = 0; i < (lot == "B" ? 40 : 60); i++)
                    {
                        var from = Today.AddDays(lot == "B" ? -182 : -random.Next(182, 900));
                        var life = Weibull(random, 1.1, 365 / (rate * (bad ? 3 : 1)));
                        var failed = from.DayNumber + life <= Today.DayNumber;
                        lives.Add(
                            new WatchedLife(
                                new Lifetime(from, failed ? from.AddDays((int)life) : Today, failed),
                                $"model-{pair % 4}",
                                $"slot-{pair / 4}",
                                lot,
                                $"N-{i % 2}",
                                $"site-{i % 5}"
                            )
                        );
                    }
                }
            }

            var all = Watch.Find(lives);
            bool Planted(WatchFinding x) => (x.By, x.Value, x.Model, x.Slot) == (WatchBy.Lot, "B", "model-0", "slot-0");
            // A lot stands on the list once: true for the planted one.
            any.AddRange(all.Select(Planted));
            sure.AddRange(all.Where(x => !x.Suspected).Select(Planted));
        }

        return (Of(sure), Of(any));

        (double, double) Of(List<bool> seen) =>
            (100.0 * seen.Count(x => x) / fleets, 100.0 * seen.Count(x => !x) / (fleets * pairs));
    }
}
