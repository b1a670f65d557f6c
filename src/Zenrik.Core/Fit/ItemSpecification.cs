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
/// What is known of a part number. Fields that do not belong to the kind are null; so are those nobody has looked up.
/// </summary>
public sealed record ItemSpecification
{
    public required ItemKind Kind { get; init; }

    /// <summary>Memory: "DDR4"; "DDR3L" runs at 1.35 V and at the 1.5 V of DDR3.</summary>
    public string? Generation { get; init; }

    public MemoryForm? MemoryForm { get; init; }

    /// <summary>Memory: transfers a second, MT/s.</summary>
    public int? MegaTransfers { get; init; }

    /// <summary>Memory: GB; drives: GB of 10⁹ bytes.</summary>
    public int? Gb { get; init; }

    public DriveForm? DriveForm { get; init; }

    /// <summary>M.2 cards: length in mm; the width is 22.</summary>
    public int? LengthMm { get; init; }

    /// <summary>M.2 cards: the notches of the card, "M", "B+M", "E", "A+E".</summary>
    public string? Key { get; init; }

    public DriveBus? Bus { get; init; }

    public bool? DoubleSided { get; init; }

    /// <summary>2.5-inch drives: height in mm.</summary>
    public double? HeightMm { get; init; }

    /// <summary>2.5-inch drives: true when discs turn in it.</summary>
    public bool? Spinning { get; init; }

    /// <summary>Radios: true when the card needs the radio block inside the processor.</summary>
    public bool? NeedsProcessorRadio { get; init; }

    /// <summary>Radios: the generation of that block, as the maker of the processor numbers it.</summary>
    public int? ProcessorRadioGeneration { get; init; }

    /// <summary>Radios and cellular cards: true for the older half-size card, 30 × 26.65 mm, instead of M.2.</summary>
    public bool? HalfSize { get; init; }

    /// <summary>Radios: features a managed fleet relies on.</summary>
    public bool? ManagedFleet { get; init; }

    /// <summary>Batteries: Wh, V nominal, cells.</summary>
    public double? EnergyWh { get; init; }

    public double? Volts { get; init; }

    public int? Cells { get; init; }

    public string? Connector { get; init; }

    public string? Pack { get; init; }

    /// <summary>Power parts and chargers: W.</summary>
    public double? Watts { get; init; }

    /// <summary>Chargers: true when a pin tells the machine who it is.</summary>
    public bool? IdentificationPin { get; init; }

    /// <summary>Chargers: true when voltage and power are agreed over the plug (USB Power Delivery).</summary>
    public bool? PowerDelivery { get; init; }

    /// <summary>Coin cells: true when it is made to be charged.</summary>
    public bool? Rechargeable { get; init; }

    /// <summary>Boards: the processor on it, as the maker names it.</summary>
    public string? Processor { get; init; }

    /// <summary>Boards: true with graphics of their own; heatsinks: true when they cool such.</summary>
    public bool? Graphics { get; init; }

    /// <summary>Displays: contacts of the plug (30, 40), diagonal in inches, and picture elements.</summary>
    public int? Contacts { get; init; }

    public double? Inches { get; init; }

    public int? PixelsWide { get; init; }

    public int? PixelsHigh { get; init; }

    /// <summary>True when it is not of the machine's maker nor of a known one.</summary>
    public bool? Unbranded { get; init; }

    /// <summary>Its looks, by trait: see <see cref="ByEye"/>.</summary>
    public IReadOnlyDictionary<string, string> Looks { get; init; } = new Dictionary<string, string>();
}
