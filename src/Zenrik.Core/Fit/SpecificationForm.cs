using System.Globalization;
using Zenrik.Core.ServiceMaps;
using Item = Zenrik.Core.Fit.ItemSpecification;

namespace Zenrik.Core.Fit;

/// <summary>
/// What is asked of a number of each kind: the one place that says which facts a kind has, in what range. Entering and
/// correcting by hand, what a unit's slot implies, and imports go through it.
/// </summary>
public static class SpecificationForm
{
    private static readonly Dictionary<ItemKind, Form<Item>> Forms = new()
    {
        [ItemKind.Memory] = new Form<Item, Item.Memory>(
            new(),
            FormField<Item.Memory>.Choice(
                "generation",
                "Generation",
                [new("DDR3", "DDR3, 1.5 V"), new("DDR3L", "DDR3L"), new("DDR4", "DDR4"), new("DDR5", "DDR5")],
                s => s.Generation,
                (s, v) => s with { Generation = v }
            ),
            FormField<Item.Memory>.Choice(
                "memoryForm",
                "Form",
                [new("sodimm", "small outline"), new("dimm", "desktop")],
                s => s.MemoryForm?.ToString().ToLowerInvariant(),
                (s, v) => s with { MemoryForm = v == "dimm" ? MemoryForm.Dimm : MemoryForm.Sodimm }
            ),
            FormField<Item.Memory>.Int(
                "megaTransfers",
                "Speed, MT/s",
                400,
                20000,
                s => s.MegaTransfers,
                (s, v) => s with { MegaTransfers = v }
            ),
            Gb<Item.Memory>(s => s.Gb, (s, v) => s with { Gb = v })
        ),
        [ItemKind.Drive] = new Form<Item, Item.Drive>(
            new(),
            FormField<Item.Drive>.Choice(
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
            Length<Item.Drive>(s => s.LengthMm, (s, v) => s with { LengthMm = v }),
            Key<Item.Drive>(s => s.Key, (s, v) => s with { Key = v }),
            FormField<Item.Drive>.Choice(
                "bus",
                "Speaks",
                [new("nvme", "NVMe"), new("sata", "SATA")],
                s => s.Bus?.ToString().ToLowerInvariant(),
                (s, v) => s with { Bus = v == "nvme" ? DriveBus.Nvme : DriveBus.Sata }
            ),
            FormField<Item.Drive>.Flag(
                "doubleSided",
                "Chips on both sides",
                s => s.DoubleSided,
                (s, v) => s with { DoubleSided = v }
            ),
            FormField<Item.Drive>.Real(
                "heightMm",
                "Height of a 2.5-inch case, mm",
                3,
                20,
                s => s.HeightMm,
                (s, v) => s with { HeightMm = v }
            ),
            FormField<Item.Drive>.Flag(
                "spinning",
                "Discs turn in it",
                s => s.Spinning,
                (s, v) => s with { Spinning = v }
            ),
            Gb<Item.Drive>(s => s.Gb, (s, v) => s with { Gb = v })
        ),
        [ItemKind.Radio] = new Form<Item, Item.Radio>(
            new(),
            FormField<Item.Radio>.Flag(
                "halfSize",
                "Half-size card of the older kind",
                s => s.HalfSize,
                (s, v) => s with { HalfSize = v }
            ),
            Length<Item.Radio>(s => s.LengthMm, (s, v) => s with { LengthMm = v }),
            Key<Item.Radio>(s => s.Key, (s, v) => s with { Key = v }),
            FormField<Item.Radio>.Flag(
                "needsProcessorRadio",
                "Needs the radio block in the processor",
                s => s.NeedsProcessorRadio,
                (s, v) => s with { NeedsProcessorRadio = v }
            ),
            FormField<Item.Radio>.Int(
                "processorRadioGeneration",
                "Generation of that block",
                1,
                99,
                s => s.ProcessorRadioGeneration,
                (s, v) => s with { ProcessorRadioGeneration = v }
            ),
            FormField<Item.Radio>.Flag(
                "managedFleet",
                "Features of a managed fleet",
                s => s.ManagedFleet,
                (s, v) => s with { ManagedFleet = v }
            )
        ),
        [ItemKind.Cellular] = new Form<Item, Item.Cellular>(
            new(),
            Length<Item.Cellular>(s => s.LengthMm, (s, v) => s with { LengthMm = v }),
            Key<Item.Cellular>(s => s.Key, (s, v) => s with { Key = v })
        ),
        [ItemKind.Battery] = new Form<Item, Item.Battery>(
            new(),
            FormField<Item.Battery>.Real(
                "energyWh",
                "Energy, Wh",
                1,
                400,
                s => s.EnergyWh,
                (s, v) => s with { EnergyWh = v }
            ),
            Volts<Item.Battery>(s => s.Volts, (s, v) => s with { Volts = v }),
            FormField<Item.Battery>.Int("cells", "Cells", 1, 24, s => s.Cells, (s, v) => s with { Cells = v }),
            CommonFields.Plug<Item.Battery>(s => s.Connector, (s, v) => s with { Connector = v }),
            FormField<Item.Battery>.Text("pack", "Shape of the pack", s => s.Pack, (s, v) => s with { Pack = v }),
            FormField<Item.Battery>.Flag("unbranded", "Unbranded", s => s.Unbranded, (s, v) => s with { Unbranded = v })
        ),
        [ItemKind.CoinCell] = new Form<Item, Item.CoinCell>(
            new(),
            Volts<Item.CoinCell>(s => s.Volts, (s, v) => s with { Volts = v }),
            CommonFields.Plug<Item.CoinCell>(s => s.Connector, (s, v) => s with { Connector = v }),
            FormField<Item.CoinCell>.Flag(
                "rechargeable",
                "Made to be charged",
                s => s.Rechargeable,
                (s, v) => s with { Rechargeable = v }
            )
        ),
        [ItemKind.Charger] = new Form<Item, Item.Charger>(
            new(),
            CommonFields.Plug<Item.Charger>(s => s.Connector, (s, v) => s with { Connector = v }),
            Volts<Item.Charger>(s => s.Volts, (s, v) => s with { Volts = v }),
            Watts<Item.Charger>(s => s.Watts, (s, v) => s with { Watts = v }),
            FormField<Item.Charger>.Flag(
                "identificationPin",
                "Tells the machine who it is by a pin",
                s => s.IdentificationPin,
                (s, v) => s with { IdentificationPin = v }
            ),
            FormField<Item.Charger>.Flag(
                "powerDelivery",
                "Agrees on the voltage (USB Power Delivery)",
                s => s.PowerDelivery,
                (s, v) => s with { PowerDelivery = v }
            )
        ),
        [ItemKind.Power] = new Form<Item, Item.Power>(
            new(),
            CommonFields.Plug<Item.Power>(s => s.Connector, (s, v) => s with { Connector = v }),
            Volts<Item.Power>(s => s.Volts, (s, v) => s with { Volts = v }),
            Watts<Item.Power>(s => s.Watts, (s, v) => s with { Watts = v })
        ),
        [ItemKind.Display] = new Form<Item, Item.Display>(
            new(),
            [
                CommonFields.Contacts<Item.Display>(s => s.Contacts, (s, v) => s with { Contacts = v }),
                CommonFields.Inches<Item.Display>(s => s.Inches, (s, v) => s with { Inches = v }),
                CommonFields.PixelsWide<Item.Display>(s => s.PixelsWide, (s, v) => s with { PixelsWide = v }),
                CommonFields.PixelsHigh<Item.Display>(s => s.PixelsHigh, (s, v) => s with { PixelsHigh = v }),
                .. Eyes<Item.Display>(IsOfDisplays),
            ]
        ),
        [ItemKind.Board] = new Form<Item, Item.Board>(
            new(),
            FormField<Item.Board>.Text("processor", "Processor", s => s.Processor, (s, v) => s with { Processor = v }),
            Gb<Item.Board>(s => s.Gb, (s, v) => s with { Gb = v }),
            FormField<Item.Board>.Flag(
                "graphics",
                "Graphics of its own",
                s => s.Graphics,
                (s, v) => s with { Graphics = v }
            )
        ),
        [ItemKind.Heatsink] = new Form<Item, Item.Heatsink>(
            new(),
            FormField<Item.Heatsink>.Flag(
                "graphics",
                "Cools graphics too",
                s => s.Graphics,
                (s, v) => s with { Graphics = v }
            )
        ),
        [ItemKind.Keyboard] = new Form<Item, Item.Keyboard>(new(), [.. Eyes<Item.Keyboard>(t => !IsOfDisplays(t))]),
        [ItemKind.Fan] = new Form<Item, Item.Fan>(new()),
        [ItemKind.Other] = new Form<Item, Item.Other>(new(), [.. Eyes<Item.Other>(_ => true)]),
    };

    /// <summary>What is asked of a kind, in the order of a label.</summary>
    public static IReadOnlyList<FormField> Of(ItemKind kind) => Forms[kind].Fields;

    /// <summary>What is known, by field; what is not known is left out.</summary>
    public static IReadOnlyDictionary<string, string> Values(Item specification) =>
        Forms[specification.Kind].Values(specification);

    /// <summary>What is known, a line for each fact.</summary>
    public static IReadOnlyList<string> Lines(Item specification) => Forms[specification.Kind].Lines(specification);

    /// <summary>The specification from what was entered. Empty values are not known; fields of other kinds are ignored.</summary>
    /// <returns>A refusal naming the field and its range.</returns>
    public static Outcome<Item> Read(ItemKind kind, IReadOnlyDictionary<string, string?> values) =>
        Forms[kind].Read(values);

    /// <summary>
    /// What a slot of a model says of whatever works in it: a start for whoever enters a number that sits in one. To be
    /// looked through, not to be believed: a slot takes more than one size.
    /// </summary>
    public static Item ImpliedBy(Specification slot) =>
        slot switch
        {
            Specification.Memory s => new Item.Memory
            {
                Generation = s.Generation,
                MemoryForm = MemoryForm.Sodimm,
                MegaTransfers = s.MegaTransfers,
            },
            Specification.Drive s => new Item.Drive
            {
                DriveForm =
                    s.Form == SlotForm.MSata ? DriveForm.MSata
                    : s.LengthsMm is null ? DriveForm.TwoAndAHalfInch
                    : DriveForm.M2,
                LengthMm = s.LengthsMm is [var only] ? only : null,
                Key = s.LengthsMm is null ? null : s.Key,
                Bus = s.Buses is [var bus] ? bus : null,
                DoubleSided = s.DoubleSided is false ? false : null,
                HeightMm = s.HeightMm,
            },
            Specification.Radio s => new Item.Radio
            {
                LengthMm = s.LengthsMm is [var only] ? only : null,
                Key = s.Key,
                HalfSize = s.Form == SlotForm.HalfSize ? true : null,
                ProcessorRadioGeneration = s.ProcessorRadioGeneration,
            },
            Specification.Battery s => new Item.Battery
            {
                EnergyWh = s.EnergyWh,
                Volts = s.Volts,
                Cells = s.Cells,
                Connector = s.Connector,
                Pack = s.Pack,
            },
            Specification.CoinCell s => new Item.CoinCell
            {
                Volts = s.Volts,
                Connector = s.Connector,
                Rechargeable = s.Rechargeable ?? false,
            },
            Specification.Cellular s => new Item.Cellular
            {
                LengthMm = s.LengthsMm is [var only] ? only : null,
                Key = s.Key,
            },
            Specification.Charger s => new Item.Charger
            {
                Connector = s.Connector,
                Volts = s.Volts,
                Watts = s.Watts,
                PowerDelivery = s.PowerDelivery,
            },
            Specification.Display s => new Item.Display
            {
                Contacts = s.Contacts,
                Inches = s.Inches,
                PixelsWide = s.PixelsWide,
                PixelsHigh = s.PixelsHigh,
            },
            _ => throw new ArgumentOutOfRangeException(nameof(slot)),
        };

    private static FormField<T> Gb<T>(Func<T, int?> get, Func<T, int, T> set)
        where T : Item => FormField<T>.Int("gb", "Size, GB", 1, 65536, get, set);

    private static FormField<T> Length<T>(Func<T, int?> get, Func<T, int, T> set)
        where T : Item =>
        FormField<T>.Choice(
            "lengthMm",
            "M.2 length",
            CommonFields.M2Lengths,
            s => get(s)?.ToString(CultureInfo.InvariantCulture),
            (s, v) => set(s, int.Parse(v, CultureInfo.InvariantCulture))
        );

    private static FormField<T> Key<T>(Func<T, M2Key?> get, Func<T, M2Key?, T> set)
        where T : Item =>
        FormField<T>.Choice(
            "key",
            "Notches",
            [.. M2Key.All.Select(k => new Look($"{k}", $"{k}".Replace("+", " and ", StringComparison.Ordinal)))],
            s => get(s)?.ToString(),
            (s, v) => set(s, M2Key.Find(v))
        );

    private static FormField<T> Volts<T>(Func<T, double?> get, Func<T, double, T> set)
        where T : Item => FormField<T>.Real("volts", "Voltage, V", 0.5, 60, get, set);

    private static FormField<T> Watts<T>(Func<T, double?> get, Func<T, double, T> set)
        where T : Item => FormField<T>.Real("watts", "Power, W", 1, 500, get, set);

    private static IEnumerable<FormField<T>> Eyes<T>(Func<Trait, bool> which)
        where T : Item =>
        ByEye
            .All.Where(which)
            .Select(t =>
                FormField<T>.Choice(
                    t.Id,
                    t.Question,
                    t.Looks,
                    s => s.Looks.GetValueOrDefault(t.Id),
                    (s, v) => s with { Looks = new Dictionary<string, string>(s.Looks) { [t.Id] = v } }
                )
            );

    private static bool IsOfDisplays(Trait trait) => trait.Id is "touch" or "cellular-antennas";
}
