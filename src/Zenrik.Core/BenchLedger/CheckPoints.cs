using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.BenchLedger;

/// <summary>What a check looks at one by one, so that it takes more than a reflex. Common practice, no published source.</summary>
public static class CheckPoints
{
    private static readonly string[] Corners = ["top left", "top right", "bottom left", "bottom right"];

    private static readonly Dictionary<string, string[]> Points = new()
    {
        ["picture"] = Corners,
        ["touch"] = Corners,
        ["sound"] = ["from the left", "from the right"],
        ["pointer"] = ["it follows the finger", "left button", "right button"],
        ["charge"] = ["the light or the symbol shows", "plug and port stay cool"],
        ["lid"] = ["it stays half open", "it closes and the machine notices"],
    };

    /// <summary>By the check's name in the map; empty where looking once is all there is.</summary>
    public static IReadOnlyList<string> Of(CheckId check) => Points.GetValueOrDefault(check.Value) ?? [];

    /// <summary>True for the check of a keyboard, which is answered by its keys.</summary>
    public static bool IsKeys(CheckId check) => check.Value == "keys";
}
