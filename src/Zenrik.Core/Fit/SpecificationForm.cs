using System.Globalization;
using Zenrik.Core.ServiceMaps;
using Field = Zenrik.Core.Fit.FormField<Zenrik.Core.Fit.ItemSpecification>;

namespace Zenrik.Core.Fit;

/// <summary>
/// What is asked of a number of each kind: the one place that says which facts a kind has, in what range. Entering and
/// correcting by hand, what a unit's slot implies, and imports go through it.
/// </summary>
public static class SpecificationForm
{
    private static readonly Field Gb = Field.Int("gb", "Size, GB", 1, 65536, s => s.Gb, (s, v) => s with { Gb = v });

    private static readonly Field Length = Field.Choice(
        "lengthMm",
        "M.2 length",
        [new("30", "2230"), new("42", "2242"), new("60", "2260"), new("80", "2280"), new("110", "22110")],
        s => s.LengthMm?.ToString(CultureInfo.InvariantCulture),
        (s, v) => s with { LengthMm = int.Parse(v, CultureInfo.InvariantCulture) }
    );

    private static readonly Field Key = Field.Choice(
        "key",
        "Notches",
        [new("M", "M"), new("B", "B"), new("B+M", "B and M"), new("E", "E"), new("A", "A"), new("A+E", "A and E")],
        s => s.Key,
        (s, v) => s with { Key = v }
    );

    private static readonly Field Volts = Field.Real(
        "volts",
        "Voltage, V",
        0.5,
        60,
        s => s.Volts,
        (s, v) => s with { Volts = v }
    );

    private static readonly Field Watts = Field.Real(
        "watts",
        "Power, W",
        1,
        500,
        s => s.Watts,
        (s, v) => s with { Watts = v }
    );

    private static readonly Field Plug = Field.Text(
        "connector",
        "Plug",
        s => s.Connector,
        (s, v) => s with { Connector = v }
    );

    private static readonly Field HalfSize = Field.Flag(
        "halfSize",
        "Half-size card of the older kind",
        s => s.HalfSize,
        (s, v) => s with { HalfSize = v }
    );

    private static readonly Field[] Eyes =
    [
        .. ByEye.All.Select(t =>
            Field.Choice(
                t.Id,
                t.Question,
                t.Looks,
                s => s.Looks.GetValueOrDefault(t.Id),
                (s, v) => s with { Looks = new Dictionary<string, string>(s.Looks) { [t.Id] = v } }
            )
        ),
    ];

    /// <summary>What is asked of a kind, in the order of a label.</summary>
    public static IReadOnlyList<FormField> Of(ItemKind kind) => Fields(kind);

    private static Field[] Fields(ItemKind kind) =>
        kind switch
        {
            ItemKind.Memory =>
            [
                Field.Choice(
                    "generation",
                    "Generation",
                    [new("DDR3", "DDR3, 1.5 V"), new("DDR3L", "DDR3L"), new("DDR4", "DDR4"), new("DDR5", "DDR5")],
                    s => s.Generation,
                    (s, v) => s with { Generation = v }
                ),
                Field.Choice(
                    "memoryForm",
                    "Form",
                    [new("sodimm", "small outline"), new("dimm", "desktop")],
                    s => s.MemoryForm?.ToString().ToLowerInvariant(),
                    (s, v) => s with { MemoryForm = v == "dimm" ? MemoryForm.Dimm : MemoryForm.Sodimm }
                ),
                Field.Int(
                    "megaTransfers",
                    "Speed, MT/s",
                    400,
                    20000,
                    s => s.MegaTransfers,
                    (s, v) => s with { MegaTransfers = v }
                ),
                Gb,
            ],
            ItemKind.Drive =>
            [
                Field.Choice(
                    "driveForm",
                    "Form",
                    [new("m2", "M.2 card"), new("two-and-a-half-inch", "2.5-inch case"), new("m-sata", "mSATA card")],
                    s =>
                        s.DriveForm switch
                        {
                            DriveForm.M2 => "m2",
                            DriveForm.TwoAndAHalfInch => "two-and-a-half-inch",
                            DriveForm.MSata => "m-sata",
                            _ => null,
                        },
                    (s, v) =>
                        s with
                        {
                            DriveForm = v switch
                            {
                                "m2" => DriveForm.M2,
                                "m-sata" => DriveForm.MSata,
                                _ => DriveForm.TwoAndAHalfInch,
                            },
                        }
                ),
                Length,
                Key,
                Field.Choice(
                    "bus",
                    "Speaks",
                    [new("nvme", "NVMe"), new("sata", "SATA")],
                    s => s.Bus?.ToString().ToLowerInvariant(),
                    (s, v) => s with { Bus = v == "nvme" ? DriveBus.Nvme : DriveBus.Sata }
                ),
                Field.Flag(
                    "doubleSided",
                    "Chips on both sides",
                    s => s.DoubleSided,
                    (s, v) => s with { DoubleSided = v }
                ),
                Field.Real(
                    "heightMm",
                    "Height of a 2.5-inch case, mm",
                    3,
                    20,
                    s => s.HeightMm,
                    (s, v) => s with { HeightMm = v }
                ),
                Field.Flag("spinning", "Discs turn in it", s => s.Spinning, (s, v) => s with { Spinning = v }),
                Gb,
            ],
            ItemKind.Radio =>
            [
                HalfSize,
                Length,
                Key,
                Field.Flag(
                    "needsProcessorRadio",
                    "Needs the radio block in the processor",
                    s => s.NeedsProcessorRadio,
                    (s, v) => s with { NeedsProcessorRadio = v }
                ),
                Field.Int(
                    "processorRadioGeneration",
                    "Generation of that block",
                    1,
                    99,
                    s => s.ProcessorRadioGeneration,
                    (s, v) => s with { ProcessorRadioGeneration = v }
                ),
                Field.Flag(
                    "managedFleet",
                    "Features of a managed fleet",
                    s => s.ManagedFleet,
                    (s, v) => s with { ManagedFleet = v }
                ),
            ],
            ItemKind.Cellular => [Length, Key],
            ItemKind.Battery =>
            [
                Field.Real("energyWh", "Energy, Wh", 1, 400, s => s.EnergyWh, (s, v) => s with { EnergyWh = v }),
                Volts,
                Field.Int("cells", "Cells", 1, 24, s => s.Cells, (s, v) => s with { Cells = v }),
                Plug,
                Field.Text("pack", "Shape of the pack", s => s.Pack, (s, v) => s with { Pack = v }),
                Field.Flag("unbranded", "Unbranded", s => s.Unbranded, (s, v) => s with { Unbranded = v }),
            ],
            ItemKind.CoinCell =>
            [
                Volts,
                Plug,
                Field.Flag(
                    "rechargeable",
                    "Made to be charged",
                    s => s.Rechargeable,
                    (s, v) => s with { Rechargeable = v }
                ),
            ],
            ItemKind.Charger =>
            [
                Plug,
                Volts,
                Watts,
                Field.Flag(
                    "identificationPin",
                    "Tells the machine who it is by a pin",
                    s => s.IdentificationPin,
                    (s, v) => s with { IdentificationPin = v }
                ),
                Field.Flag(
                    "powerDelivery",
                    "Agrees on the voltage (USB Power Delivery)",
                    s => s.PowerDelivery,
                    (s, v) => s with { PowerDelivery = v }
                ),
            ],
            ItemKind.Power => [Plug, Volts, Watts],
            ItemKind.Display =>
            [
                Field.Int(
                    "contacts",
                    "Contacts of its plug",
                    10,
                    80,
                    s => s.Contacts,
                    (s, v) => s with { Contacts = v }
                ),
                Field.Real("inches", "Diagonal, inches", 5, 25, s => s.Inches, (s, v) => s with { Inches = v }),
                Field.Int(
                    "pixelsWide",
                    "Picture elements across",
                    320,
                    10000,
                    s => s.PixelsWide,
                    (s, v) => s with { PixelsWide = v }
                ),
                Field.Int(
                    "pixelsHigh",
                    "Picture elements down",
                    240,
                    10000,
                    s => s.PixelsHigh,
                    (s, v) => s with { PixelsHigh = v }
                ),
                .. Eyes.Where(e => e.Name is "touch" or "cellular-antennas"),
            ],
            ItemKind.Board =>
            [
                Field.Text("processor", "Processor", s => s.Processor, (s, v) => s with { Processor = v }),
                Gb,
                Field.Flag("graphics", "Graphics of its own", s => s.Graphics, (s, v) => s with { Graphics = v }),
            ],
            ItemKind.Heatsink =>
            [
                Field.Flag("graphics", "Cools graphics too", s => s.Graphics, (s, v) => s with { Graphics = v }),
            ],
            ItemKind.Keyboard => [.. Eyes.Where(e => e.Name is not ("touch" or "cellular-antennas"))],
            ItemKind.Fan => [],
            _ => Eyes,
        };

    /// <summary>What is known, by field; what is not known is left out.</summary>
    public static IReadOnlyDictionary<string, string> Values(ItemSpecification specification) =>
        Field.Values(Fields(specification.Kind), specification);

    /// <summary>What is known, a line for each fact.</summary>
    public static IReadOnlyList<string> Lines(ItemSpecification specification) =>
        Field.Lines(Fields(specification.Kind), specification);

    /// <summary>The specification from what was entered. Empty values are not known; fields of other kinds are ignored.</summary>
    /// <returns>A refusal naming the field and its range.</returns>
    public static Outcome<ItemSpecification> Read(ItemKind kind, IReadOnlyDictionary<string, string?> values) =>
        Field.Read(Fields(kind), new ItemSpecification { Kind = kind }, values);

    /// <summary>
    /// What a slot of a model says of whatever works in it: a start for whoever enters a number that sits in one. To be
    /// looked through, not to be believed: a slot takes more than one size.
    /// </summary>
    public static ItemSpecification? ImpliedBy(Specification slot) =>
        slot.Kind switch
        {
            SpecificationKind.Memory => new()
            {
                Kind = ItemKind.Memory,
                Generation = slot.Generation,
                MemoryForm = MemoryForm.Sodimm,
                MegaTransfers = slot.MegaTransfers,
            },
            SpecificationKind.Drive => new()
            {
                Kind = ItemKind.Drive,
                DriveForm =
                    slot.Form == SlotForm.MSata ? DriveForm.MSata
                    : slot.LengthsMm is null ? DriveForm.TwoAndAHalfInch
                    : DriveForm.M2,
                LengthMm = slot.LengthsMm is [var only] ? only : null,
                Key = slot.LengthsMm is null ? null : slot.Key,
                Bus = slot.Buses is [var bus] ? bus : null,
                DoubleSided = slot.DoubleSided is false ? false : null,
                HeightMm = slot.HeightMm,
            },
            SpecificationKind.Radio => new()
            {
                Kind = ItemKind.Radio,
                LengthMm = slot.LengthsMm is [var only] ? only : null,
                Key = slot.Key,
                HalfSize = slot.Form == SlotForm.HalfSize ? true : null,
                ProcessorRadioGeneration = slot.ProcessorRadioGeneration,
            },
            SpecificationKind.Battery => new()
            {
                Kind = ItemKind.Battery,
                EnergyWh = slot.EnergyWh,
                Volts = slot.Volts,
                Cells = slot.Cells,
                Connector = slot.Connector,
                Pack = slot.Pack,
            },
            SpecificationKind.CoinCell => new()
            {
                Kind = ItemKind.CoinCell,
                Volts = slot.Volts,
                Connector = slot.Connector,
                Rechargeable = slot.Rechargeable ?? false,
            },
            SpecificationKind.Cellular => new()
            {
                Kind = ItemKind.Cellular,
                LengthMm = slot.LengthsMm is [var only] ? only : null,
                Key = slot.Key,
            },
            SpecificationKind.Charger => new()
            {
                Kind = ItemKind.Charger,
                Connector = slot.Connector,
                Volts = slot.Volts,
                Watts = slot.Watts,
                PowerDelivery = slot.PowerDelivery,
            },
            SpecificationKind.Display => new()
            {
                Kind = ItemKind.Display,
                Contacts = slot.Contacts,
                Inches = slot.Inches,
                PixelsWide = slot.PixelsWide,
                PixelsHigh = slot.PixelsHigh,
            },
            _ => null,
        };
}
