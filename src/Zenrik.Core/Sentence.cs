namespace Zenrik.Core;

/// <summary>How words are put into sentences and out of them.</summary>
public static class Sentence
{
    /// <summary>First letter large: the start of a sentence or a table cell.</summary>
    public static string Capital(string text) => text.Length == 0 ? text : char.ToUpperInvariant(text[0]) + text[1..];

    /// <summary>First letter small: a title within a sentence.</summary>
    public static string Uncapital(string text) => text.Length == 0 ? text : char.ToLowerInvariant(text[0]) + text[1..];
}
