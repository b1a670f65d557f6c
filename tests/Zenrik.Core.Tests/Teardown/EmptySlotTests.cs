using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.Tests.Teardown;

/// <summary>A slot that holds nothing is filled by the same physics as one whose part is exchanged.</summary>
public sealed class EmptySlotTests
{
    private static readonly HashSet<string> Nothing = [];

    public static TheoryData<string, string> EmptySlots
    {
        get
        {
            var data = new TheoryData<string, string>();
            foreach (var code in Maps.ShippedFiles.Select(f => Path.GetFileName(f).Replace(".map.json", "")))
            {
                foreach (var part in Maps.Shipped(code).Fillable(Nothing))
                {
                    data.Add(code, part.Slot!);
                }
            }

            return data;
        }
    }

    private static (ServiceMap Unit, Part Part, Plan Plan) Fill(string model, string slot)
    {
        var map = Maps.Shipped(model);
        var unit = map.Filling(Nothing, [slot]);
        var goal = new Goal.Replace(map.AssemblyIn(slot)!.Id);
        return (unit, map.PartInSlot(slot)!, TeardownPlanner.Plan(unit, [goal]).Value);
    }

    [Theory]
    [MemberData(nameof(EmptySlots))]
    public void What_is_fitted_goes_in_where_it_would_come_out(string model, string slot)
    {
        var (unit, part, plan) = Fill(model, slot);

        Simulation.Check(unit, [.. plan.Acts]).ShouldBeNull();
        plan.Acts.ShouldContain(Act.LiftOut(part.Id).Reverse!.Value);
        plan.Acts.ShouldContain(Act.ReadFitted(part.Id));
        plan.Acts.ShouldNotContain(Act.ReadRemoved(part.Id), "there is no old one");
        plan.Acts.ShouldNotContain(Act.FillDrive(part.Id), "nothing is taken over from another drive");
        foreach (var joint in unit.Joints.Where(j => j.Between.Contains(part.Id)))
        {
            plan.Acts.ShouldContain(TeardownGraph.Opening(unit, joint.Id).Reverse!.Value);
        }
    }

    [Theory]
    [MemberData(nameof(EmptySlots))]
    public void It_takes_less_time_than_an_exchange_and_stands_out_of_the_drawing_until_it_is_in(
        string model,
        string slot
    )
    {
        var (unit, part, plan) = Fill(model, slot);
        var full = Maps.Shipped(model).Filling(new HashSet<string> { slot }, [slot]);
        var exchange = TeardownPlanner.Plan(full, [.. plan.Goals]).Value;

        plan.Steps.Sum(s => s.Seconds).ShouldBeLessThan(exchange.Steps.Sum(s => s.Seconds));
        Drawn(0).ShouldBe(Mark.Absent);
        Drawn(plan.Steps.Count).ShouldBe(Mark.Back);

        // Looked at from its own side, whichever is up.
        Mark Drawn(int done) =>
            MachineView
                .Of(Maps.Shipped(model), unit, PlanMoment.After(plan, done) with { Up = part.Side })
                .Things.OfType<DrawnThing.OfPart>()
                .Single(p => p.Part.Id == part.Id)
                .Mark;
    }

    [Fact]
    public void The_acts_say_that_the_place_is_empty()
    {
        var (_, part, plan) = Fill("sandpiper-14", "memory-b");
        var out_ = plan.Steps.Single(s => s.Act == Act.LiftOut(part.Id));

        plan.Steps.ShouldContain(s => s.Title == "See that the memory B slot is empty");
        out_.Title.ShouldBe("Clear the place for the new memory B");
        plan.Steps.ShouldContain(s => s.Title == "Put in the new memory B");
    }

    [Fact]
    public void A_board_that_is_exchanged_too_hands_over_what_it_has_and_no_more()
    {
        var map = Maps.Shipped("sandpiper-14");
        var unit = map.Filling(new HashSet<string> { "memory-a" }, ["memory-b", "board"]);
        var plan = TeardownPlanner
            .Plan(unit, [new Goal.Replace(AssemblyId.Of("board")), new Goal.Replace(AssemblyId.Of("memory-b"))])
            .Value;

        Simulation.Check(unit, [.. plan.Acts]).ShouldBeNull();
        plan.TransferList.Select(p => p.Id.Value).ShouldContain("memory-a");
        plan.TransferList.Select(p => p.Id.Value).ShouldNotContain("memory-b");
    }

    [Fact]
    public void Choices_of_a_variant_are_no_empty_slots()
    {
        var built = Maps.Shipped("cormorant-15").Fillable(new HashSet<string> { "battery-large" });

        built.Select(p => p.Slot).ShouldBe(["memory-b", "drive-b"], ignoreOrder: true);
    }
}
