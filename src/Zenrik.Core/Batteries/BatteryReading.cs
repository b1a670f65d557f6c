using System.Globalization;
using Zenrik.Core.Parts;

namespace Zenrik.Core.Batteries;

/// <summary>What a machine says of its battery.</summary>
/// <param name="FullWh">Energy it takes when charged full, Wh.</param>
/// <param name="DesignWh">Energy it was made for, Wh; above 0.</param>
/// <param name="Cycles">Full charges counted by the pack; null when it does not say.</param>
/// <param name="Model">The pack's own name of its kind.</param>
/// <param name="Serial">The pack's serial number.</param>
/// <param name="Doubts">What a person should look at before these figures are believed; empty when they are plausible.</param>
public sealed record BatteryReading(
    double FullWh,
    double DesignWh,
    int? Cycles,
    string? Model,
    string? Serial,
    IReadOnlyList<string> Doubts
)
{
    /// <summary>Health below which a battery is due in most workshops. Common practice, no published source.</summary>
    public const double Worn = 0.6;

    public static bool IsWorn(double health) => health < Worn;

    /// <summary>Full charge over design; 1 as new.</summary>
    public double Health => FullWh / DesignWh;
}

/// <summary>
/// Reads the kernel's power-supply uevent text, as in /sys/class/power_supply/BAT0/uevent. Units are those of the Linux
/// power supply class documentation: µWh, µAh and µV.
/// </summary>
public static class PowerSupplyUevent
{
    /// <summary>Longest text read; real ones have well under a thousand characters.</summary>
    public const int MaxLength = 16 * 1024;

    private const string Prefix = "POWER_SUPPLY_";

    /// <summary>A new pack may take a little more than it was made for; above this somebody looks. Common practice, no published source.</summary>
    private const double PlausibleAboveDesign = 1.15;

    private const double ImpossibleAboveDesign = 2;
    private const double LargestWh = 400;
    private const int ManyCycles = 3000;

    /// <summary>The battery's figures, or in a sentence why they are none.</summary>
    public static Outcome<BatteryReading> Read(string? text)
    {
        if (string.IsNullOrWhiteSpace(text))
        {
            return Refuse("There is no text. Send what /sys/class/power_supply/BAT0/uevent says.");
        }

        if (text.Length > MaxLength)
        {
            return Refuse("That is far longer than what a battery says of itself. Nothing was kept.");
        }

        var said = new Dictionary<string, string>(StringComparer.Ordinal);
        foreach (var line in text.Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
        {
            if (line.Split('=', 2) is [var key, var value] && key.StartsWith(Prefix, StringComparison.Ordinal))
            {
                said[key[Prefix.Length..]] = value;
            }
        }

        if (said.Count == 0)
        {
            return Refuse("That is no power-supply text: no line begins with POWER_SUPPLY_.");
        }

        if (said.GetValueOrDefault("TYPE") is { } type && type != "Battery")
        {
            return Refuse($"That is what a power supply of the type {Shortened(type)} says, not a battery.");
        }

        if (said.GetValueOrDefault("PRESENT") == "0")
        {
            return Refuse("The machine says that no battery is in it. Look inside, then send again.");
        }

        return Energies(said);
    }

    private static Outcome<BatteryReading> Energies(Dictionary<string, string> said)
    {
        // µWh directly, or µAh times the design voltage: which one a pack speaks depends on its gauge.
        double? full;
        double? design;
        if (said.ContainsKey("ENERGY_FULL"))
        {
            (full, design) = (Micro(said, "ENERGY_FULL"), Micro(said, "ENERGY_FULL_DESIGN"));
        }
        else
        {
            var volts = Micro(said, "VOLTAGE_MIN_DESIGN") ?? Micro(said, "VOLTAGE_MAX_DESIGN");
            (full, design) = (Micro(said, "CHARGE_FULL") * volts, Micro(said, "CHARGE_FULL_DESIGN") * volts);
        }

        if (full is not { } fullWh || design is not { } designWh)
        {
            return Refuse(
                "The text does not say both what the battery takes now and what it was made for. It may be cut off; send all of it."
            );
        }

        if (fullWh < 0 || designWh < 0)
        {
            return Refuse("The battery says a negative energy: its gauge is wrong. Nothing was kept; test it by hand.");
        }

        if (designWh is 0 or > LargestWh)
        {
            return Refuse(
                FormattableString.Invariant(
                    $"The battery says it was made for {designWh:0.#} Wh, which no laptop's is. Nothing was kept; test it by hand."
                )
            );
        }

        if (fullWh > designWh * ImpossibleAboveDesign)
        {
            return Refuse(
                FormattableString.Invariant(
                    $"The battery says it takes {fullWh:0.#} Wh and was made for {designWh:0.#} Wh: its gauge is wrong. Nothing was kept; test it by hand."
                )
            );
        }

        int? cycles = int.TryParse(
            said.GetValueOrDefault("CYCLE_COUNT"),
            NumberStyles.AllowLeadingSign,
            CultureInfo.InvariantCulture,
            out var counted
        )
            ? counted
            : null;
        var doubts = new List<string>();
        if (fullWh > designWh * PlausibleAboveDesign)
        {
            doubts.Add(
                FormattableString.Invariant(
                    $"It says it takes {fullWh:0.#} Wh, more than the {designWh:0.#} Wh it was made for. Let it run empty once and charge it full, then read again."
                )
            );
        }

        if (cycles is < 0 or > ManyCycles)
        {
            doubts.Add(FormattableString.Invariant($"It says {cycles} cycles, which is no real count."));
        }

        return new BatteryReading(
            fullWh,
            designWh,
            cycles is < 0 or > ManyCycles or 0 ? null : cycles,
            Name(said.GetValueOrDefault("MODEL_NAME")),
            Name(said.GetValueOrDefault("SERIAL_NUMBER")),
            doubts
        );
    }

    private static double? Micro(Dictionary<string, string> said, string key) =>
        double.TryParse(
            said.GetValueOrDefault(key),
            NumberStyles.AllowLeadingSign,
            CultureInfo.InvariantCulture,
            out var value
        )
            ? value / 1e6
            : null;

    private static string? Name(string? text) => PartNumber.Read(text).Try(out var read, out _) ? read.Text : null;

    private static string Shortened(string text) => new([.. text.Where(char.IsLetterOrDigit).Take(20)]);

    private static Refusal Refuse(string message) => new(RefusalReason.Invalid, message);
}
