namespace Zenrik.Core.People;

/// <summary>Somebody's name as shown beside what they did: "M. Tarn".</summary>
public sealed record PersonName
{
    public const int MaxLength = 60;

    private static readonly NameRule Rule = new("A person's name", 2, MaxLength, " -.'’", "M. Tarn");

    private PersonName(string text) => Text = text;

    public string Text { get; }

    public static Outcome<PersonName> Read(string? typed) =>
        Rule.Read(typed).Try(out var text, out var wrong) ? new PersonName(text) : wrong;

    public override string ToString() => Text;
}

/// <summary>What somebody signs in with, in small letters: "mara".</summary>
public sealed record SignInName
{
    public const int MaxLength = 32;

    private static readonly NameRule Rule = new("A name to sign in with", 2, MaxLength, "-._", "mara", Ascii: true);

    private SignInName(string text) => Text = text;

    public string Text { get; }

    public static Outcome<SignInName> Read(string? typed) =>
        Rule.Read(typed).Try(out var text, out var wrong) ? new SignInName(text.ToLowerInvariant()) : wrong;

    public override string ToString() => Text;
}
