using CsCheck;
using Zenrik.Core.HouseRules;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;
using Zenrik.Core.Tests.Teardown.Oracles;

namespace Zenrik.Core.Tests.Teardown;

/// <summary>That plans are best, by two methods that share nothing with the planner.</summary>
public sealed class OptimalityTests
{
    [Fact]
    public void Every_plan_of_a_small_map_costs_what_looking_at_every_state_finds() =>
        (
            from map in Maps.GeneratedUpTo(6)
            from pick in Gen.Int[1, map.Parts.Count - 1]
            from second in Gen.Int[1, map.Parts.Count - 1]
            from always in Gen.Bool
            select (map, goals: new[] { pick, second }.Distinct().ToArray(), always)
        ).Sample(
            c =>
            {
                var basis = Basis.Default with
                {
                    Practice = c.always
                        ? HousePractice.Default.With(RuleBook.TightCrossHead, TightCrossHead.RightCrossHeadOnly)
                        : HousePractice.Default,
                };
                Goal[] goals = [.. c.goals.Select(i => new Goal.Replace(AssemblyId.Of(c.map.Parts[i].Id.Value)))];
                var plan = TeardownPlanner.Plan(c.map, goals, basis).Value;
                PlanCost.Of(plan).ShouldBe(Exhaustive.Cost(TeardownProblem.Of(c.map, goals, basis).Value));
            },
            iter: 400
        );

    public static IEnumerable<TheoryDataRow<string>> Models =>
        Maps.ShippedFiles.Select(f => new TheoryDataRow<string>(Path.GetFileName(f).Replace(".map.json", "")));

    [Theory]
    [MemberData(nameof(Models))]
    public void Plans_of_the_shipped_models_cost_what_a_constraint_solver_proves(string code)
    {
        var map = Maps.Shipped(code).Plain();
        var assemblies = map.Assemblies.Where(a => map.Parts.Any(p => p.Id == a.Part)).ToList();
        // The first, a middle one, the last, and the first two together; every single one stands in ./zenrik bench.
        Goal[] singles = [.. assemblies.Select(a => new Goal.Replace(a.Id))];
        foreach (
            var goals in new Goal[][]
            {
                [singles[0]],
                [singles[singles.Length / 2]],
                [singles[^1]],
                [singles[0], singles[1]],
            }
        )
        {
            var problem = TeardownProblem.Of(map, goals, Basis.Default).Value;
            var plan = TeardownPlanner.Plan(map, goals).Value;
            PlanCost
                .Of(plan)
                .ShouldBe(
                    ConstraintModel.Cost(problem, PlanCost.Phases(plan) + 1),
                    string.Join(" + ", goals.AsEnumerable())
                );
        }
    }

    [Theory]
    [MemberData(nameof(Models))]
    public void Every_goal_of_every_shipped_model_has_a_plan_the_simulator_accepts(string code)
    {
        foreach (
            var map in new[] { Maps.Shipped(code).Plain(), Maps.Shipped(code).For(Alternative(Maps.Shipped(code))) }
        )
        {
            foreach (var goal in AllGoals(map))
            {
                var plan = TeardownPlanner.Plan(map, [goal]).Value;
                Simulation.Check(map, [.. plan.Acts]).ShouldBeNull($"{code}: {goal}");
            }
        }
    }

    [Theory]
    [MemberData(nameof(Models))]
    public void A_shipped_model_has_between_30_and_90_actions_and_each_can_be_reached(string code)
    {
        var graph = TeardownGraph.Of(Maps.Shipped(code));
        graph.Acts.Count.ShouldBeInRange(30, 90);
        graph.Impossible().ShouldBeEmpty();
    }

    private static IEnumerable<Goal> AllGoals(ServiceMap map) =>
        map
            .Assemblies.Where(a => map.Parts.Any(p => p.Id == a.Part))
            .Select(Goal (a) => new Goal.Replace(a.Id))
            .Concat(map.Parts.Where(p => !p.Fixed).Select(p => new Goal.LiftOut(p.Id)));

    /// <summary>The last choice of each variant and every other optional part.</summary>
    private static HashSet<PartId> Alternative(ServiceMap map)
    {
        var inVariants = map.Variants.SelectMany(v => v.Choices).SelectMany(c => c.Parts).ToHashSet();
        return
        [
            .. map.Variants.SelectMany(v => v.Choices[^1].Parts),
            .. map.Parts.Where(p => p.Optional && !inVariants.Contains(p.Id)).Select(p => p.Id),
        ];
    }
}
