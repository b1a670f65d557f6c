namespace Zenrik.Core.Fleet;

/// <summary>What an organisation's tags look like: # a digit, @ a letter, anything else itself. "SK-#####".</summary>
public sealed record TagPattern
{
    private TagPattern(string text) => Text = text;

    public string Text { get; }

    /// <summary>A tag that would do.</summary>
    public string Example
    {
        get
        {
            var digit = 0;
            return string.Concat(
                Text.Select(c =>
                    c switch
                    {
                        '#' => (char)('0' + (digit++ % 10)),
                        '@' => 'A',
                        _ => c,
                    }
                )
            );
        }
    }

    public static Outcome<TagPattern> Read(string? typed)
    {
        var text = LabelCode.Of(typed);
        if (!text.Contains('#', StringComparison.Ordinal) && !text.Contains('@', StringComparison.Ordinal))
        {
            return Refuse();
        }

        var pattern = new TagPattern(text);
        return UnitTag.Read(pattern.Example).Refusal is null ? pattern : Refuse();

        static Refusal Refuse() =>
            new(
                RefusalReason.Invalid,
                $"A pattern of tags has 2 to {UnitTag.MaxLength} characters: # for a digit, @ for a letter, all else as it is printed. SK-##### stands for SK-00417."
            );
    }

    public bool Fits(UnitTag tag) =>
        tag.Text.Length == Text.Length
        && Text.Zip(tag.Text)
            .All(p =>
                p.First switch
                {
                    '#' => char.IsAsciiDigit(p.Second),
                    '@' => char.IsAsciiLetterUpper(p.Second),
                    var c => c == p.Second,
                }
            );

    /// <summary>Says that a tag is not of this house; null when it is.</summary>
    public Refusal? Strange(UnitTag tag) =>
        Fits(tag)
            ? null
            : new Refusal(
                RefusalReason.Invalid,
                $"{tag} is no tag of this house: they look like {Example}. Another label was scanned, or the pattern in House wants changing."
            );

    public override string ToString() => Text;
}
