using System.Globalization;
using Zenrik.Core.Parts;

namespace Zenrik.Core.Batteries;

/// <summary>What a machine says of its battery.</summary>
/// <param name="Health">Full charge over design as read; 1 as new, a little above for a new pack; null when the figures are absurd.</param>
/// <param name="FullWh">Energy it takes when charged full, Wh; null when the pack counts charge and names no voltage.</param>
/// <param name="DesignWh">Energy it was made for, Wh.</param>
/// <param name="Cycles">Full charges counted by the pack; null when it does not say.</param>
/// <param name="Model">The pack's own name of its kind.</param>
/// <param name="Serial">The pack's serial number.</param>
/// <param name="Doubts">What a person should look at before these figures are believed; empty when they are plausible.</param>
public sealed record BatteryReading(
    double? Health,
    double? FullWh,
    double? DesignWh,
    int? Cycles,
    string? Model,
    string? Serial,
    IReadOnlyList<string> Doubts
)
{
    /// <summary>Health below which a battery is due in most workshops. Common practice, no published source.</summary>
    public const double Worn = 0.6;

    public static bool IsWorn(double health) => health < Worn;

    /// <summary>Health as it is reckoned with: nothing is better than new.</summary>
    public static double Counted(double health) => Math.Min(1, health);

    /// <summary>"worn", "good".</summary>
    public static string Word(double health) =>
        IsWorn(health) ? "worn"
        : health < 0.8 ? "used"
        : "good";
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
    private const double LargestVolts = 60;
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

        if (said.GetValueOrDefault("SCOPE") == "Device")
        {
            return Refuse(
                "That is the battery of something connected to the unit, a mouse or a keyboard, not the unit's own. Send what BAT0 says."
            );
        }

        if (said.GetValueOrDefault("PRESENT") == "0")
        {
            return Refuse("The machine says that no battery is in it. Look inside, then send again.");
        }

        return Energies(said);
    }

    private static Outcome<BatteryReading> Energies(Dictionary<string, string> said)
    {
        // µWh directly, or µAh: which one a pack speaks depends on its gauge. Health needs no voltage, energy does.
        var charge = !said.ContainsKey("ENERGY_FULL");
        var full = Micro(said, charge ? "CHARGE_FULL" : "ENERGY_FULL");
        var design = Micro(said, charge ? "CHARGE_FULL_DESIGN" : "ENERGY_FULL_DESIGN");
        if (full is not { } takes || design is not { } made)
        {
            return Refuse(
                "The text does not say both what the battery takes now and what it was made for. It may be cut off; send all of it."
            );
        }

        var volts = charge ? Micro(said, "VOLTAGE_MIN_DESIGN") ?? Micro(said, "VOLTAGE_MAX_DESIGN") : 1;
        volts = volts is > 0 and < LargestVolts ? volts : null;
        var unit = charge ? "Ah" : "Wh";
        // A gauge that talks nonsense is for a person to look at; nothing of it is reckoned with.
        string? absurd =
            takes <= 0 ? FormattableString.Invariant($"It says that it takes {takes:0.######} {unit} when full.")
            : made <= 0 ? FormattableString.Invariant($"It says that it was made for {made:0.######} {unit}.")
            : made * (volts ?? 1) > LargestWh
                ? FormattableString.Invariant(
                    $"It says that it was made for {made * (volts ?? 1):0.#} Wh, which no laptop's is."
                )
            : takes > made * ImpossibleAboveDesign
                ? FormattableString.Invariant($"It says that it takes {takes:0.#} {unit} and was made for {made:0.#}.")
            : null;

        int? cycles = int.TryParse(
            said.GetValueOrDefault("CYCLE_COUNT"),
            NumberStyles.AllowLeadingSign,
            CultureInfo.InvariantCulture,
            out var counted
        )
            ? counted
            : null;
        var doubts = new List<string>();
        if (absurd is not null)
        {
            doubts.Add($"{absurd} Its gauge is wrong or it is worn out altogether: test it by hand.");
        }
        else if (takes > made * PlausibleAboveDesign)
        {
            doubts.Add(
                FormattableString.Invariant(
                    $"It says it takes {takes:0.#} {unit}, more than the {made:0.#} {unit} it was made for. Let it run empty once and charge it full, then read again."
                )
            );
        }

        if (cycles is < 0 or > ManyCycles)
        {
            doubts.Add(FormattableString.Invariant($"It says {cycles} cycles, which is no real count."));
        }

        return new BatteryReading(
            absurd is null ? takes / made : null,
            absurd is null ? takes * volts : null,
            absurd is null ? made * volts : null,
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
