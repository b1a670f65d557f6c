using Zenrik.Core.MapMaking;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;
using Zenrik.Core.Tests.MapMaking;

namespace Zenrik.Core.Tests.Teardown;

/// <summary>
/// Ribbons and cables with a plug at each end: one of the two is opened, and the lead goes with the other. That plans are
/// best with them too is held by the tests on generated and mutated maps, which have such leads.
/// </summary>
public sealed class LooseLeadTests
{
    private static readonly PartId Touchpad = PartId.Of("touchpad");
    private static readonly Act AtBoard = Act.Open(JointId.Of("touchpad-ribbon"));
    private static readonly Act AtTouchpad = Act.Open(JointId.Of("touchpad-end"));

    // On the board the ribbon lies under the inner frame; at the touchpad it is reached once the battery is out.
    private static readonly ServiceMap Machine = Maps.Sandpiper with
    {
        Joints =
        [
            .. Maps.Sandpiper.Joints,
            Maps.Sandpiper.Joint(AtBoard.Joint) with
            {
                Id = AtTouchpad.Joint,
                Name = "touchpad ribbon at the touchpad",
                Between = [PartId.Of("board"), Touchpad],
                OtherEnd = AtBoard.Joint,
                At = new Point(170, 150),
                Route = [],
                Under = [PartId.Of("battery")],
            },
        ],
    };

    [Fact]
    public void The_end_that_costs_less_is_opened_and_the_part_s_own_where_it_is_exchanged()
    {
        var before = TeardownPlanner.Plan(Maps.Sandpiper, [new Goal.LiftOut(Touchpad)]).Value;
        foreach (
            var (goal, opens, stays) in new (Goal Goal, Act Opens, Act Stays)[]
            {
                (new Goal.LiftOut(Touchpad), AtTouchpad, AtBoard),
                (new Goal.Replace(AssemblyId.Of("touchpad")), AtTouchpad, AtBoard),
                (new Goal.Replace(AssemblyId.Of("board")), AtBoard, AtTouchpad),
            }
        )
        {
            var plan = TeardownPlanner.Plan(Machine, [goal]).Value;
            Simulation.Check(Machine, [.. plan.Acts]).ShouldBeNull($"{goal}");
            plan.Acts.ShouldContain(opens, $"{goal}");
            plan.Acts.ShouldNotContain(stays, $"{goal}");
            if (goal is Goal.LiftOut)
            {
                before.Acts.ShouldContain(AtBoard);
                plan.Minutes.Expected.ShouldBeLessThan(before.Minutes.Expected);
            }
        }
    }

    [Fact]
    public void The_lead_goes_with_the_end_that_stays_in_and_is_at_hand_on_either_part()
    {
        var plan = TeardownPlanner.Plan(Maps.Sandpiper, [new Goal.LiftOut(Touchpad)]).Value;
        var machine = new Simulation(Machine);
        foreach (var act in plan.Acts.TakeWhile(a => a != AtBoard))
        {
            machine.Do(act).ShouldBeNull();
        }

        var lift = Act.LiftOut(Touchpad);
        foreach (var act in plan.Acts.SkipWhile(a => a != AtBoard).Skip(1).TakeWhile(a => a != lift))
        {
            machine.Do(act).ShouldBeNull();
        }

        machine.Do(lift)!.ShouldContain("would tear");
        machine.Do(AtBoard).ShouldBeNull();
        machine.Do(lift).ShouldBeNull();
        // Off the touchpad too, on the mat; its other end waits for the touchpad, or for the lead being free of it.
        var left = machine.Copy();
        left.Do(AtBoard.Reverse!.Value)!.ShouldContain("not in its place");
        machine.Do(AtTouchpad).ShouldBeNull();
        machine.Do(AtBoard.Reverse!.Value).ShouldBeNull();
    }

    [Fact]
    public void Two_sessions_that_opened_either_end_make_a_draft_whose_plans_the_machine_allows()
    {
        var learner = new Learner(Machine);
        var atTouchpad = learner.Work(Touchpad, 1, 0);
        var atBoard = new Learner(Maps.SandpiperWhole).Work(Touchpad, 1, 1);
        var fan = learner.Work(PartId.Of("fan"), 1, 2);
        var draft = new Draft(Machine.Model, [atTouchpad, atBoard, fan], []);
        var plan = TeardownPlanner.Plan(draft.Map, [new Goal.LiftOut(Touchpad)]).Value;
        learner.Refuses(plan).ShouldBeNull();

        // Said to be one lead, it is that in the map too, until a session does without both.
        var said = new Statement.Lead(AtBoard.Target, AtTouchpad.Target, "machine", Touchpad.Value);
        draft.Refuse(said with { Other = AtBoard.Target })!.Message.ShouldContain("two ends");
        draft.Refuse(said with { Other = "gill-plug" })!.Reason.ShouldBe(RefusalReason.NotFound);
        draft.Refuse(said with { OtherSocket = "gills" })!.Reason.ShouldBe(RefusalReason.NotFound);
        draft.Refuse(said with { Other = "fan-plug" })!.Message.ShouldContain("both ends still in");
        draft.Refuse(said).ShouldBeNull();
        var lead = draft.With(said).Map;
        lead.OtherEnd(AtBoard.Joint)!.Id.ShouldBe(AtTouchpad.Joint);
        (lead.Joint(AtBoard.Joint).Socket, lead.Joint(AtTouchpad.Joint).Socket).ShouldBe(
            (PartId.Of("machine"), Touchpad)
        );
        ServiceMapRules.Check("draft", lead).ShouldBeEmpty();
        learner.Refuses(TeardownPlanner.Plan(lead, [new Goal.LiftOut(Touchpad)]).Value).ShouldBeNull();
        draft.With(said).With(said with { Other = null }).Map.OtherEnd(AtBoard.Joint).ShouldBeNull();

        // So does the draft of a like model.
        var copy = new Draft(Machine.Model, [], [], new CopiedMap(Machine));
        learner.Refuses(TeardownPlanner.Plan(copy.Map, [new Goal.LiftOut(Touchpad)]).Value).ShouldBeNull();
    }
}
