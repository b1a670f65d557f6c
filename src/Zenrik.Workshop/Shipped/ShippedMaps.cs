namespace Zenrik.Workshop.Shipped;

/// <summary>The maps that ship with the program, all of invented models.</summary>
public static class ShippedMaps
{
    /// <summary>File name and text, by file name.</summary>
    public static IReadOnlyList<(string File, string Json)> All { get; } = ShippedFiles.In("maps/");
}
