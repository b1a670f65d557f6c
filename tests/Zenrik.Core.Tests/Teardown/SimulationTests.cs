using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.Tests.Teardown;

/// <summary>Slips seen at real benches (common practice, no published source), each refused for its reason.</summary>
public sealed class SimulationTests
{
    private static readonly string[] ToTheInside =
    [
        "prepare:shut-down",
        "prepare:photo",
        "lift-out:sim-tray",
        "turn-over:",
        "undo:base-screws",
        "lift-out:base-cover",
    ];

    private static string? Try(IEnumerable<string> before, string act)
    {
        var machine = new Simulation(Maps.Sandpiper);
        foreach (var done in before)
        {
            machine.Do(Act.Parse(done)).ShouldBeNull(done);
        }

        return machine.Do(Act.Parse(act));
    }

    [Fact]
    public void Cover_forced_with_screws_in() =>
        Try(ToTheInside[..4], "lift-out:base-cover")!.ShouldContain("base cover screws still hold it");

    [Fact]
    public void Cover_lifted_with_the_SIM_tray_in() =>
        Try([.. ToTheInside[..2], "turn-over:", "undo:base-screws"], "lift-out:base-cover")!.ShouldContain("SIM tray");

    [Fact]
    public void Worked_on_under_power() => Try(ToTheInside, "undo:frame-upper")!.ShouldContain("Isolate first");

    [Fact]
    public void Battery_lifted_with_the_speaker_wire_stuck_to_it() =>
        Try([.. ToTheInside, "isolate:battery-plug", "undo:battery-screws"], "lift-out:battery")!
            .ShouldContain("Speaker wire tape", Case.Insensitive);

    [Fact]
    public void Cover_put_on_over_an_open_joint() =>
        Try([.. ToTheInside, "isolate:battery-plug"], "put-in:base-cover")!
            .ShouldContain("Battery plug", Case.Insensitive);

    [Fact]
    public void Drive_drawn_from_its_slot_while_its_screw_holds_it() =>
        Try(
                [
                    .. ToTheInside,
                    "isolate:battery-plug",
                    "undo:frame-upper",
                    "undo:frame-lower",
                    "lift-out:frame",
                    "undo:shroud-screw",
                    "lift-out:drive-a-shroud",
                ],
                "open:drive-a-slot"
            )!
            .ShouldContain("holds it down");

    [Fact]
    public void Heatsink_put_back_without_new_paste() =>
        Try([.. ToTheInside, "isolate:battery-plug", "undo:heatsink-screws", "lift-out:heatsink"], "put-in:heatsink")!
            .ShouldContain("paste");

    [Fact]
    public void From_the_wrong_side() =>
        Try(["prepare:shut-down", "prepare:photo"], "undo:base-screws")!.ShouldContain("turn the machine over");

    [Fact]
    public void Left_unfinished() =>
        Simulation.Check(Maps.Sandpiper, [.. ToTheInside.Select(Act.Parse)])!.Reason.ShouldContain("still out");
}
