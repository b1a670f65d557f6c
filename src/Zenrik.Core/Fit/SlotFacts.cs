using System.Globalization;
using Zenrik.Core.ServiceMaps;
using Slot = Zenrik.Core.ServiceMaps.Specification;

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

    /// <summary>Which slot it is, is said beside the form.</summary>
    private const string Unnamed = "";

    private static readonly Dictionary<SpecificationKind, Form<Slot>> Forms = new()
    {
        [SpecificationKind.Memory] = new Form<Slot, Slot.Memory>(
            new() { Slot = Unnamed },
            FormField<Slot.Memory>.Choice(
                "generation",
                "Generation",
                [new("DDR3", "DDR3"), new("DDR3L", "DDR3L, 1.35 V alone"), new("DDR4", "DDR4"), new("DDR5", "DDR5")],
                s => s.Generation,
                (s, v) => s with { Generation = v }
            ),
            FormField<Slot.Memory>.Int(
                "megaTransfers",
                "Fastest speed used, MT/s",
                800,
                12800,
                s => s.MegaTransfers,
                (s, v) => s with { MegaTransfers = v }
            ),
            FormField<Slot.Memory>.Int(
                "stickGb",
                "Most in one stick, GB",
                1,
                1024,
                s => s.StickGb,
                (s, v) => s with { StickGb = v }
            ),
            FormField<Slot.Memory>.Int(
                "makerGb",
                "Most in all, as the maker says, GB",
                1,
                1024,
                s => s.MakerGb,
                (s, v) => s with { MakerGb = v }
            ),
            FormField<Slot.Memory>.Int(
                "controllerGb",
                "Most the processor takes, GB",
                1,
                1024,
                s => s.ControllerGb,
                (s, v) => s with { ControllerGb = v }
            ),
            FormField<Slot.Memory>.Int(
                "solderedGb",
                "Soldered to the board besides, GB",
                1,
                1024,
                s => s.SolderedGb,
                (s, v) => s with { SolderedGb = v }
            ),
            Soldered<Slot.Memory>(),
            Note<Slot.Memory>()
        ),
        [SpecificationKind.Drive] = new Form<Slot, Slot.Drive>(
            new() { Slot = Unnamed },
            FormField<Slot.Drive>.Choice(
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
            Lengths<Slot.Drive>(s => s.LengthsMm, (s, v) => s with { LengthsMm = v }),
            Key<Slot.Drive>(["B", "M"], s => s.Key, (s, v) => s with { Key = v }),
            FormField<Slot.Drive>.SomeOf(
                "buses",
                "Its contacts carry",
                [new("nvme", "NVMe"), new("sata", "SATA")],
                s => s.Buses?.Select(b => b.ToString().ToLowerInvariant()),
                (s, v) => s with { Buses = [.. v.Select(b => Enum.Parse<DriveBus>(b, ignoreCase: true)).Distinct()] }
            ),
            FormField<Slot.Drive>.Flag(
                "doubleSided",
                "Room for chips on both sides",
                s => s.DoubleSided,
                (s, v) => s with { DoubleSided = v }
            ),
            FormField<Slot.Drive>.Real(
                "heightMm",
                "Height of a 2.5-inch case, mm",
                1,
                20,
                s => s.HeightMm,
                (s, v) => s with { HeightMm = v }
            ),
            Soldered<Slot.Drive>(),
            Note<Slot.Drive>()
        ),
        [SpecificationKind.Radio] = new Form<Slot, Slot.Radio>(
            new() { Slot = Unnamed },
            FormField<Slot.Radio>.Choice(
                "form",
                "Takes",
                [new("m2", "an M.2 card"), new("half-size", "a half-size card of the older kind")],
                s => FormOf(s.Form),
                (s, v) => s with { Form = Form(v) }
            ),
            Lengths<Slot.Radio>(s => s.LengthsMm, (s, v) => s with { LengthsMm = v }),
            Key<Slot.Radio>(["A", "E"], s => s.Key, (s, v) => s with { Key = v }),
            FormField<Slot.Radio>.Flag(
                "processorRadio",
                "Wired to the radio block in the processor",
                s => s.ProcessorRadio,
                (s, v) => s with { ProcessorRadio = v }
            ),
            FormField<Slot.Radio>.Int(
                "processorRadioGeneration",
                "Generation of that block",
                1,
                99,
                s => s.ProcessorRadioGeneration,
                (s, v) => s with { ProcessorRadioGeneration = v }
            ),
            OnlyNumbers<Slot.Radio>(s => s.OnlyNumbers, (s, v) => s with { OnlyNumbers = v }),
            Soldered<Slot.Radio>(),
            Note<Slot.Radio>()
        ),
        [SpecificationKind.Cellular] = new Form<Slot, Slot.Cellular>(
            new() { Slot = Unnamed },
            Lengths<Slot.Cellular>(s => s.LengthsMm, (s, v) => s with { LengthsMm = v }),
            Key<Slot.Cellular>(["B", "M"], s => s.Key, (s, v) => s with { Key = v }),
            OnlyNumbers<Slot.Cellular>(s => s.OnlyNumbers, (s, v) => s with { OnlyNumbers = v }),
            Soldered<Slot.Cellular>(),
            Note<Slot.Cellular>()
        ),
        [SpecificationKind.Battery] = new Form<Slot, Slot.Battery>(
            new() { Slot = Unnamed },
            FormField<Slot.Battery>.Real(
                "energyWh",
                "Energy, Wh",
                1,
                200,
                s => s.EnergyWh,
                (s, v) => s with { EnergyWh = v }
            ),
            Volts<Slot.Battery>(s => s.Volts, (s, v) => s with { Volts = v }),
            FormField<Slot.Battery>.Int("cells", "Cells", 1, 12, s => s.Cells, (s, v) => s with { Cells = v }),
            CommonFields.Plug<Slot.Battery>(s => s.Connector, (s, v) => s with { Connector = v }),
            FormField<Slot.Battery>.Text("pack", "Shape of the pack", s => s.Pack, (s, v) => s with { Pack = v }),
            Note<Slot.Battery>()
        ),
        [SpecificationKind.CoinCell] = new Form<Slot, Slot.CoinCell>(
            new() { Slot = Unnamed },
            Volts<Slot.CoinCell>(s => s.Volts, (s, v) => s with { Volts = v }),
            CommonFields.Plug<Slot.CoinCell>(s => s.Connector, (s, v) => s with { Connector = v }),
            FormField<Slot.CoinCell>.Flag(
                "rechargeable",
                "The board charges it",
                s => s.Rechargeable,
                (s, v) => s with { Rechargeable = v }
            ),
            Soldered<Slot.CoinCell>(),
            Note<Slot.CoinCell>()
        ),
        [SpecificationKind.Charger] = new Form<Slot, Slot.Charger>(
            new() { Slot = Unnamed },
            CommonFields.Plug<Slot.Charger>(s => s.Connector, (s, v) => s with { Connector = v }),
            Volts<Slot.Charger>(s => s.Volts, (s, v) => s with { Volts = v }),
            FormField<Slot.Charger>.Real(
                "watts",
                "Power it asks for, W",
                1,
                500,
                s => s.Watts,
                (s, v) => s with { Watts = v }
            ),
            FormField<Slot.Charger>.Flag(
                "identificationPin",
                "Asks by a pin who the charger is",
                s => s.IdentificationPin,
                (s, v) => s with { IdentificationPin = v }
            ),
            FormField<Slot.Charger>.Flag(
                "powerDelivery",
                "Agrees on the voltage (USB Power Delivery)",
                s => s.PowerDelivery,
                (s, v) => s with { PowerDelivery = v }
            ),
            Note<Slot.Charger>()
        ),
        [SpecificationKind.Display] = new Form<Slot, Slot.Display>(
            new() { Slot = Unnamed },
            CommonFields.Contacts<Slot.Display>(s => s.Contacts, (s, v) => s with { Contacts = v }),
            CommonFields.Inches<Slot.Display>(s => s.Inches, (s, v) => s with { Inches = v }),
            CommonFields.PixelsWide<Slot.Display>(s => s.PixelsWide, (s, v) => s with { PixelsWide = v }),
            CommonFields.PixelsHigh<Slot.Display>(s => s.PixelsHigh, (s, v) => s with { PixelsHigh = v }),
            Note<Slot.Display>()
        ),
    };

    /// <summary>What is asked of a slot of a kind, what tells slots apart first.</summary>
    public static IReadOnlyList<FormField> Of(SpecificationKind kind) => Forms[kind].Fields;

    /// <summary>What is known, by field; what is not known is left out.</summary>
    public static IReadOnlyDictionary<string, string> Values(Slot specification) =>
        Forms[specification.Kind].Values(specification);

    /// <summary>What is known, a line for each fact.</summary>
    public static IReadOnlyList<string> Lines(Slot specification) => Forms[specification.Kind].Lines(specification);

    /// <summary>What may go into a slot, from what was entered. Empty values are not known.</summary>
    /// <returns>A refusal naming the field and its range.</returns>
    public static Outcome<Slot> Read(
        string slot,
        SpecificationKind kind,
        IReadOnlyDictionary<string, string?> values
    ) =>
        Forms[kind].Read(values).Try(out var read, out var refusal)
            ? OnlyNumbersOf(read) is { } only && (only.Count > MostNumbers || only.Any(n => n.Length > MaxNumber))
                ? new Refusal(
                    RefusalReason.Invalid,
                    $"At most {MostNumbers} numbers of {MaxNumber} characters each, with commas between them."
                )
                : read with
                {
                    Slot = slot,
                }
            : refusal;

    /// <summary>The kind of a slot whose name says it: "memory-1", "battery"; null: its name does not.</summary>
    public static SpecificationKind? KindOf(string slot) =>
        Enum.GetValues<SpecificationKind>()
            .Cast<SpecificationKind?>()
            .FirstOrDefault(k => slot == Id(k!.Value) || slot.StartsWith($"{Id(k.Value)}-", StringComparison.Ordinal));

    private static string Id(SpecificationKind kind) =>
        kind == SpecificationKind.CoinCell ? "coin-cell" : kind.ToString().ToLowerInvariant();

    private static IReadOnlyList<string>? OnlyNumbersOf(Slot slot) =>
        slot switch
        {
            Slot.Radio radio => radio.OnlyNumbers,
            Slot.Cellular cellular => cellular.OnlyNumbers,
            _ => null,
        };

    private static FormField<T> Lengths<T>(Func<T, IReadOnlyList<int>?> get, Func<T, IReadOnlyList<int>, T> set)
        where T : Slot =>
        FormField<T>.SomeOf(
            "lengthsMm",
            "M.2 lengths with a mount",
            CommonFields.M2Lengths,
            s => get(s)?.Select(l => l.ToString(CultureInfo.InvariantCulture)),
            (s, v) => set(s, [.. v.Select(l => int.Parse(l, CultureInfo.InvariantCulture)).Order()])
        );

    private static FormField<T> Key<T>(string[] keys, Func<T, M2Key?> get, Func<T, M2Key?, T> set)
        where T : Slot =>
        FormField<T>.Choice(
            "key",
            "Key of the slot",
            [.. keys.Select(k => new Look(k, k))],
            s => get(s)?.ToString(),
            (s, v) => set(s, M2Key.Find(v))
        );

    private static FormField<T> Volts<T>(Func<T, double?> get, Func<T, double, T> set)
        where T : Slot => FormField<T>.Real("volts", "Voltage, V", 1, 30, get, set);

    private static FormField<T> OnlyNumbers<T>(
        Func<T, IReadOnlyList<string>?> get,
        Func<T, IReadOnlyList<string>, T> set
    )
        where T : Slot =>
        FormField<T>.Text(
            "onlyNumbers",
            "Only these numbers start, with commas",
            s => get(s) is { Count: > 0 } only ? string.Join(", ", only) : null,
            (s, v) =>
                set(
                    s,
                    [.. v.Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries).Distinct()]
                ),
            MaxNumbers
        );

    private static FormField<T> Soldered<T>()
        where T : Slot =>
        FormField<T>.Flag(
            "soldered",
            "Soldered, nothing to exchange",
            s => s.Soldered,
            (s, v) => s with { Soldered = v }
        );

    private static FormField<T> Note<T>()
        where T : Slot =>
        FormField<T>.Text("note", "What else must be known", s => s.Note, (s, v) => s with { Note = v }, MaxNote);

    private static readonly (SlotForm Form, string Id)[] SlotForms =
    [
        (SlotForm.M2, "m2"),
        (SlotForm.TwoAndAHalfInch, "two-and-a-half-inch"),
        (SlotForm.MSata, "m-sata"),
        (SlotForm.HalfSize, "half-size"),
        (SlotForm.OpticalBay, "optical-bay"),
    ];

    private static string? FormOf(SlotForm? form) => SlotForms.FirstOrDefault(f => f.Form == form).Id;

    private static SlotForm Form(string id) => SlotForms.First(f => f.Id == id).Form;
}
