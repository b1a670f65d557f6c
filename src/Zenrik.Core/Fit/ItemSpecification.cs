using System.Text.Json.Serialization;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Fit;

/// <summary>What kind of thing a part number is.</summary>
public enum ItemKind
{
    Other,
    Memory,
    Drive,
    Radio,
    Battery,
    CoinCell,
    Keyboard,
    Display,
    Board,
    Power,
    Fan,
    Cellular,
    Heatsink,
    Charger,
}

/// <summary>How the memory module is built.</summary>
public enum MemoryForm
{
    /// <summary>Small outline, 67.6 mm wide, in an edge slot.</summary>
    Sodimm,

    /// <summary>For desktop machines, 133.35 mm.</summary>
    Dimm,
}

public enum DriveForm
{
    M2,

    /// <summary>The 2.5-inch case, 69.85 × 100 mm.</summary>
    TwoAndAHalfInch,

    /// <summary>The older small card, 30 × 50.95 mm, SATA alone.</summary>
    MSata,
}

/// <summary>
/// What is known of a part number: one of the kinds below, each with the facts its label or data sheet gives. What nobody
/// has looked up is null. Its kind is written as "kind".
/// </summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "kind")]
[JsonDerivedType(typeof(Other), "other")]
[JsonDerivedType(typeof(Memory), "memory")]
[JsonDerivedType(typeof(Drive), "drive")]
[JsonDerivedType(typeof(Radio), "radio")]
[JsonDerivedType(typeof(Battery), "battery")]
[JsonDerivedType(typeof(CoinCell), "coin-cell")]
[JsonDerivedType(typeof(Keyboard), "keyboard")]
[JsonDerivedType(typeof(Display), "display")]
[JsonDerivedType(typeof(Board), "board")]
[JsonDerivedType(typeof(Power), "power")]
[JsonDerivedType(typeof(Fan), "fan")]
[JsonDerivedType(typeof(Cellular), "cellular")]
[JsonDerivedType(typeof(Heatsink), "heatsink")]
[JsonDerivedType(typeof(Charger), "charger")]
public abstract record ItemSpecification
{
    private ItemSpecification(ItemKind kind) => Kind = kind;

    [JsonIgnore]
    public ItemKind Kind { get; }

    /// <summary>True when it is not of the machine's maker nor of a known one.</summary>
    public bool? Unbranded { get; init; }

    /// <summary>Its looks, by trait: see <see cref="ByEye"/>.</summary>
    public IReadOnlyDictionary<string, string> Looks { get; init; } = new Dictionary<string, string>();

    /// <summary>What has no kind of its own: a case, paste, a hinge.</summary>
    public sealed record Other() : ItemSpecification(ItemKind.Other);

    public sealed record Memory() : ItemSpecification(ItemKind.Memory)
    {
        /// <summary>"DDR4"; "DDR3L" runs at 1.35 V and at the 1.5 V of DDR3.</summary>
        public string? Generation { get; init; }

        public MemoryForm? MemoryForm { get; init; }

        /// <summary>Transfers a second, MT/s.</summary>
        public int? MegaTransfers { get; init; }

        public int? Gb { get; init; }
    }

    public sealed record Drive() : ItemSpecification(ItemKind.Drive)
    {
        public DriveForm? DriveForm { get; init; }

        /// <summary>M.2 cards: length in mm; the width is 22.</summary>
        public int? LengthMm { get; init; }

        /// <summary>M.2 cards: the notches.</summary>
        public M2Key? Key { get; init; }

        public DriveBus? Bus { get; init; }

        public bool? DoubleSided { get; init; }

        /// <summary>2.5-inch drives: height in mm.</summary>
        public double? HeightMm { get; init; }

        /// <summary>2.5-inch drives: true when discs turn in it.</summary>
        public bool? Spinning { get; init; }

        /// <summary>GB of 10⁹ bytes.</summary>
        public int? Gb { get; init; }
    }

    public sealed record Radio() : ItemSpecification(ItemKind.Radio)
    {
        /// <summary>M.2 cards: length in mm; the width is 22.</summary>
        public int? LengthMm { get; init; }

        /// <summary>M.2 cards: the notches.</summary>
        public M2Key? Key { get; init; }

        /// <summary>True for the older half-size card, 30 × 26.65 mm, instead of M.2.</summary>
        public bool? HalfSize { get; init; }

        /// <summary>True when the card needs the radio block inside the processor.</summary>
        public bool? NeedsProcessorRadio { get; init; }

        /// <summary>The generation of that block, as the maker of the processor numbers it.</summary>
        public int? ProcessorRadioGeneration { get; init; }

        /// <summary>True with features a managed fleet relies on.</summary>
        public bool? ManagedFleet { get; init; }
    }

    public sealed record Cellular() : ItemSpecification(ItemKind.Cellular)
    {
        /// <summary>Length in mm.</summary>
        public int? LengthMm { get; init; }

        /// <summary>Its notches.</summary>
        public M2Key? Key { get; init; }
    }

    public sealed record Battery() : ItemSpecification(ItemKind.Battery)
    {
        public double? EnergyWh { get; init; }

        /// <summary>Nominal, V.</summary>
        public double? Volts { get; init; }

        public int? Cells { get; init; }

        /// <summary>Its plug, as the maker names it.</summary>
        public string? Connector { get; init; }

        /// <summary>Its shape, as the maker names it.</summary>
        public string? Pack { get; init; }
    }

    public sealed record CoinCell() : ItemSpecification(ItemKind.CoinCell)
    {
        /// <summary>Nominal, V.</summary>
        public double? Volts { get; init; }

        /// <summary>Its plug, where it has one.</summary>
        public string? Connector { get; init; }

        /// <summary>True when it is made to be charged.</summary>
        public bool? Rechargeable { get; init; }
    }

    public sealed record Keyboard() : ItemSpecification(ItemKind.Keyboard);

    public sealed record Display() : ItemSpecification(ItemKind.Display)
    {
        /// <summary>Contacts of its plug (30, 40).</summary>
        public int? Contacts { get; init; }

        /// <summary>Diagonal.</summary>
        public double? Inches { get; init; }

        public int? PixelsWide { get; init; }

        public int? PixelsHigh { get; init; }
    }

    public sealed record Board() : ItemSpecification(ItemKind.Board)
    {
        /// <summary>The processor on it, as the maker names it.</summary>
        public string? Processor { get; init; }

        /// <summary>Memory soldered to it.</summary>
        public int? Gb { get; init; }

        /// <summary>True with graphics of its own.</summary>
        public bool? Graphics { get; init; }
    }

    /// <summary>A part between the plug and the board.</summary>
    public sealed record Power() : ItemSpecification(ItemKind.Power)
    {
        public string? Connector { get; init; }

        public double? Volts { get; init; }

        public double? Watts { get; init; }
    }

    public sealed record Fan() : ItemSpecification(ItemKind.Fan);

    public sealed record Heatsink() : ItemSpecification(ItemKind.Heatsink)
    {
        /// <summary>True when it cools graphics too.</summary>
        public bool? Graphics { get; init; }
    }

    public sealed record Charger() : ItemSpecification(ItemKind.Charger)
    {
        public string? Connector { get; init; }

        public double? Volts { get; init; }

        public double? Watts { get; init; }

        /// <summary>True when a pin tells the machine who it is.</summary>
        public bool? IdentificationPin { get; init; }

        /// <summary>True when voltage and power are agreed over the plug (USB Power Delivery).</summary>
        public bool? PowerDelivery { get; init; }
    }

    /// <summary>What it holds, GB, whatever it is: a stick, a drive, a board with memory of its own.</summary>
    [JsonIgnore]
    public int? Holds =>
        this switch
        {
            Memory memory => memory.Gb,
            Drive drive => drive.Gb,
            Board board => board.Gb,
            _ => null,
        };
}
