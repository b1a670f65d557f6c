namespace Zenrik.Core;

/// <summary>
/// How a code is read that stands on a label: a unit's tag, an item's, a bin's, a badge's. Labels have capitals; what is typed
/// or scanned with a space or in small letters is the same code, wherever it is looked up or locked.
/// </summary>
public static class LabelCode
{
    /// <returns>Capitals without space around them; empty for nothing.</returns>
    public static string Of(string? typed) => (typed ?? "").Trim().ToUpperInvariant();
}
