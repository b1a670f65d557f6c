using Zenrik.Core.HouseRules;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.Tests.HouseRules;

/// <summary>Each rule changes plans where it should and nowhere else. The schools are common practice, no published source.</summary>
public sealed class HousePracticeTests
{
    private static Plan PlanFor(string model, string assembly, HousePractice practice) =>
        TeardownPlanner
            .Plan(
                Maps.Shipped(model).Plain(),
                [new Goal.Replace(AssemblyId.Of(assembly))],
                Basis.Default with
                {
                    Practice = practice,
                }
            )
            .Value;

    /// <summary>What differs between the plans under the default and under one other school.</summary>
    private static (List<string> Only, List<string> Lost) Difference(
        string model,
        string assembly,
        string rule,
        string school
    )
    {
        var before = PlanFor(model, assembly, HousePractice.Default).Acts.Select(a => a.ToString()).ToList();
        var after = PlanFor(model, assembly, HousePractice.Default.With(rule, school).Value)
            .Acts.Select(a => a.ToString())
            .ToList();
        return ([.. after.Except(before)], [.. before.Except(after)]);
    }

    private static void Unchanged(string model, string assembly, string rule, string school)
    {
        var (only, lost) = Difference(model, assembly, rule, school);
        only.Concat(lost).ShouldBeEmpty();
    }

    [Fact]
    public void Unsnapping_always_replaces_setting_the_card_aside()
    {
        var (only, lost) = Difference("sandpiper-14", "board", "antenna-leads", "unsnap-always");
        only.ShouldBe(
            [
                "open:antenna-main",
                "open:antenna-aux",
                "lift-out:radio",
                "close:antenna-aux",
                "close:antenna-main",
                "put-in:radio",
            ],
            ignoreOrder: true
        );
        lost.ShouldContain("set-aside:radio/leads-on");
        Unchanged("sandpiper-14", "battery", "antenna-leads", "unsnap-always");
        // A deck raised on its ribbons is no antenna.
        Unchanged("thimble-11-r", "battery", "antenna-leads", "unsnap-always");
    }

    [Fact]
    public void The_battery_comes_out_of_every_plan_where_the_house_wants_it()
    {
        var (only, _) = Difference("sandpiper-14", "fan", "battery", "always-out");
        only.ShouldContain("lift-out:battery");
        only.ShouldContain("free:speaker-tape");
        Unchanged("sandpiper-14", "battery", "battery", "always-out");
    }

    [Fact]
    public void The_firmware_is_asked_only_on_the_model_that_offers_it_and_only_where_the_house_wants_it()
    {
        Difference("plover-12", "drive", "firmware-battery-off", "not-needed").Lost.ShouldBe(["prepare:battery-off"]);
        Unchanged("sandpiper-14", "drive-a", "firmware-battery-off", "not-needed");
    }

    [Fact]
    public void The_power_test_moves_and_nothing_else_does()
    {
        var after = PlanFor("sandpiper-14", "fan", HousePractice.Default.With("power-test", "after-cover").Value);
        var acts = after.Acts.ToList();
        acts.IndexOf(Act.PowerTest).ShouldBeGreaterThan(acts.IndexOf(Act.Parse("fasten:base-screws")));
        Unchanged("sandpiper-14", "fan", "power-test", "after-cover");
    }

    [Fact]
    public void Dust_is_blown_out_while_inside_or_only_when_asked()
    {
        Difference("coot-14", "radio", "cleaning", "when-asked").Lost.ShouldBe(["blow-clean:fan", "check:fan"]);
        Unchanged("thimble-11-r", "radio", "cleaning", "when-asked"); // Fanless.
    }

    [Fact]
    public void Tight_cross_heads_come_out_with_a_slotted_driver_and_go_in_with_the_cross_head()
    {
        var hinge = Act.Parse("undo:hinge-left");
        var plan = PlanFor("sandpiper-13-turn", "display", HousePractice.Default);
        plan.Steps.Single(s => s.Act == hinge).Tool.ShouldBe(Tool.SlottedDriver);
        plan.Steps.Single(s => s.Act == hinge.Reverse).Tool.ShouldBe(Tool.PH1);
        var purist = HousePractice.Default.With(RuleBook.TightCrossHead, TightCrossHead.RightCrossHeadOnly);
        PlanFor("sandpiper-13-turn", "display", purist).Tools.ShouldNotContain(Tool.SlottedDriver);
    }

    [Fact]
    public void Pads_are_counted_where_they_are_renewed_and_words_follow_the_rest()
    {
        var practice = HousePractice
            .Default.With(RuleBook.Pads, HeatsinkPads.Renew)
            .With(RuleBook.Paste, PasteSpread.SmallDot)
            .With(RuleBook.PryTool, PryTool.ThinMetal)
            .With(RuleBook.MagneticDriver, MagneticDriver.Forbidden)
            .With(RuleBook.ScrewKeeping, ScrewKeeping.WithPart);
        var plan = PlanFor("sandpiper-13-turn", "deck", practice);
        plan.Tools.ShouldContain(Tool.MetalPryTool);
        plan.Tools.ShouldNotContain(Tool.PryTool);
        plan.Steps.Single(s => s.Act == Act.Parse("fasten:magnet-screw"))
            .Cautions.Single()
            .Text.ShouldContain("plastic holder");
        plan.KeptAt(plan.Map.Fastener(FastenerId.Of("fan-screws"))).ShouldBe("with the fan");
        plan.KeptAt(plan.Map.Fastener(FastenerId.Of("base-screws"))).ShouldBe("captive");
        var heatsink = PlanFor("sandpiper-13-turn", "heatsink", practice);
        heatsink.Consumables.ShouldContainKeyAndValue(Consumable.ThermalPads, 1);
        heatsink.Steps.Single(s => s.Act.Kind == ActKind.CleanAndPaste).How.ShouldContain("small dot");
        PlanFor("sandpiper-13-turn", "heatsink", HousePractice.Default)
            .Consumables.ShouldNotContainKey(Consumable.ThermalPads);
    }

    [Fact]
    public void A_practice_is_stored_as_its_departures_and_read_back()
    {
        var practice = HousePractice.Default.With("paste", "small-dot").Value.With("cleaning", "when-asked").Value;
        HousePractice.Read(practice.Departures).ShouldBe(practice);
        practice.With("paste", "thin-spread").Value.Departures.ShouldBe(["cleaning=when-asked"]);
        HousePractice.Default.With("paste", "none").Refusal!.Message.ShouldContain("thin-spread");
        HousePractice.Default.With("tea", "milk").Refusal!.Message.ShouldContain("paste");
    }
}
