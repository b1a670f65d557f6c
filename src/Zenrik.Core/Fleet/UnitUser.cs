namespace Zenrik.Core.Fleet;

/// <summary>Who uses a unit, as they are known here: "P. Quill, year 8".</summary>
public sealed record UnitUser
{
    public const int MaxLength = 80;

    private static readonly NameRule Rule = new("A user's name", 1, MaxLength, " -.,'’&()/@_+#", "P. Quill, year 8");

    private UnitUser(string text) => Text = text;

    public string Text { get; }

    public static Outcome<UnitUser> Read(string? typed) =>
        Rule.Read(typed).Try(out var text, out var wrong) ? new UnitUser(text) : wrong;

    public override string ToString() => Text;
}
