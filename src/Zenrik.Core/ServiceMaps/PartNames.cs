namespace Zenrik.Core.ServiceMaps;

/// <summary>
/// What a part is called, where nothing but its name says what is to be minded at it: on a machine without a map, and in a
/// draft. A caution too many does no harm.
/// </summary>
internal static class PartNames
{
    private static readonly string[] Coin = ["coin cell", "button cell", "coin battery"];
    private static readonly string[] Battery = ["batter", "accumulator"];
    private static readonly string[] Glass =
    [
        "display",
        "screen",
        "touchscreen",
        "panel",
        "glass",
        "lid",
        "lcd",
        "digitis",
        "digitiz",
    ];

    /// <summary>Right behind the word they say that it is something beside it: "battery cable".</summary>
    private static readonly string[] Besides = ["cable", "lead", "plug", "bracket", "cover", "frame", "tape", "screws"];

    public static bool IsCoinCell(string name) =>
        Array.Exists(Coin, c => name.Contains(c, StringComparison.OrdinalIgnoreCase));

    /// <summary>Lithium cells of the size that burns.</summary>
    public static bool HoldsCells(string name) => !IsCoinCell(name) && Names(name, Battery);

    /// <summary>Glass that splinters when cracked.</summary>
    public static bool HoldsGlass(string name) => Names(name, Glass);

    private static bool Names(string name, string[] beginnings)
    {
        var words = name.ToLowerInvariant().Split([' ', '-', ',', '/'], StringSplitOptions.RemoveEmptyEntries);
        return words
            .Index()
            .Any(w =>
                Array.Exists(beginnings, b => w.Item.StartsWith(b, StringComparison.Ordinal))
                && !Besides.Contains(words.ElementAtOrDefault(w.Index + 1))
            );
    }
}
