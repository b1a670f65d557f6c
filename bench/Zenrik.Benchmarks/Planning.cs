using System.Diagnostics;
using System.Globalization;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;
using Zenrik.Core.Tests.Teardown.Oracles;
using Zenrik.Workshop.ServiceMaps;

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
            }

            var ratios = ours.Zip(solver, (a, b) => b / a).Order().ToList();
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"  {map.Model.Name, -18} {goals.Length, 3} goals, {equal} of equal cost; solver / planner {ratios[ratios.Count / 2], 5:0} × median, {ratios[0], 4:0} × least; solved in {ours.Order().ElementAt(ours.Count / 2):0.00} ms median, {ours.Max():0.00} ms worst; whole plan with its words {whole.Order().ElementAt(whole.Count / 2):0.0} and {whole.Max():0.0} ms"
                )
            );
        }

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
