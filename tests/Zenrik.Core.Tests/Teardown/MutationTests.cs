using System.Globalization;
using CsCheck;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;
using Zenrik.Core.Tests.Teardown.Oracles;

namespace Zenrik.Core.Tests.Teardown;

/// <summary>
/// Planner, continuation, simulator and the search through every state agree on shipped maps changed by chance.
/// ZENRIK_MUTATIONS=20000 tries so many maps; the long run belongs to a change of the planner or the simulator.
/// </summary>
public sealed class MutationTests
{
    private static readonly ServiceMap[] Shipped =
    [
        .. Maps.ShippedFiles.Select(f => Maps.Shipped(Path.GetFileName(f).Replace(".map.json", ""))),
    ];

    private static long Many =>
        long.TryParse(
            Environment.GetEnvironmentVariable("ZENRIK_MUTATIONS"),
            NumberStyles.None,
            CultureInfo.InvariantCulture,
            out var many
        )
            ? many
            : 400;

    internal sealed record Case(string Model, int Seed, ServiceMap Map, IReadOnlyList<Goal> Goals)
    {
        public override string ToString() => $"{Model}, seed {Seed}: {string.Join(" + ", Goals)}";
    }

    private static Gen<Case?> Cases(int mostActs) =>
        Gen.Select(Gen.Int[0, Shipped.Length - 1], Gen.Int[0, int.MaxValue - 1])
            .Select((which, seed) => Made(Shipped[which], seed, mostActs));

    internal static Case? Made(ServiceMap shipped, int seed, int mostActs)
    {
        var random = new Random(seed);
        return MutatedMap.Of(shipped, random, mostActs) is { } map
            ? new Case(shipped.Model.Code, seed, map, [.. Goals(map, random).Take(random.Next(1, 3))])
            : null;
    }

    private static IEnumerable<Goal> Goals(ServiceMap map, Random random)
    {
        var parts = map.Parts.Where(p => !p.Fixed).ToList();
        while (true)
        {
            yield return random.Next(4) switch
            {
                0 => new Goal.Reseat(map.Joints[random.Next(map.Joints.Count)].Id),
                1 when map.Assemblies.Count > 0 => new Goal.Replace(
                    map.Assemblies[random.Next(map.Assemblies.Count)].Id
                ),
                _ => new Goal.LiftOut(parts[random.Next(parts.Count)].Id),
            };
        }
    }

    [Fact]
    public void A_plan_of_a_small_mutated_map_costs_what_working_through_every_state_finds() =>
        Cases(mostActs: 15)
            .Sample(
                c =>
                {
                    if (c is null)
                    {
                        return;
                    }

                    // What moves over comes off first: a rule of the trade that no state of the machine knows.
                    var problem = TeardownProblem.Of(c.Map, c.Goals, Basis.Default).Value;
                    var least = c.Goals.Any(g => g is Goal.Replace)
                        ? Exhaustive.Cost(problem)
                        : new EveryState(problem).Cost();
                    if (least is { } cost)
                    {
                        PlanCost.Of(TeardownPlanner.Plan(c.Map, c.Goals).Value).ShouldBe(cost, $"{c}");
                    }
                },
                iter: Many / 2
            );

    [Fact]
    public void The_machine_allows_every_plan_of_a_mutated_map_and_what_remains_of_it() =>
        Cases(mostActs: int.MaxValue)
            .Sample(
                c =>
                {
                    if (c is null)
                    {
                        return;
                    }

                    using var enough = new CancellationTokenSource(TimeSpan.FromSeconds(2));
                    var outcome = TeardownPlanner.Plan(c.Map, c.Goals, limit: new SearchLimit(enough.Token, default));
                    outcome.Refusal.ShouldBeNull($"{c}");
                    var plan = outcome.Value;
                    List<Act> acts = [.. plan.Acts];
                    Simulation.Check(c.Map, acts).ShouldBeNull($"{c}");
                    var random = new Random(c.Seed);
                    StandingGoal[] standing = [.. c.Goals.Select(g => new StandingGoal(g))];

                    // Along the plan the rest is as long as the rest of the plan.
                    var along = acts[..random.Next(acts.Count + 1)];
                    var rest = TeardownPlanner.Resume(
                        c.Map,
                        standing,
                        along,
                        null,
                        new SearchLimit(enough.Token, default)
                    );
                    rest.Refusal.ShouldBeNull($"{c}, after {along.Count}");
                    if (plan.Gap == 0 && !enough.IsCancellationRequested)
                    {
                        var whole = TeardownPlanner.Restore(c.Map, c.Goals, [.. along, .. rest.Value]);
                        whole.Minutes.Expected.ShouldBe(plan.Minutes.Expected, 1e-9, $"{c}, after {along.Count}");
                    }

                    // After whatever else the machine allows there is a way on, or a sentence why not.
                    var machine = new Simulation(c.Map);
                    along.ForEach(a => machine.Do(a).ShouldBeNull());
                    var others = TeardownGraph.Of(c.Map).Acts.Where(a => machine.Copy().Do(a) is null).ToList();
                    if (others.Count > 0)
                    {
                        List<Act> done = [.. along, others[random.Next(others.Count)]];
                        if (TeardownPlanner.Resume(c.Map, standing, done).Try(out var other, out var refusal))
                        {
                            Simulation.Check(c.Map, [.. done, .. other]).ShouldBeNull($"{c}");
                        }
                        else
                        {
                            refusal.Message.ShouldContain("no way back", customMessage: $"{c}: {done[^1]}");
                        }
                    }
                },
                iter: Many / 2
            );
}
