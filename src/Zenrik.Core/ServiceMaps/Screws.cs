using System.Globalization;
using System.Text.Json.Serialization;

namespace Zenrik.Core.ServiceMaps;

/// <summary>A screw as one would order it.</summary>
public sealed record Screw
{
    public required Drive Drive { get; init; }

    public required MetricThread Thread { get; init; }

    /// <summary>Length under the head, mm.</summary>
    public required double LengthMm { get; init; }

    /// <summary>Colour of the head, where it tells two kinds apart.</summary>
    public Finish Finish { get; init; } = Finish.Black;

    /// <summary>"M2 × 4" as printed on bags of screws.</summary>
    [JsonIgnore]
    public string Size =>
        IsMeasured
            ? string.Create(CultureInfo.InvariantCulture, $"{Thread.Name()} × {LengthMm:0.#}")
            : "length not measured";

    /// <summary>False where nobody has measured it, as in a map made by working: its length is 0 then.</summary>
    [JsonIgnore]
    public bool IsMeasured => LengthMm > 0;
}

/// <summary>The recess in a screw's head. Hexalobular sizes as in ISO 10664, cross recesses as in ISO 4757.</summary>
public enum Drive
{
    [JsonStringEnumMemberName("PH000")]
    PH000,

    [JsonStringEnumMemberName("PH00")]
    PH00,

    [JsonStringEnumMemberName("PH0")]
    PH0,

    [JsonStringEnumMemberName("PH1")]
    PH1,

    [JsonStringEnumMemberName("T5")]
    T5,

    [JsonStringEnumMemberName("T6")]
    T6,

    [JsonStringEnumMemberName("T8")]
    T8,

    /// <summary>Hexalobular with a pin in the middle: a driver with a hole.</summary>
    [JsonStringEnumMemberName("T5-pin")]
    T5Pin,

    [JsonStringEnumMemberName("T6-pin")]
    T6Pin,

    /// <summary>Five lobes.</summary>
    [JsonStringEnumMemberName("five-lobe")]
    FiveLobe,

    [JsonStringEnumMemberName("slot")]
    Slot,

    /// <summary>No recess: a hexagonal standoff, turned by its flats.</summary>
    [JsonStringEnumMemberName("hex-standoff")]
    HexStandoff,
}

public static class Drives
{
    /// <summary>As a technician says it: "T5 with pin".</summary>
    public static string Name(this Drive drive) =>
        drive switch
        {
            Drive.T5Pin => "T5 with pin",
            Drive.T6Pin => "T6 with pin",
            Drive.FiveLobe => "five-lobe",
            Drive.Slot => "slot",
            Drive.HexStandoff => "hexagonal standoff",
            _ => drive.ToString(),
        };

    /// <summary>True for six lobes, with a pin or without.</summary>
    public static bool IsHexalobular(this Drive drive) =>
        drive is Drive.T5 or Drive.T6 or Drive.T8 or Drive.T5Pin or Drive.T6Pin;
}

public enum Finish
{
    Black,
    Silver,
}

/// <summary>ISO metric coarse threads met in portable computers.</summary>
public enum MetricThread
{
    [JsonStringEnumMemberName("M1.6")]
    M16,

    [JsonStringEnumMemberName("M2")]
    M2,

    [JsonStringEnumMemberName("M2.5")]
    M25,

    [JsonStringEnumMemberName("M3")]
    M3,
}

public static class MetricThreads
{
    /// <summary>Coarse pitch in mm, ISO 261.</summary>
    public static double PitchMm(this MetricThread thread) => Sizes(thread).Pitch;

    /// <summary>Nominal diameter in mm, ISO 261.</summary>
    public static double DiameterMm(this MetricThread thread) => Sizes(thread).Diameter;

    /// <summary>Usual diameter of a flat head in portable computers, mm. Common practice, no published source.</summary>
    public static double HeadMm(this MetricThread thread) => Sizes(thread).Head;

    private static (double Diameter, double Pitch, double Head) Sizes(MetricThread thread) =>
        thread switch
        {
            MetricThread.M16 => (1.6, 0.35, 3.0),
            MetricThread.M2 => (2.0, 0.4, 3.8),
            MetricThread.M25 => (2.5, 0.45, 4.6),
            MetricThread.M3 => (3.0, 0.5, 5.6),
            _ => throw new ArgumentOutOfRangeException(nameof(thread)),
        };

    /// <summary>"M2.5".</summary>
    public static string Name(this MetricThread thread) =>
        thread switch
        {
            MetricThread.M16 => "M1.6",
            MetricThread.M2 => "M2",
            MetricThread.M25 => "M2.5",
            MetricThread.M3 => "M3",
            _ => throw new ArgumentOutOfRangeException(nameof(thread)),
        };
}

/// <summary>What a hand holds while doing an act.</summary>
public enum Tool
{
    Fingers,

    [JsonStringEnumMemberName("PH000")]
    PH000,

    [JsonStringEnumMemberName("PH00")]
    PH00,

    [JsonStringEnumMemberName("PH0")]
    PH0,

    [JsonStringEnumMemberName("PH1")]
    PH1,

    [JsonStringEnumMemberName("T5")]
    T5,

    [JsonStringEnumMemberName("T6")]
    T6,

    [JsonStringEnumMemberName("T8")]
    T8,

    [JsonStringEnumMemberName("T5-pin")]
    T5Pin,

    [JsonStringEnumMemberName("T6-pin")]
    T6Pin,
    FiveLobeDriver,
    NutDriver,
    SlottedDriver,
    PryTool,
    MetalPryTool,
    Tweezers,
    EjectPin,
}

public static class Tools
{
    /// <summary>True for what turns a screw.</summary>
    public static bool IsDriver(this Tool tool) => tool is >= Tool.PH000 and <= Tool.SlottedDriver;

    /// <summary>The driver that fits a recess.</summary>
    public static Tool For(Drive drive) =>
        drive switch
        {
            Drive.PH000 => Tool.PH000,
            Drive.PH00 => Tool.PH00,
            Drive.PH0 => Tool.PH0,
            Drive.PH1 => Tool.PH1,
            Drive.T5 => Tool.T5,
            Drive.T6 => Tool.T6,
            Drive.T8 => Tool.T8,
            Drive.T5Pin => Tool.T5Pin,
            Drive.T6Pin => Tool.T6Pin,
            Drive.FiveLobe => Tool.FiveLobeDriver,
            Drive.HexStandoff => Tool.NutDriver,
            Drive.Slot => Tool.SlottedDriver,
            _ => throw new ArgumentOutOfRangeException(nameof(drive)),
        };

    /// <summary>As a technician would ask for it.</summary>
    public static string Name(this Tool tool) =>
        tool switch
        {
            Tool.Fingers => "fingers",
            Tool.SlottedDriver => "slotted driver",
            Tool.T5Pin => "T5 with a hole for the pin",
            Tool.T6Pin => "T6 with a hole for the pin",
            Tool.FiveLobeDriver => "five-lobe driver",
            Tool.NutDriver => "nut driver",
            Tool.PryTool => "plastic pry tool",
            Tool.MetalPryTool => "thin metal pry tool",
            Tool.Tweezers => "tweezers",
            Tool.EjectPin => "eject pin",
            _ => tool.ToString(),
        };
}
