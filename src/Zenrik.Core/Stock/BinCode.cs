namespace Zenrik.Core.Stock;

/// <summary>The short code on a bin, in capitals: A-01.</summary>
public sealed record BinCode
{
    public const int MaxLength = 24;

    private static readonly NameRule Rule = new("A bin's code", 1, MaxLength, "-", "A-01", Ascii: true);

    private BinCode(string text) => Text = text;

    public string Text { get; }

    public static Outcome<BinCode> Read(string? typed) =>
        Rule.Read(typed).Try(out var text, out var wrong) ? new BinCode(text.ToUpperInvariant()) : wrong;

    public override string ToString() => Text;
}
