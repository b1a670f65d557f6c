namespace Zenrik.Core;

/// <summary>One thing that is said otherwise than before.</summary>
/// <param name="What">In words: "site".</param>
/// <param name="Before">Null: nothing was said.</param>
/// <param name="After">Null: nothing is said any more.</param>
public sealed record FactChange(string What, string? Before, string? After)
{
    public override string ToString() => $"{What} {Before ?? "nothing"} → {After ?? "nothing"}";
}
