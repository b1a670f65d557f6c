using System.Diagnostics;
using System.Globalization;
using System.Runtime.CompilerServices;
using System.Text.Json.Nodes;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;
using Zenrik.Core.Tests.Teardown.Oracles;
using Zenrik.Workshop.Shipped;

namespace Zenrik.Benchmarks;

/// <summary>The planner against a general solver on the same question, and how its time grows with the machine.</summary>
internal static class Planning
{
    /// <param name="quick">Three goals a model instead of all.</param>
    public static void Measure(bool quick)
    {
        Console.WriteLine(
            "Solving every goal of every model, against CP-SAT proving the same cost of the same problem"
        );
        // A program that serves benches is warm: every goal is planned some times before any is measured.
        foreach (var (file, json) in ShippedMaps.All)
        {
            var map = ServiceMapReader.Read(file, json).Map!.Plain();
            foreach (var assembly in map.Assemblies.Where(a => map.Parts.Any(p => p.Id == a.Part)))
            {
                for (var i = 0; i < 30; i++)
                {
                    _ = TeardownPlanner.Plan(map, [new Goal.Replace(assembly.Id)]);
                }
            }
        }

        var all = new List<(double Solver, double Whole, string Goal)>();
        foreach (var (file, json) in ShippedMaps.All)
        {
            var map = ServiceMapReader.Read(file, json).Map!.Plain();
            Goal[] goals =
            [
                .. map
                    .Assemblies.Where(a => map.Parts.Any(p => p.Id == a.Part))
                    .Select(a => new Goal.Replace(a.Id))
                    .Take(quick ? 3 : int.MaxValue),
            ];
            var (ours, whole, solver, equal) = (new List<double>(), new List<double>(), new List<double>(), 0);
            foreach (var goal in goals)
            {
                var plan = TeardownPlanner.Plan(map, [goal]).Value;
                var problem = TeardownProblem.Of(map, [goal], Basis.Default).Value;
                ours.Add(Benchmarks.Measure.Median(() => problem.Solve(), 60));
                whole.Add(Benchmarks.Measure.Median(() => TeardownPlanner.Plan(map, [goal]), 20));
                var start = Stopwatch.GetTimestamp();
                var proved = ConstraintModel.Cost(problem, PlanCost.Phases(plan) + 1);
                solver.Add(Stopwatch.GetElapsedTime(start).TotalMilliseconds);
                equal += proved == PlanCost.Of(plan) ? 1 : 0;
                all.Add((solver[^1] / ours[^1], whole[^1], $"{map.Model.Name}, {Replanning.Title(map, goal)}"));
            }

            var ratios = ours.Zip(solver, (a, b) => b / a).Order().ToList();
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"  {map.Model.Name, -18} {goals.Length, 3} goals, {equal} of equal cost; solver / planner {ratios[ratios.Count / 2], 5:0} × median, {ratios[0], 4:0} × least; solved in {ours.Order().ElementAt(ours.Count / 2):0.00} ms median, {ours.Max():0.00} ms worst; whole plan with its words {whole.Order().ElementAt(whole.Count / 2):0.0} and {whole.Max():0.0} ms"
                )
            );
        }

        var (least, longest) = (all.MinBy(g => g.Solver), all.MaxBy(g => g.Whole));
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"  worst of {all.Count}: solver / planner {least.Solver:0} × ({least.Goal}); whole plan with its words {longest.Whole:0.0} ms ({longest.Goal})"
            )
        );
        Confirmations();
        Hard();
        Growth();
        Proved(quick ? 20 : 100);
    }

    /// <summary>How many confirmations a board swap takes, one an act and by movements.</summary>
    private static void Confirmations()
    {
        foreach (var (file, json) in ShippedMaps.All)
        {
            var map = ServiceMapReader.Read(file, json).Map!.Plain();
            if (map.Assemblies.FirstOrDefault(a => a.Id.Value == "board") is { } board)
            {
                var plan = TeardownPlanner.Plan(map, [new Goal.Replace(board.Id)]).Value;
                Console.WriteLine(
                    $"  {map.Model.Name, -18} board swap: {plan.Steps.Count} acts, {InOneGo.Confirmations(plan)} confirmations"
                );
            }
        }
    }

    /// <summary>Maps made to be hard, each proved.</summary>
    private static void Hard()
    {
        Console.WriteLine();
        Console.WriteLine("Maps made to be hard");
        foreach (var name in new[] { "dense-50", "expo-cover-16-40", "expo-chains-5-8" })
        {
            var times = Enumerable
                .Range(0, 3)
                .Select(_ =>
                {
                    // Read anew each time: what is derived from a map counts too.
                    var (map, goals) = Request(name);
                    var start = Stopwatch.GetTimestamp();
                    var plan = TeardownPlanner.Plan(map, goals).Value;
                    return plan.Gap > 0 ? double.NaN : Stopwatch.GetElapsedTime(start).TotalMilliseconds;
                })
                .Order()
                .ToList();
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"  {name, -18} proved in {times[1]:0} ms"));
        }
    }

    /// <summary>A request kept with the tests.</summary>
    private static (ServiceMap Map, IReadOnlyList<Goal> Goals) Request(string name, [CallerFilePath] string here = "")
    {
        var file = Path.Combine(
            Path.GetDirectoryName(here)!,
            "../../tests/Zenrik.Core.Tests/Teardown/Requests",
            $"{name}.json"
        );
        var json = JsonNode.Parse(File.ReadAllText(file))!;
        return (
            ServiceMapReader.Read(name, json["map"]!.ToJsonString()).Map!.Plain(),
            GoalText.Read([.. json["goals"]!.AsArray().Select(g => g!.GetValue<string>())]).Value
        );
    }

    /// <summary>The share of plans of generated maps that are proved within a time.</summary>
    private static void Proved(int each)
    {
        Console.WriteLine();
        Console.WriteLine($"Generated machines, {each} a size: share of plans proved within");
        foreach (var acts in new[] { 50, 100, 200, 400 })
        {
            var times = new List<double>();
            for (var seed = 1; seed <= each; seed++)
            {
                var (map, deepest) = GrownMachine.Of(acts, 1000 + seed);
                using var enough = new CancellationTokenSource(TimeSpan.FromSeconds(2));
                var start = Stopwatch.GetTimestamp();
                var plan = TeardownPlanner
                    .Plan(map, [new Goal.LiftOut(deepest)], limit: new SearchLimit(enough.Token, default))
                    .Value;
                times.Add(plan.Gap > 0 ? double.MaxValue : Stopwatch.GetElapsedTime(start).TotalMilliseconds);
            }

            string Within(double ms) =>
                string.Create(CultureInfo.InvariantCulture, $"{times.Count(t => t <= ms) * 100.0 / each:0} %");
            Console.WriteLine(
                $"  {acts, 3} acts   10 ms {Within(10), 5}   100 ms {Within(100), 5}   2,000 ms {Within(2000), 5}"
            );
        }
    }

    /// <summary>How the time grows with the machine.</summary>
    private static void Growth()
    {
        Console.WriteLine();
        Console.WriteLine("Growth: the deepest part of a grown machine");
        var smallest = 0.0;
        foreach (var acts in new[] { 50, 100, 200, 400 })
        {
            var times = Enumerable
                .Range(1, 5)
                .Select(seed =>
                {
                    var (map, deepest) = GrownMachine.Of(acts, seed);
                    return Benchmarks.Measure.Median(
                        () => TeardownPlanner.Plan(map, [new Goal.LiftOut(deepest)]),
                        acts > 100 ? 5 : 15
                    );
                })
                .Order()
                .ToList();
            smallest = smallest == 0 ? times[2] : smallest;
            Benchmarks.Measure.Print($"{acts} acts", times[2], "50 acts", smallest);
        }
    }
}
