namespace Zenrik.Core.Fleet;

/// <summary>The tag stuck on a unit, in capitals: SK-00417.</summary>
public sealed record UnitTag
{
    public const int MaxLength = 32;

    private static readonly NameRule Rule = new("A unit's tag", 2, MaxLength, "-_./", "SK-00417", Ascii: true);

    private UnitTag(string text) => Text = text;

    public string Text { get; }

    public static Outcome<UnitTag> Read(string? typed) =>
        Rule.Read(typed).Try(out var text, out var wrong) ? new UnitTag(text.ToUpperInvariant()) : wrong;

    /// <summary>What is said where no unit carries what was typed or scanned.</summary>
    public static Refusal Unknown(string? typed) =>
        string.IsNullOrWhiteSpace(typed)
            ? new Refusal(RefusalReason.Invalid, $"Say which unit: scan its tag, or type it, like {Rule.Example}.")
            : new Refusal(RefusalReason.NotFound, $"No unit carries the tag {typed.Trim()}.");

    public override string ToString() => Text;
}
