using CsCheck;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;
using Zenrik.Core.Tests.Teardown.Oracles;

namespace Zenrik.Core.Tests.Teardown;

public sealed class PlannerTests
{
    private static Plan PlanFor(ServiceMap map, params string[] assemblies) =>
        TeardownPlanner.Plan(map, [.. assemblies.Select(a => new Goal.Replace(AssemblyId.Of(a)))]).Value;

    private static readonly Gen<(ServiceMap Map, Goal[] Goals)> Cases = CasesOn(Maps.Generated);

    private static Gen<(ServiceMap Map, Goal[] Goals)> CasesOn(Gen<ServiceMap> maps) =>
        from map in maps
        from picks in Gen.Int[0, map.Parts.Count - 2].Array[1, 3]
        from replace in Gen.Bool
        select (
            map,
            picks
                .Distinct()
                .Select(i => map.Parts[i + 1].Id)
                .Select(Goal (p) => replace ? new Goal.Replace(AssemblyId.Of(p.Value)) : new Goal.LiftOut(p))
                .ToArray()
        );

    [Fact]
    public void Every_plan_passes_the_simulator() =>
        Cases.Sample(
            c =>
            {
                ServiceMapRules.Check("generated", c.Map).ShouldBeEmpty();
                Simulation.Check(c.Map, [.. TeardownPlanner.Plan(c.Map, c.Goals).Value.Acts]).ShouldBeNull();
            },
            iter: 2000
        );

    [Fact]
    public void No_act_of_the_way_out_can_be_dropped() =>
        Cases.Sample(
            c =>
            {
                var plan = TeardownPlanner.Plan(c.Map, c.Goals).Value;
                var acts = plan.Acts.ToList();
                // Isolation is there for safety: the simulator lets more be done under power than the planner
                // ever does, and is content with an external battery that is slid off its contacts. What rides on a part that is
                // out could be held either way; the planner turns the machine for it as if it were in.
                ActKind[] exempt = [ActKind.ReadRemoved, ActKind.BlowClean, ActKind.Isolate, ActKind.TurnOver];
                var battery = Act.LiftOut(c.Map.Joint(c.Map.Isolation).Plug);
                foreach (
                    var dropped in acts.Take(plan.OutCount)
                        .Where(a => !exempt.Contains(a.Kind) && a with { Way = null } != battery)
                )
                {
                    // Dropped with its counterpart, so that the way back is not what fails.
                    var rest = acts.Where(a => a != dropped && a != dropped.Reverse).ToList();
                    var goalDropped = c.Goals.SelectMany(c.Map.Needs).Any(need => need.AnyOf.Contains(dropped));
                    (goalDropped || Simulation.Check(c.Map, rest) is not null).ShouldBeTrue(
                        $"{dropped} is idle in {string.Join(", ", acts)}"
                    );
                }
            },
            iter: 300
        );

    [Fact]
    public void The_way_back_is_the_way_out_reversed_but_for_closing_acts() =>
        Cases.Sample(
            c =>
            {
                var plan = TeardownPlanner.Plan(c.Map, c.Goals).Value;
                var back = plan
                    .Steps.Where(s => s.Stage == Stage.Back)
                    .Select(s => s.Act)
                    .Where(a => a.Kind is not (ActKind.ReadFitted or ActKind.CleanAndPaste or ActKind.PowerTest));
                back.ShouldBe(plan.Acts.Take(plan.OutCount).Reverse().Select(a => a.Reverse).OfType<Act>());
            },
            iter: 500
        );

    [Fact]
    public void Merged_goals_take_no_longer_than_one_after_the_other() =>
        Cases
            .Where(c => c.Goals.Length > 1)
            .Sample(
                c =>
                {
                    long Cost(params Goal[] goals) => PlanCost.Of(TeardownPlanner.Plan(c.Map, goals).Value);
                    // Apart, every goal has its turning point, with the tool of the way back already in hand; merged
                    // they share one. What is outside comes off first, whichever side it is on, so the machine may have to
                    // be turned once more between two goals, and once more on the way back.
                    var change =
                        TeardownProblem.ToolChangeMs
                        + (c.Map.Parts.Any(p => p.Outside) ? TeardownProblem.TurnOverMs : 0);
                    Cost(c.Goals)
                        .ShouldBeLessThanOrEqualTo(c.Goals.Sum(g => Cost(g)) + ((c.Goals.Length - 1) * change));
                },
                iter: 300
            );

    [Fact]
    public void The_same_question_gives_the_same_plan() =>
        Cases.Sample(
            c =>
                TeardownPlanner
                    .Plan(c.Map, c.Goals)
                    .Value.Acts.SequenceEqual(TeardownPlanner.Plan(c.Map, c.Goals).Value.Acts),
            iter: 200
        );

    [Fact]
    public void A_plan_is_restored_from_its_stored_acts()
    {
        var plan = PlanFor(Maps.Sandpiper, "board");
        var stored = plan.Acts.Select(a => a.ToString()).ToList();
        var restored = TeardownPlanner.Restore(Maps.Sandpiper, plan.Goals, [.. stored.Select(Act.Parse)]);
        restored
            .Steps.Select(s => (s.Title, s.Stage, s.Seconds))
            .ShouldBe(plan.Steps.Select(s => (s.Title, s.Stage, s.Seconds)));
    }

    [Fact]
    public void Every_assembly_of_the_business_laptop_can_be_replaced()
    {
        foreach (var assembly in Maps.SandpiperWhole.Assemblies)
        {
            var plan = PlanFor(Maps.SandpiperWhole, assembly.Id.Value);
            Simulation.Check(Maps.SandpiperWhole, [.. plan.Acts]).ShouldBeNull();
        }
    }

    [Fact]
    public void The_battery_of_the_business_laptop_comes_out_in_the_order_of_the_trade()
    {
        // Common practice, no published source: SIM tray before the cover, plug before the pack, speaker wire freed
        // before the battery lifts, number read once it is out, dust blown out while inside, power tried before the cover goes on.
        var acts = PlanFor(Maps.Sandpiper, "battery").Acts.Select(a => a.ToString()).ToList();
        acts.ShouldBe([
            "prepare:shut-down",
            "prepare:photo",
            "lift-out:sim-tray",
            "turn-over:",
            "undo:base-screws",
            "lift-out:base-cover",
            "isolate:battery-plug",
            "free:speaker-tape",
            "undo:battery-screws",
            "lift-out:battery",
            "read-removed:battery",
            "blow-clean:fan",
            "read-fitted:battery",
            "put-in:battery",
            "fasten:battery-screws",
            "lay:speaker-tape",
            "reconnect:battery-plug",
            "power-test:",
            "put-in:base-cover",
            "fasten:base-screws",
            "turn-over:",
            "put-in:sim-tray",
            "check:charge",
            "check:fan",
            "check:battery-care",
        ]);
    }

    [Fact]
    public void A_board_swap_finds_the_hidden_screw_moves_everything_over_and_asks_for_paste()
    {
        var plan = PlanFor(Maps.Sandpiper, "board");
        var acts = plan.Acts.ToList();
        int At(string act) => acts.IndexOf(Act.Parse(act));

        At("lift-out:memory-bracket").ShouldBeLessThan(At("undo:board-hidden"));
        At("undo:board-hidden").ShouldBeLessThan(At("lift-out:board/heatsink-off"));
        plan.TransferList.Select(p => p.Id.Value)
            .ShouldBe(
                [
                    "heatsink",
                    "radio-bracket",
                    "radio",
                    "drive-a-shroud",
                    "drive-a",
                    "drive-a-mount",
                    "drive-a-pad",
                    "memory-shield",
                    "memory-a",
                    "memory-bracket",
                    "coin-cell",
                ],
                ignoreOrder: true
            );
        plan.Consumables.ShouldContainKeyAndValue(Consumable.ThermalPaste, 1);
        At("clean-and-paste:heatsink").ShouldBe(At("put-in:heatsink") - 1);
        acts.ShouldContain(Act.Parse("check:service-tag"));
    }

    [Fact]
    public void A_keyboard_lifts_the_board_with_heatsink_and_drive_left_on_it()
    {
        var plan = PlanFor(Maps.Sandpiper, "keyboard");
        plan.Acts.ShouldContain(Act.Parse("lift-out:board/heatsink-on"));
        plan.Acts.ShouldNotContain(Act.Parse("lift-out:heatsink"));
        plan.Acts.ShouldNotContain(Act.Parse("lift-out:drive-a"));
        plan.Consumables.ShouldBeEmpty();
    }

    [Fact]
    public void An_optional_card_that_is_fitted_adds_its_antennas_to_the_way_to_the_board()
    {
        var with = PlanFor(Maps.SandpiperWhole.For(new HashSet<PartId> { PartId.Of("cellular") }), "board");
        with.Acts.ShouldContain(Act.Parse("open:cellular-main"));
        PlanFor(Maps.Sandpiper, "board").Acts.ShouldNotContain(Act.Parse("open:cellular-main"));
    }

    [Fact]
    public void An_act_explains_itself_by_the_chain_to_the_goal()
    {
        var plan = PlanFor(Maps.Sandpiper, "keyboard");
        var screws = plan.Steps.First(s => s.Act == Act.Parse("undo:fan-screws"));
        screws.Why.Select(a => a.ToString()).ShouldBe(["lift-out:fan", "lift-out:keyboard"]);
    }

    [Fact]
    public void A_goal_the_model_does_not_have_is_refused_by_name()
    {
        TeardownPlanner
            .Plan(Maps.Sandpiper, [new Goal.Replace(AssemblyId.Of("optical-drive"))])
            .Refusal!.Message.ShouldContain("optical-drive");
        TeardownPlanner.Plan(Maps.Sandpiper, []).Refusal!.Reason.ShouldBe(RefusalReason.Invalid);
    }

    [Fact]
    public void Minutes_of_independent_acts_follow_the_normal_interval()
    {
        // By hand: 100 acts of 60 s; own spread 0.5·60·√100 = 300 s, pace 0.12·6000 = 720 s, together 780 s;
        // tenth and ninetieth percentile of the normal distribution lie 1.2816 of that away: 1000 s.
        var total = Minutes.Total(Enumerable.Repeat(60.0, 100));
        total.Expected.ShouldBe(100);
        total.Low.ShouldBe(100 - (1.2816 * 780 / 60), 1e-9);
        total.High.ShouldBe(100 + (1.2816 * 780 / 60), 1e-9);
    }
}
