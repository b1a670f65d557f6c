using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;
using Zenrik.Core.Tests.Teardown.Oracles;

namespace Zenrik.Core.Tests.Teardown;

/// <summary>What hangs on its leads: the deck of the Chromebook made for repair. Common practice, no published source.</summary>
public sealed class SetAsideTests
{
    private readonly ServiceMap map = Maps.Shipped("thimble-11-r").Plain();

    private Simulation Raised()
    {
        var machine = new Simulation(map);
        string[] opening = ["prepare:shut-down", "prepare:photo", "turn-over:", "undo:base-screws", "turn-over:"];
        foreach (var act in opening.Append("set-aside:deck/raised"))
        {
            machine.Do(Act.Parse(act)).ShouldBeNull(act);
        }

        return machine;
    }

    [Fact]
    public void What_is_set_aside_and_then_lifted_out_pays_its_movement_once()
    {
        var grebe = Maps.Shipped("grebe-15").Plain();
        var plan = TeardownPlanner.Plan(grebe, [new Goal.LiftOut(PartId.Of("keyboard"))]).Value;
        string[] both = ["set-aside:keyboard/tilted", "lift-out:keyboard"];
        plan.Acts.Select(a => a.ToString()).Intersect(both).ShouldBe(both);
        Seconds(grebe, both).ShouldBe(45);
        Seconds(grebe, "put-in:keyboard", "put-back:keyboard/tilted").ShouldBe(1.25 * 45);
        // Where its leads can be opened while it lies in its place, out and aside are two ways.
        Seconds(grebe, "lift-out:radio").ShouldBe(8);
        // An author who gives the rest alone is taken at the word.
        Seconds(map, "set-aside:deck/raised", "lift-out:deck").ShouldBe(25 + 6);

        static double Seconds(ServiceMap on, params string[] acts) => acts.Sum(a => StandardTimes.Of(on, Act.Parse(a)));
    }

    [Theory]
    [InlineData("open:keyboard-ribbon", "Isolate first")] // It still hangs on the machine, which is live.
    [InlineData("lift-out:deck", "ribbon is still closed and would tear")]
    [InlineData("set-aside:deck/raised", "set aside already")]
    [InlineData("fasten:base-screws", "not in its place")]
    public void A_raised_deck_is_neither_in_nor_out(string act, string reason) =>
        Raised().Do(Act.Parse(act)).ShouldNotBeNull().ShouldContain(reason);

    [Fact]
    public void Its_ribbons_open_after_isolation_and_it_goes_back_only_when_what_lies_beneath_is_closed()
    {
        var machine = Raised();
        machine.Unfinished().ShouldNotBeNull().ShouldContain("set aside");
        string[] on =
        [
            "isolate:battery-plug",
            "open:keyboard-ribbon",
            "open:touchpad-ribbon",
            "lift-out:deck",
            "put-in:deck",
        ];
        foreach (var act in on)
        {
            machine.Do(Act.Parse(act)).ShouldBeNull(act);
        }

        machine.Do(Act.Parse("put-back:deck")).ShouldNotBeNull().ShouldContain("beneath it is still open");
        foreach (
            var act in new[]
            {
                "close:touchpad-ribbon",
                "close:keyboard-ribbon",
                "reconnect:battery-plug",
                "put-back:deck",
            }
        )
        {
            machine.Do(Act.Parse(act)).ShouldBeNull(act);
        }
    }

    /// <summary>The touchpad of most decks is a part of its own, with a ribbon of its own to the board.</summary>
    [Fact]
    public void What_rides_on_a_raised_deck_keeps_its_own_ribbon_and_comes_out_of_it_there()
    {
        var touchpad = PartId.Of("touchpad");
        var deck = map.Part(PartId.Of("deck"));
        var ribbon = map.Joint(JointId.Of("touchpad-ribbon"));
        var split = map with
        {
            Parts =
            [
                .. map.Parts,
                new Part
                {
                    Id = touchpad,
                    Name = "touchpad",
                    MountedOn = deck.Id,
                    BlockedBy = [deck.Id],
                },
            ],
            Joints = [.. map.Joints.Select(j => j == ribbon ? j with { Between = [touchpad, ribbon.Socket] } : j)],
        };
        ServiceMapRules.Check("split", split).ShouldBeEmpty();
        var plan = TeardownPlanner.Plan(split, [new Goal.Replace(AssemblyId.Of("battery"))]).Value;
        plan.Acts.ShouldContain(Act.Remove(deck.Id, deck.Ways[0]));
        plan.Acts.ShouldNotContain(Act.Open(ribbon.Id));
        Simulation.Check(split, [.. plan.Acts]).ShouldBeNull();

        var alone = TeardownPlanner.Plan(split, [new Goal.LiftOut(touchpad)]).Value;
        Simulation.Check(split, [.. alone.Acts]).ShouldBeNull();
        new EveryState(TeardownProblem.Of(split, [new Goal.LiftOut(touchpad)], Basis.Default).Value)
            .Cost()
            .ShouldBe(PlanCost.Of(alone));

        // Out of the machine altogether only when both ribbons are open.
        var refused = new Simulation(split);
        string[] opening = ["prepare:shut-down", "prepare:photo", "turn-over:", "undo:base-screws", "turn-over:"];
        foreach (var act in opening.Concat(["set-aside:deck/raised", "isolate:battery-plug", "open:keyboard-ribbon"]))
        {
            refused.Do(Act.Parse(act)).ShouldBeNull(act);
        }

        refused.Do(Act.LiftOut(deck.Id)).ShouldNotBeNull().ShouldContain("would tear");
    }

    [Theory]
    [InlineData("replace:board", "lift-out:fan")]
    public void Goals_are_written_as_they_are_read(params string[] texts) =>
        GoalText.Read(texts).Value.Select(GoalText.Of).ShouldBe(texts);

    [Theory]
    [InlineData("board")]
    [InlineData("swap:board")]
    [InlineData("")]
    public void What_is_no_goal_is_refused(string text) =>
        GoalText.Read([text]).Refusal!.Message.ShouldContain("replace:ASSEMBLY");
}
