using CsCheck;
using Zenrik.Core.HouseRules;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.Tests.Teardown;

/// <summary>What remains, planned from wherever the work stands.</summary>
public sealed class ContinuationTests
{
    public static TheoryData<string, string> Jobs
    {
        get
        {
            var data = new TheoryData<string, string>();
            foreach (var file in Maps.ShippedFiles)
            {
                var map = Maps.Shipped(Path.GetFileName(file).Replace(".map.json", "", StringComparison.Ordinal));
                foreach (var assembly in map.Plain().Assemblies.Where(a => map.Plain().Parts.Any(p => p.Id == a.Part)))
                {
                    data.Add(map.Model.Code, assembly.Id.Value);
                }
            }

            return data;
        }
    }

    [Theory]
    [MemberData(nameof(Jobs))]
    public void Along_the_plan_the_rest_never_takes_longer_than_the_plan(string model, string assembly)
    {
        var map = Maps.Shipped(model).Plain();
        Goal goal = new Goal.Replace(AssemblyId.Of(assembly));
        var plan = TeardownPlanner.Plan(map, [goal]).Value;
        List<Act> acts = [.. plan.Acts];
        for (var done = 0; done <= acts.Count; done += 13)
        {
            var rest = TeardownPlanner.Resume(map, [new StandingGoal(goal)], acts[..done]).Value;
            Seconds(map, goal, [.. acts[..done], .. rest]).ShouldBe(plan.Minutes.Expected * 60, 1e-6, $"after {done}");
        }
    }

    [Fact]
    public void After_any_order_the_machine_allows_the_rest_is_allowed_and_meets_every_goal() =>
        Gen.Select(Maps.GeneratedUpTo(9), Gen.Int[0, int.MaxValue])
            .Sample(
                (map, seed) =>
                {
                    var random = new Random(seed);
                    List<Goal> goals = [.. Some(map, random), .. Some(map, random)];
                    List<StandingGoal> standing = [new(goals[0])];
                    var done = new List<Act>();
                    var joins = random.Next(12);
                    while (true)
                    {
                        if (done.Count == joins && goals.Count > 1)
                        {
                            standing.Add(new StandingGoal(goals[1], done.Count));
                        }

                        var rest = TeardownPlanner.Resume(map, standing, done).Value;
                        Simulation.Check(map, [.. done, .. rest]).ShouldBeNull();
                        foreach (var goal in standing)
                        {
                            List<Act> since = [.. done.Skip(goal.Since), .. rest];
                            // What was open when the goal joined is closed once more, and that is what it asks for.
                            map.Needs(goal.Goal)
                                .ShouldAllBe(r => since.Exists(d => r.AnyOf.Any(a => a == d || a.Reverse == d)));
                        }

                        var machine = new Simulation(map);
                        done.ForEach(a => machine.Do(a).ShouldBeNull());
                        if (rest.Count == 0)
                        {
                            break;
                        }

                        List<Act> next =
                        [
                            rest[0],
                            .. rest.TakeWhile(a => a.Reverse is null == rest[0].Reverse is null)
                                .Where(a => a.Kind != ActKind.TurnOver && machine.Copy().Do(a) is null),
                        ];
                        // What the machine allows now may leave no way back (power on with a screw still out): refused.
                        var wish = next[random.Next(next.Count)];
                        done.Add(
                            TeardownPlanner.Resume(map, standing, [.. done, wish]).Refusal is null ? wish : rest[0]
                        );
                        (done.Count < 500).ShouldBeTrue("it must come to an end");
                    }
                },
                iter: 200
            );

    [Theory]
    [InlineData("sandpiper-14")]
    [InlineData("thimble-11-r")]
    [InlineData("grebe-15")]
    public void Tried_after_the_cover_the_machine_lies_deck_up_as_in_the_plan(string model)
    {
        var map = Maps.Shipped(model).Plain();
        var basis = Basis.Default with { Practice = HousePractice.Default.With("power-test", "after-cover").Value };
        Goal goal = new Goal.Replace(AssemblyId.Of("battery"));
        List<Act> acts = [.. TeardownPlanner.Plan(map, [goal], basis).Value.Acts];
        var rest = TeardownPlanner.Resume(map, [new StandingGoal(goal)], acts[..6], basis).Value;
        rest.Where(a => a.Kind != ActKind.TurnOver).ShouldBe(acts[6..].Where(a => a.Kind != ActKind.TurnOver));
        rest.SkipWhile(a => a.Kind != ActKind.PowerTest).ShouldNotContain(Act.TurnOver);
    }

    [Fact]
    public void What_has_run_is_shut_down_before_it_is_opened_again()
    {
        var map = Maps.Sandpiper;
        var plan = TeardownPlanner.Plan(map, [new Goal.Replace(AssemblyId.Of("battery"))]).Value;
        var machine = new Simulation(map);
        foreach (var act in plan.Acts.TakeWhile(a => a.Kind != ActKind.Check))
        {
            machine.Do(act).ShouldBeNull();
        }

        machine.Do(Act.LiftOut(PartId.Of("sim-tray")))!.ShouldContain("shut it down");
        foreach (var preparation in map.Preparations)
        {
            machine.Do(Act.Prepare(preparation)).ShouldBeNull();
        }

        machine.Do(Act.LiftOut(PartId.Of("sim-tray"))).ShouldBeNull();
    }

    [Fact]
    public void A_joint_to_seat_again_after_everything_is_closed_opens_only_what_leads_to_it()
    {
        var map = Maps.Sandpiper;
        Goal board = new Goal.Replace(AssemblyId.Of("board"));
        List<Act> done = [.. TeardownPlanner.Plan(map, [board]).Value.Acts.TakeWhile(a => a.Kind != ActKind.Check)];
        var joint = map.Joints.First(j => j.Check?.Value == "picture");
        var rest = TeardownPlanner
            .Resume(map, [new StandingGoal(board), new StandingGoal(new Goal.Reseat(joint.Id), done.Count)], done)
            .Value;
        var alone = TeardownPlanner.Plan(map, [new Goal.Reseat(joint.Id)]).Value;
        rest.Where(a => a.Kind is ActKind.Open or ActKind.Undo or ActKind.LiftOut or ActKind.Isolate)
            .Order(Comparer<Act>.Create((a, b) => string.CompareOrdinal(a.ToString(), b.ToString())))
            .ShouldBe(
                alone
                    .Acts.Where(a => a.Kind is ActKind.Open or ActKind.Undo or ActKind.LiftOut or ActKind.Isolate)
                    .Order(Comparer<Act>.Create((a, b) => string.CompareOrdinal(a.ToString(), b.ToString())))
            );
        rest.ShouldNotContain(a => a.Kind == ActKind.ReadFitted);
        rest[0].Kind.ShouldBe(ActKind.Prepare, "it has been switched on for the power test");
        rest.ShouldContain(Act.Check(joint.Check!.Value));
    }

    private static IEnumerable<Goal> Some(ServiceMap map, Random random)
    {
        var parts = map.Parts.Where(p => !p.Fixed).ToList();
        yield return random.Next(3) == 0 && map.Joints.Count > 0
            ? new Goal.Reseat(map.Joints[random.Next(map.Joints.Count)].Id)
            : new Goal.LiftOut(parts[random.Next(parts.Count)].Id);
    }

    private static double Seconds(ServiceMap map, Goal goal, IReadOnlyList<Act> acts) =>
        TeardownPlanner.Restore(map, [goal], acts).Minutes.Expected * 60;
}
