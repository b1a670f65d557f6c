namespace Zenrik.Core.Fleet;

/// <summary>A place units belong to, as people call it: "Tidewell school".</summary>
public sealed record SiteName
{
    public const int MaxLength = 80;

    private static readonly NameRule Rule = new("A site's name", 2, MaxLength, " -.,'’&()/", "Tidewell school");

    private SiteName(string text) => Text = text;

    public string Text { get; }

    public static Outcome<SiteName> Read(string? typed) =>
        Rule.Read(typed).Try(out var text, out var wrong) ? new SiteName(text) : wrong;

    public override string ToString() => Text;
}
