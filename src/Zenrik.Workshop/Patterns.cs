namespace Zenrik.Workshop;

/// <summary>Patterns for LIKE from what people type.</summary>
internal static class Patterns
{
    /// <summary>Matches texts that contain what was typed, taken literally.</summary>
    public static string Containing(string typed) => $"%{Escape(typed.Trim())}%";

    /// <summary>Matches texts that begin with what was typed, taken literally.</summary>
    public static string Beginning(string typed) => $"{Escape(typed.Trim())}%";

    /// <summary>Matches the text itself, whatever its case, taken literally.</summary>
    public static string Exactly(string text) => Escape(text);

    private static string Escape(string text) =>
        text.Replace("\\", "\\\\", StringComparison.Ordinal)
            .Replace("%", "\\%", StringComparison.Ordinal)
            .Replace("_", "\\_", StringComparison.Ordinal);
}
