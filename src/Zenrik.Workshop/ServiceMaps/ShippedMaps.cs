namespace Zenrik.Workshop.ServiceMaps;

/// <summary>The maps that ship with the program, all of invented models.</summary>
public static class ShippedMaps
{
    private const string Prefix = "maps/";

    /// <summary>File name and text, by file name.</summary>
    public static IReadOnlyList<(string File, string Json)> All { get; } =
    [
        .. typeof(ShippedMaps)
            .Assembly.GetManifestResourceNames()
            .Where(name => name.StartsWith(Prefix, StringComparison.Ordinal))
            .Order(StringComparer.Ordinal)
            .Select(name => (name[Prefix.Length..], Text(name))),
    ];

    private static string Text(string resource)
    {
        using var stream = typeof(ShippedMaps).Assembly.GetManifestResourceStream(resource)!;
        using var reader = new StreamReader(stream);
        return reader.ReadToEnd();
    }
}
