namespace Zenrik.Core.ServiceMaps;

/// <summary>What makes touching a machine dangerous beyond what its map says, found or said of this one unit.</summary>
public enum Hazard
{
    /// <summary>The glass or the panel is cracked: splinters.</summary>
    CrackedGlass,
}

public static class Hazards
{
    /// <summary>The caution of every act that touches it. Common practice, no published source; local rules come first.</summary>
    public static Caution Caution(this Hazard hazard) =>
        hazard switch
        {
            Hazard.CrackedGlass => new Caution
            {
                Severity = Severity.Warning,
                Text =
                    "Cracked glass: splinters. Gloves and eye protection, clear film over it before anything moves, no finger along the crack; splinters go into a closed hard box.",
            },
            _ => throw new ArgumentOutOfRangeException(nameof(hazard)),
        };

    /// <summary>
    /// The caution of whatever holds lithium cells, where its map has no severe one of its own. Common practice, no published
    /// source; local rules come first.
    /// </summary>
    public static Caution Cells { get; } =
        new()
        {
            Severity = Severity.Severe,
            Text =
                "Lithium cells: never bend, puncture or pry against them. If the pack is swollen, stop: leave it in, keep heat and metal away and follow the site's procedure. Local rules for lithium waste apply.",
        };

    /// <summary>The same in short, while nobody knows yet where in a machine they lie.</summary>
    public static Caution CellsSomewhere { get; } =
        new()
        {
            Severity = Severity.Warning,
            Text = "Lithium cells are never bent, punctured or pried against; a swollen pack stays in.",
        };

    /// <summary>True when a technician's or user's own words name a swollen cell, which is never exchanged like a worn one.</summary>
    /// <param name="fault">"battery swollen".</param>
    public static bool IsSwelling(string? fault) =>
        fault is not null && Swelling.Any(w => fault.Contains(w, StringComparison.OrdinalIgnoreCase));

    /// <summary>Whether something is exchanged at the bench for this reason; null when it may be.</summary>
    public static Refusal? CheckExchange(string? fault) =>
        IsSwelling(fault)
            ? new Refusal(
                RefusalReason.Conflict,
                "A swollen cell is not exchanged like another part: stop, and set the machine apart."
            )
            : null;

    private static readonly string[] Swelling = ["swoll", "swell", "bulg", "bloat", "puffed", "puffy"];

    /// <summary>The hazard a technician's or user's own words name; null when none does.</summary>
    /// <param name="fault">"glass cracked".</param>
    public static Hazard? NamedIn(string? fault) =>
        fault?.Contains("crack", StringComparison.OrdinalIgnoreCase) == true
        && (
            fault.Contains("glass", StringComparison.OrdinalIgnoreCase)
            || fault.Contains("panel", StringComparison.OrdinalIgnoreCase)
            || fault.Contains("screen", StringComparison.OrdinalIgnoreCase)
            || fault.Contains("display", StringComparison.OrdinalIgnoreCase)
        )
            ? Hazard.CrackedGlass
            : null;
}
