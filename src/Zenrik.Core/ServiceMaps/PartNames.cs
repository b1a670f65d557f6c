namespace Zenrik.Core.ServiceMaps;

/// <summary>
/// What a part is called, where nothing but its name says what is to be minded at it: on a machine without a map, and in a
/// draft. A caution too many does no harm.
/// </summary>
internal static class PartNames
{
    private static readonly string[] Coin = ["coin cell", "button cell", "coin battery"];
    private static readonly string[] Glass = ["display", "screen", "panel", "glass", "lid"];
    private static readonly string[] Besides = ["cable", "lead", "plug", "bracket", "cover", "frame", "tape", "board"];

    public static bool IsCoinCell(string name) =>
        Array.Exists(Coin, c => name.Contains(c, StringComparison.OrdinalIgnoreCase));

    /// <summary>Lithium cells of the size that burns.</summary>
    public static bool HoldsCells(string name) =>
        name.Contains("battery", StringComparison.OrdinalIgnoreCase) && !IsCoinCell(name) && !IsBesides(name);

    /// <summary>Glass that splinters when cracked.</summary>
    public static bool HoldsGlass(string name) => WordsOf(name).Intersect(Glass).Any() && !IsBesides(name);

    private static bool IsBesides(string name) => WordsOf(name).Intersect(Besides).Any();

    private static string[] WordsOf(string name) => name.ToLowerInvariant().Split([' ', '-', ',', '/']);
}
