using System.Globalization;
using System.Text;
using System.Text.Json.Nodes;

namespace Zenrik.Demo.Units;

/// <summary>What a simulated part is to the machine's own tools.</summary>
public enum PartKind
{
    Board,
    Memory,
    Drive,
    Radio,
    Battery,
}

/// <summary>A part inside the simulated machine.</summary>
/// <param name="Gb">Memory and drives; 0 for others.</param>
public sealed record SimulatedPart(PartKind Kind, string Number, string? Serial, int Gb = 0);

/// <summary>What can be made to fail.</summary>
public enum UnitFault
{
    /// <summary>The last memory module is not seen.</summary>
    MemoryDead,

    /// <summary>The last drive is not seen.</summary>
    DriveDead,

    /// <summary>The battery's gauge says figures no battery has.</summary>
    GaugeMad,

    /// <summary>The last memory module was exchanged for one of another kind by somebody.</summary>
    MemorySwapped,

    /// <summary>The list breaks off in the middle.</summary>
    CutShort,
}

/// <summary>
/// Stands for a real machine where there is none: says what Linux machines say of themselves, ages, and fails when told
/// to. The same machine at the same age says the same.
/// </summary>
/// <param name="Product">Its model as firmware names it.</param>
/// <param name="BatteryWh">Energy its battery was made for, Wh.</param>
/// <param name="AgeMonths">Months since the battery was new, from 0.</param>
public sealed record SimulatedUnit(
    string Product,
    string Serial,
    IReadOnlyList<SimulatedPart> Parts,
    double BatteryWh,
    double AgeMonths,
    IReadOnlySet<UnitFault> Faults
)
{
    /// <summary>Share of the energy lost a month, and what a machine differs by. Common practice, no published source.</summary>
    private const double FadeAMonth = 0.011;

    private const double CyclesAMonth = 14;
    private const double MicroInOne = 1_000_000;

    public SimulatedUnit AgedBy(double months) => this with { AgeMonths = Math.Max(0, AgeMonths + months) };

    public SimulatedUnit With(UnitFault fault) => this with { Faults = new HashSet<UnitFault>(Faults) { fault } };

    /// <summary>What `lshw -json` prints.</summary>
    public string HardwareList()
    {
        var memory = new JsonArray();
        var core = new JsonArray();
        var modules = Parts.Where(p => p.Kind == PartKind.Memory).ToList();
        foreach (var (i, module) in modules.Index())
        {
            var last = i == modules.Count - 1;
            var swapped = last && Faults.Contains(UnitFault.MemorySwapped);
            memory.Add(
                last && Faults.Contains(UnitFault.MemoryDead)
                    ? new JsonObject
                    {
                        ["id"] = $"bank:{i}",
                        ["class"] = "memory",
                        ["description"] = "[empty]",
                        ["physid"] = $"{i}",
                    }
                    : new JsonObject
                    {
                        ["id"] = $"bank:{i}",
                        ["class"] = "memory",
                        ["description"] = "SODIMM Synchronous",
                        ["product"] = swapped ? "GX-8G-3200" : module.Number,
                        ["serial"] = swapped ? "GX00418" : module.Serial,
                        ["size"] = (long)(swapped ? 8 : module.Gb) << 30,
                        ["units"] = "bytes",
                    }
            );
        }

        core.Add(
            new JsonObject
            {
                ["id"] = "memory",
                ["class"] = "memory",
                ["description"] = "System Memory",
                ["children"] = memory,
            }
        );
        var drives = Parts.Where(p => p.Kind == PartKind.Drive).ToList();
        foreach (var (i, drive) in drives.Index())
        {
            if (i == drives.Count - 1 && Faults.Contains(UnitFault.DriveDead))
            {
                continue;
            }

            core.Add(
                new JsonObject
                {
                    ["id"] = $"nvme:{i}",
                    ["class"] = "storage",
                    ["description"] = "NVMe device",
                    ["product"] = drive.Number,
                    ["serial"] = drive.Serial ?? $"D{Serial}{i}",
                    ["children"] = new JsonArray(
                        new JsonObject
                        {
                            ["id"] = "namespace:0",
                            ["class"] = "disk",
                            ["logicalname"] = $"/dev/nvme{i}n1",
                            ["size"] = drive.Gb * 1_000_000_000L,
                        }
                    ),
                }
            );
        }

        foreach (var radio in Parts.Where(p => p.Kind == PartKind.Radio))
        {
            core.Add(
                new JsonObject
                {
                    ["id"] = "network",
                    ["class"] = "network",
                    ["product"] = radio.Number,
                    ["serial"] = "02:00:5e:10:00:01",
                    ["capabilities"] = new JsonObject { ["wireless"] = "Wireless-LAN" },
                }
            );
        }

        // A stick somebody left in the port: not inside.
        core.Add(
            new JsonObject
            {
                ["id"] = "disk",
                ["class"] = "disk",
                ["product"] = "Pocket stick",
                ["serial"] = "0401",
                ["businfo"] = "usb@1:2",
                ["size"] = 16_000_000_000L,
            }
        );
        var board = Parts.FirstOrDefault(p => p.Kind == PartKind.Board);
        var battery = Parts.FirstOrDefault(p => p.Kind == PartKind.Battery);
        var root = new JsonObject
        {
            ["id"] = "unit",
            ["class"] = "system",
            ["product"] = Product,
            ["serial"] = Serial,
            ["children"] = new JsonArray(
                new JsonObject
                {
                    ["id"] = "core",
                    ["class"] = "bus",
                    ["description"] = "Motherboard",
                    ["product"] = board?.Number,
                    ["serial"] = board?.Serial,
                    ["children"] = core,
                },
                battery is null
                    ? null
                    : new JsonObject
                    {
                        ["id"] = "battery",
                        ["class"] = "power",
                        ["product"] = battery.Number,
                        ["serial"] = battery.Serial,
                        ["capacity"] = (long)(BatteryWh * 1000),
                    }
            ),
        };
        var text = root.ToJsonString(new System.Text.Json.JsonSerializerOptions { WriteIndented = true });
        return Faults.Contains(UnitFault.CutShort) ? text[..(text.Length * 2 / 3)] : text;
    }

    /// <summary>What /sys/class/power_supply/BAT0/uevent says.</summary>
    public string Uevent()
    {
        var (design, full) = (
            BatteryWh,
            Faults.Contains(UnitFault.GaugeMad) ? BatteryWh * 2.4 : BatteryWh * Math.Max(0.05, 1 - (Fade * AgeMonths))
        );
        var battery = Parts.FirstOrDefault(p => p.Kind == PartKind.Battery);
        var text = new StringBuilder();
        Line("NAME", "BAT0");
        Line("TYPE", "Battery");
        Line("STATUS", "Discharging");
        Line("PRESENT", "1");
        Line("TECHNOLOGY", "Li-ion");
        Line("CYCLE_COUNT", Math.Floor(AgeMonths * CyclesAMonth).ToString(CultureInfo.InvariantCulture));
        Line("ENERGY_FULL_DESIGN", Micro(design));
        Line("ENERGY_FULL", Micro(full));
        Line("ENERGY_NOW", Micro(full * 0.6));
        Line("CAPACITY", "60");
        Line("MODEL_NAME", battery?.Number ?? "BAT");
        Line("SERIAL_NUMBER", battery?.Serial ?? "");
        return text.ToString();

        void Line(string key, string value) =>
            text.Append("POWER_SUPPLY_").Append(key).Append('=').Append(value).Append('\n');
    }

    /// <summary>Each machine fades a little differently, always the same way.</summary>
    private double Fade => FadeAMonth * (0.75 + (Serial.Sum(c => c * 31) % 100 / 200.0));

    private static string Micro(double wh) => Math.Round(wh * MicroInOne).ToString(CultureInfo.InvariantCulture);
}
