using CsCheck;
using Zenrik.Core.Batteries;

namespace Zenrik.Core.Tests.Batteries;

public sealed class PowerSupplyUeventTests
{
    private static string Text(params string[] lines) =>
        string.Join('\n', lines.Prepend("TYPE=Battery").Select(l => $"POWER_SUPPLY_{l}"));

    // Units after the Linux power supply class documentation: µWh, µAh, µV.
    [Fact]
    public void Energy_is_read_directly_or_from_charge_and_design_voltage()
    {
        var energy = PowerSupplyUevent
            .Read(
                Text("ENERGY_FULL=41200000", "ENERGY_FULL_DESIGN=54000000", "CYCLE_COUNT=312", "SERIAL_NUMBER= 0417 ")
            )
            .Value;
        (energy.FullWh, energy.DesignWh, energy.Cycles, energy.Serial).ShouldBe((41.2, 54.0, 312, "0417"));
        energy.Health!.Value.ShouldBe(41.2 / 54, 1e-9);
        energy.Doubts.ShouldBeEmpty();
        var charge = PowerSupplyUevent
            .Read(
                Text(
                    "CHARGE_FULL=3600000",
                    "CHARGE_FULL_DESIGN=4000000",
                    "VOLTAGE_MIN_DESIGN=11400000",
                    "CYCLE_COUNT=0"
                )
            )
            .Value;
        (charge.FullWh, charge.DesignWh).ShouldBe((3.6 * 11.4, 4 * 11.4));
        charge.Cycles.ShouldBeNull("many packs do not count and say 0");
        var silent = PowerSupplyUevent.Read(Text("CHARGE_FULL=3000000", "CHARGE_FULL_DESIGN=4000000")).Value;
        (silent.Health, silent.FullWh).ShouldBe((0.75, null), "health needs no voltage; energy does");
    }

    [Theory]
    [InlineData("", "There is no text")]
    [InlineData("hello", "no line begins with POWER_SUPPLY_")]
    [InlineData("POWER_SUPPLY_TYPE=Mains", "not a battery")]
    [InlineData("POWER_SUPPLY_TYPE=Battery\nPOWER_SUPPLY_PRESENT=0", "no battery is in it")]
    [InlineData("POWER_SUPPLY_TYPE=Battery\nPOWER_SUPPLY_ENERGY_FULL=41200000", "cut off")]
    [InlineData("POWER_SUPPLY_TYPE=Battery\nPOWER_SUPPLY_SCOPE=Device\nPOWER_SUPPLY_ENERGY_FULL=1", "mouse")]
    public void What_is_no_battery_of_the_unit_is_refused_in_a_sentence(string text, string says) =>
        PowerSupplyUevent.Read(text).Refusal!.Message.ShouldContain(says);

    [Theory]
    [InlineData(-5, 54_000_000)]
    [InlineData(0, 54_000_000)]
    [InlineData(110_000_000, 54_000_000)]
    [InlineData(41_200_000, 0)]
    [InlineData(41_200_000, 900_000_000)]
    public void A_gauge_that_talks_nonsense_is_kept_as_a_doubt_and_never_reckoned_with(int full, int design)
    {
        var read = PowerSupplyUevent.Read(Text($"ENERGY_FULL={full}", $"ENERGY_FULL_DESIGN={design}")).Value;
        (read.Health, read.FullWh, read.DesignWh).ShouldBe((null, null, null));
        read.Doubts.ShouldHaveSingleItem().ShouldContain("test it by hand");
    }

    [Fact]
    public void Nothing_counts_as_better_than_new_and_one_word_says_how_it_is()
    {
        BatteryReading.Counted(1.04).ShouldBe(1);
        new[] { 0.59, 0.6, 0.79, 0.8, 1.04 }
            .Select(BatteryReading.Word)
            .ShouldBe(["worn", "used", "used", "good", "good"]);
    }

    [Fact]
    public void More_than_it_was_made_for_is_for_a_person_to_look_at() =>
        PowerSupplyUevent
            .Read(Text("ENERGY_FULL=70000000", "ENERGY_FULL_DESIGN=54000000", "CYCLE_COUNT=-3"))
            .Value.Doubts.Count.ShouldBe(2);

    /// <summary>Common practice, no published source: due below six tenths of what it was made for.</summary>
    [Theory]
    [InlineData(32_399_000, true)]
    [InlineData(32_400_000, false)]
    [InlineData(54_000_000, false)]
    public void A_battery_is_worn_below_six_tenths(int full, bool worn) =>
        BatteryReading
            .IsWorn(
                PowerSupplyUevent.Read(Text($"ENERGY_FULL={full}", "ENERGY_FULL_DESIGN=54000000")).Value.Health!.Value
            )
            .ShouldBe(worn);

    [Fact]
    public void Whatever_is_read_is_a_battery_a_laptop_can_have() =>
        Gen.Select(Gen.String, Gen.Long, Gen.Long, Gen.Int)
            .Sample(
                (noise, full, design, cycles) =>
                {
                    var text =
                        $"{noise}\n{Text($"ENERGY_FULL={full}", $"ENERGY_FULL_DESIGN={design}", $"CYCLE_COUNT={cycles}")}";
                    if (PowerSupplyUevent.Read(text).Try(out var read, out var refusal))
                    {
                        (read.Health ?? 1).ShouldBeInRange(0, 2);
                        (read.FullWh ?? 1).ShouldBeInRange(0, 2 * (read.DesignWh ?? 1));
                        (read.Health is null && read.Doubts.Count == 0).ShouldBeFalse();
                        (read.Cycles ?? 1).ShouldBeInRange(1, 3000);
                    }
                    else
                    {
                        refusal.Message.ShouldNotBeEmpty();
                    }
                },
                iter: 2000
            );
}
