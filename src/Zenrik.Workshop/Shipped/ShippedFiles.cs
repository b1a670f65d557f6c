namespace Zenrik.Workshop.Shipped;

/// <summary>Files that ship inside the program.</summary>
internal static class ShippedFiles
{
    /// <summary>File name and text of everything shipped under a folder, by file name.</summary>
    /// <param name="folder">"maps/".</param>
    public static IReadOnlyList<(string File, string Json)> In(string folder) =>
        [
            .. typeof(ShippedFiles)
                .Assembly.GetManifestResourceNames()
                .Where(name => name.StartsWith(folder, StringComparison.Ordinal))
                .Order(StringComparer.Ordinal)
                .Select(name => (name[folder.Length..], Text(name))),
        ];

    private static string Text(string resource)
    {
        using var stream = typeof(ShippedFiles).Assembly.GetManifestResourceStream(resource)!;
        using var reader = new StreamReader(stream);
        return reader.ReadToEnd();
    }
}
