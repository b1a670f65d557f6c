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
        energy.Health.ShouldBe(41.2 / 54, 1e-9);
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
    }

    [Theory]
    [InlineData("", "There is no text")]
    [InlineData("hello", "no line begins with POWER_SUPPLY_")]
    [InlineData("POWER_SUPPLY_TYPE=Mains", "not a battery")]
    [InlineData("POWER_SUPPLY_TYPE=Battery\nPOWER_SUPPLY_PRESENT=0", "no battery is in it")]
    [InlineData("POWER_SUPPLY_TYPE=Battery\nPOWER_SUPPLY_ENERGY_FULL=41200000", "cut off")]
    [InlineData("POWER_SUPPLY_ENERGY_FULL=-5\nPOWER_SUPPLY_ENERGY_FULL_DESIGN=54000000", "negative energy")]
    [InlineData("POWER_SUPPLY_ENERGY_FULL=110000000\nPOWER_SUPPLY_ENERGY_FULL_DESIGN=54000000", "gauge is wrong")]
    [InlineData("POWER_SUPPLY_ENERGY_FULL=1\nPOWER_SUPPLY_ENERGY_FULL_DESIGN=0", "no laptop's is")]
    public void Nonsense_is_refused_in_a_sentence(string text, string says) =>
        PowerSupplyUevent.Read(text).Refusal!.Message.ShouldContain(says);

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
            .IsWorn(PowerSupplyUevent.Read(Text($"ENERGY_FULL={full}", "ENERGY_FULL_DESIGN=54000000")).Value.Health)
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
                        read.FullWh.ShouldBeInRange(0, read.DesignWh * 2);
                        read.DesignWh.ShouldBeGreaterThan(0);
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
