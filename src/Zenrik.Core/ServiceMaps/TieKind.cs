namespace Zenrik.Core.ServiceMaps;

/// <summary>What holds a cable of one part on another, or the part itself, without a screw.</summary>
public enum TieKind
{
    Tape,
    Hook,
    Channel,
    Latch,

    /// <summary>An adhesive strip with a tab that is drawn out from under the part.</summary>
    StretchStrip,

    /// <summary>A pack or plate glued down over its face.</summary>
    Glue,

    /// <summary>A frame of adhesive tape around a panel or glass.</summary>
    TapeFrame,
}

/// <summary>The handling of one kind of tie. Common practice, no published source.</summary>
/// <param name="Name">What a technician calls it.</param>
/// <param name="Frees">How it is freed, in the imperative.</param>
/// <param name="Lays">How it holds again, in the imperative.</param>
/// <param name="Tool">What frees it.</param>
/// <param name="FreeSeconds">Standard time to free one.</param>
/// <param name="LaySeconds">Standard time to lay one.</param>
/// <param name="Needs">What must be at hand for the way back, as it cannot be used again; null: nothing.</param>
public sealed record TieHandling(
    string Name,
    string Frees,
    string Lays,
    Tool Tool,
    double FreeSeconds,
    double LaySeconds,
    string? Needs = null
);

public static class TieKinds
{
    /// <summary>True for what sticks: it is freed by drawing, warmth or solvent, and seldom holds again.</summary>
    public static bool IsAdhesive(this TieKind kind) =>
        kind is TieKind.StretchStrip or TieKind.Glue or TieKind.TapeFrame;

    /// <summary>How a tie of this kind is handled.</summary>
    public static TieHandling Handling(this TieKind kind) =>
        kind switch
        {
            TieKind.Tape => new(
                "tape",
                "Peel the tape back and keep it clean: it goes on again.",
                "Press the tape down over the cable where it was.",
                Tool.Fingers,
                8,
                12
            ),
            TieKind.Hook => new(
                "hook",
                "Out from under its hook; look which way it runs.",
                "Back under its hook the way it ran, without tension.",
                Tool.Fingers,
                8,
                12
            ),
            TieKind.Channel => new(
                "channel",
                "Lift the cable out of its channel.",
                "Press the cable into its channel, nowhere above the edge.",
                Tool.Fingers,
                8,
                12
            ),
            TieKind.Latch => new(
                "latch",
                "Slide the latch open and hold it.",
                "Slide the latch home until it clicks.",
                Tool.Fingers,
                3,
                3
            ),
            TieKind.StretchStrip => new(
                "stretch strip",
                "Take the tab, draw slowly and flat along the part, not upwards, until the whole strip is out. If it tears, isopropyl alcohol under the edge and a minute's wait.",
                "New strip on the cleaned bed, tab where it can be reached, then press the part down evenly.",
                Tool.Fingers,
                60,
                60,
                "adhesive strips"
            ),
            TieKind.Glue => new(
                "glue",
                "Isopropyl alcohol along the edge, wait a few minutes, then ease a flat plastic tool under, a little at a time.",
                "Old adhesive off with alcohol, new adhesive on the clean bed, press down evenly.",
                Tool.PryTool,
                240,
                120,
                "adhesive"
            ),
            TieKind.TapeFrame => new(
                "tape frame",
                "Warm the edge until the hand just bears it, then ease a thin plastic tool in and follow the frame round; not deeper than the frame is wide.",
                "Old tape off, frame cleaned, new tape laid without a fold, then press round the edge.",
                Tool.PryTool,
                180,
                180,
                "tape frame"
            ),
            _ => throw new ArgumentOutOfRangeException(nameof(kind)),
        };
}
