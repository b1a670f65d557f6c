namespace Zenrik.Core.Parts;

/// <summary>
/// A number as printed on a part. The exact text is kept; two numbers are compared in a canonical form that ignores
/// case, blanks and the punctuation people drop when they type.
/// </summary>
public readonly record struct PartNumber
{
    /// <summary>The longest number kept; longer ones are scanner noise or a pasted page.</summary>
    public const int MaxLength = 64;

    private PartNumber(string text) => Text = text;

    /// <summary>Exactly what is printed, outer blanks removed.</summary>
    public string Text { get; }

    /// <summary>Upper case letters and digits only.</summary>
    public string Canonical => Canonicalise(Text);

    /// <summary>Reads a number as typed or scanned, also out of a whole label (<see cref="ScannedLabel"/>).</summary>
    public static Outcome<PartNumber> Read(string? typed)
    {
        if (!ScannedLabel.Read(typed ?? "").Try(out var label, out var lost))
        {
            return lost;
        }

        if (label is { Number: null })
        {
            return new Refusal(
                RefusalReason.Invalid,
                "That label says no part number. Scan the number's own code, or type it."
            );
        }

        var text = ScannedLabel.Bare(label?.Number ?? typed ?? "");
        if (text.Length == 0)
        {
            return new Refusal(RefusalReason.Invalid, "No number was given. Type or scan what is printed on the part.");
        }

        if (text.Length > MaxLength)
        {
            return new Refusal(
                RefusalReason.Invalid,
                $"That is {text.Length} characters; part numbers have at most {MaxLength}. Scan the label once more."
            );
        }

        if (text.Any(char.IsControl))
        {
            return new Refusal(
                RefusalReason.Invalid,
                "That contains characters no label carries. Scan the label once more, or type the number."
            );
        }

        return Canonicalise(text).Length == 0
            ? new Refusal(RefusalReason.Invalid, "A part number has letters or digits in it.")
            : new PartNumber(text);
    }

    /// <summary>
    /// Canonical forms of what it may be: itself, and without the data identifier a bar code may begin with
    /// (<see cref="ScannedLabel.WithoutIdentifier"/>).
    /// </summary>
    public IReadOnlyList<string> Readings =>
        ScannedLabel.WithoutIdentifier(Text) is { } bare ? [Canonical, Canonicalise(bare)] : [Canonical];

    /// <summary>What it is, of <see cref="Readings"/>: the first that is known; itself where none is.</summary>
    /// <param name="known">Whether a canonical form is known.</param>
    public PartNumber AsKnown(Func<string, bool> known) =>
        Readings is [var whole, var bare] && !known(whole) && known(bare)
            ? new PartNumber(ScannedLabel.WithoutIdentifier(Text)!)
            : this;

    /// <summary>How a number as read stands to the number expected.</summary>
    /// <param name="expected">The number it is held against.</param>
    /// <param name="real">Canonical forms of numbers known to exist: two real numbers are different, however alike.</param>
    public Likeness Compare(PartNumber expected, IReadOnlySet<string>? real = null)
    {
        var (a, b) = (Canonical, expected.Canonical);
        return a == b ? Likeness.Same
            : real?.Contains(a) == true && real.Contains(b) ? Likeness.Different
            : Confusables.Fold(a) == Confusables.Fold(b) ? Likeness.SameButForLookAlikes
            : Confusables.Distance(a, b) <= 1 ? Likeness.Near
            : Likeness.Different;
    }

    /// <summary>Upper case letters and digits of a text; what is left when two spellings of a code are compared.</summary>
    public static string Canonicalise(string text) =>
        string.Concat(text.Where(char.IsLetterOrDigit).Select(char.ToUpperInvariant));

    public override string ToString() => Text;
}

public enum Likeness
{
    Same,

    /// <summary>Differs only in characters that are taken for each other: O and 0, I and 1.</summary>
    SameButForLookAlikes,

    /// <summary>One slip away.</summary>
    Near,
    Different,
}
