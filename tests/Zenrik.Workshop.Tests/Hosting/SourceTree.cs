namespace Zenrik.Workshop.Tests;

/// <summary>The folder all of the project lies in.</summary>
internal static class SourceTree
{
    public static string Root { get; } = Above(new DirectoryInfo(AppContext.BaseDirectory));

    private static string Above(DirectoryInfo? folder) =>
        folder is null ? throw new InvalidOperationException("the project's root is not above the tests")
        : File.Exists(Path.Combine(folder.FullName, "zenrik")) ? folder.FullName
        : Above(folder.Parent);
}
