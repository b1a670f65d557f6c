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

    [JsonStringEnumMemberName("slot")]
    Slot,
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
            MetricThread.M25 => "M2.5",
            _ => thread.ToString(),
        };
}

/// <summary>What a hand holds while doing an act.</summary>
public enum Tool
{
    Fingers,

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
    SlottedDriver,
    PryTool,
    MetalPryTool,
    Tweezers,
    EjectPin,
}

public static class Tools
{
    /// <summary>The driver that fits a recess.</summary>
    public static Tool For(Drive drive) =>
        drive switch
        {
            Drive.PH00 => Tool.PH00,
            Drive.PH0 => Tool.PH0,
            Drive.PH1 => Tool.PH1,
            Drive.T5 => Tool.T5,
            Drive.T6 => Tool.T6,
            Drive.Slot => Tool.SlottedDriver,
            _ => throw new ArgumentOutOfRangeException(nameof(drive)),
        };

    /// <summary>As a technician would ask for it.</summary>
    public static string Name(this Tool tool) =>
        tool switch
        {
            Tool.Fingers => "fingers",
            Tool.SlottedDriver => "slotted driver",
            Tool.PryTool => "plastic pry tool",
            Tool.MetalPryTool => "thin metal pry tool",
            Tool.Tweezers => "tweezers",
            Tool.EjectPin => "eject pin",
            _ => tool.ToString(),
        };
}
