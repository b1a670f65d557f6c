using System.Globalization;
using Zenrik.Core.ServiceMaps;
using Field = Zenrik.Core.Fit.FormField<Zenrik.Core.ServiceMaps.Specification>;

namespace Zenrik.Core.Fit;

/// <summary>
/// What is asked of a slot of each kind: what a person says may go into it. The counterpart of
/// <see cref="SpecificationForm"/>, which asks what a number is.
/// </summary>
public static class SlotFacts
{
    private const int MaxNote = 200;
    private const int MaxNumbers = 400;
    private const int MostNumbers = 40;
    private const int MaxNumber = 64;

    // Lengths and keys: PCI-SIG M.2, from memory.
    private static readonly Field Lengths = Field.SomeOf(
        "lengthsMm",
        "M.2 lengths with a mount",
        [new("30", "2230"), new("42", "2242"), new("60", "2260"), new("80", "2280"), new("110", "22110")],
        s => s.LengthsMm?.Select(l => l.ToString(CultureInfo.InvariantCulture)),
        (s, v) => s with { LengthsMm = [.. v.Select(l => int.Parse(l, CultureInfo.InvariantCulture)).Order()] }
    );

    private static readonly Field Soldered = Field.Flag(
        "soldered",
        "Soldered, nothing to exchange",
        s => s.Soldered,
        (s, v) => s with { Soldered = v }
    );

    private static readonly Field Volts = Field.Real(
        "volts",
        "Voltage, V",
        1,
        30,
        s => s.Volts,
        (s, v) => s with { Volts = v }
    );

    private static readonly Field Plug = Field.Text(
        "connector",
        "Plug",
        s => s.Connector,
        (s, v) => s with { Connector = v }
    );

    private static readonly Field OnlyNumbers = Field.Text(
        "onlyNumbers",
        "Only these numbers start, with commas",
        s => s.OnlyNumbers is { Count: > 0 } only ? string.Join(", ", only) : null,
        (s, v) =>
            s with
            {
                OnlyNumbers =
                [
                    .. v.Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries).Distinct(),
                ],
            },
        MaxNumbers
    );

    private static readonly Field Note = Field.Text(
        "note",
        "What else must be known",
        s => s.Note,
        (s, v) => s with { Note = v },
        MaxNote
    );

    /// <summary>What is asked of a slot of a kind, what tells slots apart first.</summary>
    public static IReadOnlyList<FormField> Of(SpecificationKind kind) => Fields(kind);

    /// <summary>What is known, by field; what is not known is left out.</summary>
    public static IReadOnlyDictionary<string, string> Values(Specification specification) =>
        Field.Values(Fields(specification.Kind), specification);

    /// <summary>What is known, a line for each fact.</summary>
    public static IReadOnlyList<string> Lines(Specification specification) =>
        Field.Lines(Fields(specification.Kind), specification);

    /// <summary>What may go into a slot, from what was entered. Empty values are not known.</summary>
    /// <returns>A refusal naming the field and its range.</returns>
    public static Outcome<Specification> Read(
        string slot,
        SpecificationKind kind,
        IReadOnlyDictionary<string, string?> values
    ) =>
        Field
            .Read(Fields(kind), new Specification { Slot = slot, Kind = kind }, values)
            .Try(out var read, out var refusal)
            ? read.OnlyNumbers is { } only && (only.Count > MostNumbers || only.Any(n => n.Length > MaxNumber))
                ? new Refusal(
                    RefusalReason.Invalid,
                    $"At most {MostNumbers} numbers of {MaxNumber} characters each, with commas between them."
                )
                : read
            : refusal;

    /// <summary>The kind of a slot whose name says it: "memory-1", "battery"; null: its name does not.</summary>
    public static SpecificationKind? KindOf(string slot) =>
        Enum.GetValues<SpecificationKind>()
            .Cast<SpecificationKind?>()
            .FirstOrDefault(k => slot == Id(k!.Value) || slot.StartsWith($"{Id(k.Value)}-", StringComparison.Ordinal));

    private static string Id(SpecificationKind kind) =>
        kind == SpecificationKind.CoinCell ? "coin-cell" : kind.ToString().ToLowerInvariant();

    private static Field[] Fields(SpecificationKind kind) =>
        kind switch
        {
            SpecificationKind.Memory =>
            [
                Field.Choice(
                    "generation",
                    "Generation",
                    [
                        new("DDR3", "DDR3"),
                        new("DDR3L", "DDR3L, 1.35 V alone"),
                        new("DDR4", "DDR4"),
                        new("DDR5", "DDR5"),
                    ],
                    s => s.Generation,
                    (s, v) => s with { Generation = v }
                ),
                Field.Int(
                    "megaTransfers",
                    "Fastest speed used, MT/s",
                    800,
                    12800,
                    s => s.MegaTransfers,
                    (s, v) => s with { MegaTransfers = v }
                ),
                Field.Int(
                    "stickGb",
                    "Most in one stick, GB",
                    1,
                    1024,
                    s => s.StickGb,
                    (s, v) => s with { StickGb = v }
                ),
                Field.Int(
                    "makerGb",
                    "Most in all, as the maker says, GB",
                    1,
                    1024,
                    s => s.MakerGb,
                    (s, v) => s with { MakerGb = v }
                ),
                Field.Int(
                    "controllerGb",
                    "Most the processor takes, GB",
                    1,
                    1024,
                    s => s.ControllerGb,
                    (s, v) => s with { ControllerGb = v }
                ),
                Field.Int(
                    "solderedGb",
                    "Soldered to the board besides, GB",
                    1,
                    1024,
                    s => s.SolderedGb,
                    (s, v) => s with { SolderedGb = v }
                ),
                Soldered,
                Note,
            ],
            SpecificationKind.Drive =>
            [
                Field.Choice(
                    "form",
                    "Takes",
                    [
                        new("m2", "an M.2 card"),
                        new("two-and-a-half-inch", "a 2.5-inch case"),
                        new("m-sata", "an mSATA card"),
                        new("optical-bay", "an optical drive, or a 2.5-inch case in a caddy"),
                    ],
                    s => FormOf(s.Form),
                    (s, v) => s with { Form = Form(v) }
                ),
                Lengths,
                Key("B", "M"),
                Field.SomeOf(
                    "buses",
                    "Its contacts carry",
                    [new("nvme", "NVMe"), new("sata", "SATA")],
                    s => s.Buses?.Select(b => b.ToString().ToLowerInvariant()),
                    (s, v) =>
                        s with
                        {
                            Buses = [.. v.Select(b => Enum.Parse<DriveBus>(b, ignoreCase: true)).Distinct()],
                        }
                ),
                Field.Flag(
                    "doubleSided",
                    "Room for chips on both sides",
                    s => s.DoubleSided,
                    (s, v) => s with { DoubleSided = v }
                ),
                Field.Real(
                    "heightMm",
                    "Height of a 2.5-inch case, mm",
                    1,
                    20,
                    s => s.HeightMm,
                    (s, v) => s with { HeightMm = v }
                ),
                Soldered,
                Note,
            ],
            SpecificationKind.Radio =>
            [
                Field.Choice(
                    "form",
                    "Takes",
                    [new("m2", "an M.2 card"), new("half-size", "a half-size card of the older kind")],
                    s => FormOf(s.Form),
                    (s, v) => s with { Form = Form(v) }
                ),
                Lengths,
                Key("A", "E"),
                Field.Flag(
                    "processorRadio",
                    "Wired to the radio block in the processor",
                    s => s.ProcessorRadio,
                    (s, v) => s with { ProcessorRadio = v }
                ),
                Field.Int(
                    "processorRadioGeneration",
                    "Generation of that block",
                    1,
                    99,
                    s => s.ProcessorRadioGeneration,
                    (s, v) => s with { ProcessorRadioGeneration = v }
                ),
                OnlyNumbers,
                Soldered,
                Note,
            ],
            SpecificationKind.Cellular => [Lengths, Key("B", "M"), OnlyNumbers, Soldered, Note],
            SpecificationKind.Battery =>
            [
                Field.Real("energyWh", "Energy, Wh", 1, 200, s => s.EnergyWh, (s, v) => s with { EnergyWh = v }),
                Volts,
                Field.Int("cells", "Cells", 1, 12, s => s.Cells, (s, v) => s with { Cells = v }),
                Plug,
                Field.Text("pack", "Shape of the pack", s => s.Pack, (s, v) => s with { Pack = v }),
                Note,
            ],
            SpecificationKind.CoinCell =>
            [
                Volts,
                Plug,
                Field.Flag(
                    "rechargeable",
                    "The board charges it",
                    s => s.Rechargeable,
                    (s, v) => s with { Rechargeable = v }
                ),
                Soldered,
                Note,
            ],
            SpecificationKind.Charger =>
            [
                Plug,
                Volts,
                Field.Real("watts", "Power it asks for, W", 1, 500, s => s.Watts, (s, v) => s with { Watts = v }),
                Field.Flag(
                    "identificationPin",
                    "Asks by a pin who the charger is",
                    s => s.IdentificationPin,
                    (s, v) => s with { IdentificationPin = v }
                ),
                Field.Flag(
                    "powerDelivery",
                    "Agrees on the voltage (USB Power Delivery)",
                    s => s.PowerDelivery,
                    (s, v) => s with { PowerDelivery = v }
                ),
                Note,
            ],
            SpecificationKind.Display =>
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
                Note,
            ],
            _ => throw new ArgumentOutOfRangeException(nameof(kind)),
        };

    private static Field Key(params string[] keys) =>
        Field.Choice(
            "key",
            "Key of the slot",
            [.. keys.Select(k => new Look(k, k))],
            s => s.Key,
            (s, v) => s with { Key = v }
        );

    private static readonly (SlotForm Form, string Id)[] Forms =
    [
        (SlotForm.M2, "m2"),
        (SlotForm.TwoAndAHalfInch, "two-and-a-half-inch"),
        (SlotForm.MSata, "m-sata"),
        (SlotForm.HalfSize, "half-size"),
        (SlotForm.OpticalBay, "optical-bay"),
    ];

    private static string? FormOf(SlotForm? form) => Forms.FirstOrDefault(f => f.Form == form).Id;

    private static SlotForm Form(string id) => Forms.First(f => f.Id == id).Form;
}
