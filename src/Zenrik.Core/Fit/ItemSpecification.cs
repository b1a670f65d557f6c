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
}

/// <summary>
/// What is known of a part number. Fields that do not belong to the kind are null; so are those nobody has looked up.
/// </summary>
public sealed record ItemSpecification
{
    public required ItemKind Kind { get; init; }

    /// <summary>Memory: "DDR4".</summary>
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

    /// <summary>Radios: features a managed fleet relies on.</summary>
    public bool? ManagedFleet { get; init; }

    /// <summary>Batteries: Wh, V nominal, cells.</summary>
    public double? EnergyWh { get; init; }

    public double? Volts { get; init; }

    public int? Cells { get; init; }

    public string? Connector { get; init; }

    public string? Pack { get; init; }

    /// <summary>Power parts: W.</summary>
    public double? Watts { get; init; }

    /// <summary>True when it is not of the machine's maker nor of a known one.</summary>
    public bool? Unbranded { get; init; }

    /// <summary>Its looks, by trait: see <see cref="ByEye"/>.</summary>
    public IReadOnlyDictionary<string, string> Looks { get; init; } = new Dictionary<string, string>();
}
