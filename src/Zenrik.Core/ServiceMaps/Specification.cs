using System.Text.Json.Serialization;

namespace Zenrik.Core.ServiceMaps;

/// <summary>
/// What may go into a slot: one of the kinds below, each with the facts that decide there. What nobody has looked up is
/// null. Its kind is written as "kind".
/// </summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "kind")]
[JsonDerivedType(typeof(Memory), "memory")]
[JsonDerivedType(typeof(Drive), "drive")]
[JsonDerivedType(typeof(Radio), "radio")]
[JsonDerivedType(typeof(Battery), "battery")]
[JsonDerivedType(typeof(CoinCell), "coin-cell")]
[JsonDerivedType(typeof(Cellular), "cellular")]
[JsonDerivedType(typeof(Charger), "charger")]
[JsonDerivedType(typeof(Display), "display")]
public abstract record Specification
{
    private Specification(SpecificationKind kind) => Kind = kind;

    [JsonIgnore]
    public SpecificationKind Kind { get; }

    public required string Slot { get; init; }

    /// <summary>Soldered: nothing can be exchanged in this slot.</summary>
    public bool? Soldered { get; init; }

    public string? Note { get; init; }

    /// <summary>True for what a machine takes from outside, in no part's slot: its charger.</summary>
    [JsonIgnore]
    public bool IsOutside => this is Charger && Slot == Charger.Outside;

    /// <summary>A slot for a memory module.</summary>
    public sealed record Memory() : Specification(SpecificationKind.Memory)
    {
        /// <summary>"DDR4", "DDR5"; "DDR3L" for a board that gives 1.35 V alone.</summary>
        public string? Generation { get; init; }

        /// <summary>Fastest transfers used, MT/s.</summary>
        public int? MegaTransfers { get; init; }

        /// <summary>The most the maker states, GB in all slots.</summary>
        public int? MakerGb { get; init; }

        /// <summary>The most the processor's controller takes, GB in all slots.</summary>
        public int? ControllerGb { get; init; }

        /// <summary>The most one stick may hold, GB.</summary>
        public int? StickGb { get; init; }

        /// <summary>What is soldered to the board besides the slots, GB.</summary>
        public int? SolderedGb { get; init; }
    }

    /// <summary>A slot or bay for a drive.</summary>
    public sealed record Drive() : Specification(SpecificationKind.Drive)
    {
        /// <summary>What the slot takes, where its other fields do not say: an M.2 card by lengths, else a 2.5-inch case.</summary>
        public SlotForm? Form { get; init; }

        /// <summary>M.2: lengths that can be mounted, mm (PCI-SIG M.2: 30, 42, 80).</summary>
        public IReadOnlyList<int>? LengthsMm { get; init; }

        public M2Key? Key { get; init; }

        /// <summary>True when chips on the lower side have room.</summary>
        public bool? DoubleSided { get; init; }

        /// <summary>Height of a 2.5-inch case that fits, mm.</summary>
        public double? HeightMm { get; init; }

        /// <summary>What the slot's contacts carry.</summary>
        public IReadOnlyList<DriveBus>? Buses { get; init; }
    }

    /// <summary>A slot for a radio card.</summary>
    public sealed record Radio() : Specification(SpecificationKind.Radio)
    {
        /// <summary>An M.2 card unless it says half-size.</summary>
        public SlotForm? Form { get; init; }

        /// <summary>M.2: lengths that can be mounted, mm.</summary>
        public IReadOnlyList<int>? LengthsMm { get; init; }

        public M2Key? Key { get; init; }

        /// <summary>True when the slot is wired to the radio block inside the processor.</summary>
        public bool? ProcessorRadio { get; init; }

        /// <summary>The generation of that block.</summary>
        public int? ProcessorRadioGeneration { get; init; }

        /// <summary>Part numbers the firmware takes; everything else is refused at start. Empty: no such list.</summary>
        public IReadOnlyList<string>? OnlyNumbers { get; init; }
    }

    /// <summary>A slot for a cellular card.</summary>
    public sealed record Cellular() : Specification(SpecificationKind.Cellular)
    {
        /// <summary>Lengths that can be mounted, mm.</summary>
        public IReadOnlyList<int>? LengthsMm { get; init; }

        public M2Key? Key { get; init; }

        /// <summary>Part numbers the firmware takes; everything else is refused at start. Empty: no such list.</summary>
        public IReadOnlyList<string>? OnlyNumbers { get; init; }
    }

    /// <summary>The place of the battery.</summary>
    public sealed record Battery() : Specification(SpecificationKind.Battery)
    {
        public double? EnergyWh { get; init; }

        /// <summary>Nominal, V.</summary>
        public double? Volts { get; init; }

        public int? Cells { get; init; }

        /// <summary>The plug, as the maker names it.</summary>
        public string? Connector { get; init; }

        /// <summary>The shape of the pack, as the maker names it.</summary>
        public string? Pack { get; init; }
    }

    /// <summary>The place of the cell that keeps the clock.</summary>
    public sealed record CoinCell() : Specification(SpecificationKind.CoinCell)
    {
        /// <summary>Nominal, V.</summary>
        public double? Volts { get; init; }

        /// <summary>The plug, where it has one.</summary>
        public string? Connector { get; init; }

        /// <summary>True where the board charges it.</summary>
        public bool? Rechargeable { get; init; }
    }

    /// <summary>What charger the machine takes: said of the slot <see cref="Outside"/>, which is no part's.</summary>
    public sealed record Charger() : Specification(SpecificationKind.Charger)
    {
        /// <summary>The slot a charger is told and listed by.</summary>
        public const string Outside = "charger";

        /// <summary>The plug, as the maker names it.</summary>
        public string? Connector { get; init; }

        public double? Volts { get; init; }

        /// <summary>What the machine asks for, W.</summary>
        public double? Watts { get; init; }

        /// <summary>True when it asks by a pin who the charger is.</summary>
        public bool? IdentificationPin { get; init; }

        /// <summary>True when voltage and power are agreed over the plug (USB Power Delivery).</summary>
        public bool? PowerDelivery { get; init; }
    }

    /// <summary>The place of the screen.</summary>
    public sealed record Display() : Specification(SpecificationKind.Display)
    {
        /// <summary>Contacts of the joint (30, 40).</summary>
        public int? Contacts { get; init; }

        /// <summary>Diagonal.</summary>
        public double? Inches { get; init; }

        public int? PixelsWide { get; init; }

        public int? PixelsHigh { get; init; }
    }
}

public enum SpecificationKind
{
    Memory,
    Drive,
    Radio,
    Battery,
    CoinCell,
    Cellular,
    Charger,
    Display,
}

/// <summary>Places that are not told by lengths or height alone.</summary>
public enum SlotForm
{
    M2,
    TwoAndAHalfInch,
    MSata,

    /// <summary>A half-size card of the older kind.</summary>
    HalfSize,

    /// <summary>The bay of an optical drive: a 2.5-inch drive goes in by a caddy.</summary>
    OpticalBay,
}

public enum DriveBus
{
    Nvme,
    Sata,
}
