using System.Text.RegularExpressions;

namespace Zenrik.Core.Parts;

/// <summary>
/// What a scanner sends of a part's label where that is more than the number: a symbology identifier before it (ISO/IEC 15424:
/// <c>]</c> and two characters), or the whole label as one message, its fields parted by control characters and each begun by
/// what it is (ISO/IEC 15434, format 06, with the data identifiers of ANSI MH10.8.2: <c>1P</c> the supplier's number, <c>P</c>
/// the customer's, <c>S</c> a serial, <c>1T</c> a lot). From memory. Labels by GS1's application identifiers are not read.
/// </summary>
/// <param name="Number">Null: the label says none.</param>
/// <param name="Serial">Null: the label says none.</param>
/// <param name="Lot">Null: the label says none.</param>
public sealed partial record ScannedLabel(string? Number, string? Serial, string? Lot)
{
    /// <summary>Longer than any label's message.</summary>
    public const int MaxLength = 400;

    private const char Group = '\u001D';
    private const char Record = '\u001E';

    // How scanners that act as a keyboard write what no key writes.
    private static readonly (string Written, char Is)[] Written =
    [
        ("␝", Group),
        ("^]", Group),
        ("<GS>", Group),
        ("␞", Record),
        ("^^", Record),
        ("<RS>", Record),
        ("␄", Record),
        ("^D", Record),
        ("<EOT>", Record),
        ("\u0004", Record),
    ];

    /// <returns>Null where it is no whole label but a single field, or typed.</returns>
    public static Outcome<ScannedLabel?> Read(string scanned)
    {
        var text = Bare(scanned);
        if (!text.StartsWith("[)>", StringComparison.Ordinal))
        {
            return (ScannedLabel?)null;
        }

        if (text.Length > MaxLength)
        {
            return new Refusal(
                RefusalReason.Invalid,
                $"That is {text.Length} characters; a label's code has at most {MaxLength}. Scan it once more, alone."
            );
        }

        foreach (var (written, its) in Written)
        {
            text = text.Replace(written, $"{its}", StringComparison.OrdinalIgnoreCase);
        }

        var fields = text[3..]
            .Split(Record, StringSplitOptions.RemoveEmptyEntries)
            .Where(m => m.StartsWith($"06{Group}", StringComparison.Ordinal))
            .SelectMany(m => m.Split(Group).Skip(1))
            .Select(f => Field().Match(f.Trim()))
            .Where(f => f.Success)
            .DistinctBy(f => f.Groups["is"].Value)
            .ToDictionary(f => f.Groups["is"].Value, f => f.Groups["says"].Value);
        if (fields.Count == 0)
        {
            return new Refusal(
                RefusalReason.Invalid,
                "That is a label's whole code, and what parts its fields was lost between scanner and page. "
                    + "Scan the number's own bar code, type it, or set the scanner to send the group separator as ^]."
            );
        }

        string? Said(params string[] ids) => ids.Select(fields.GetValueOrDefault).FirstOrDefault(v => v is not null);
        return new ScannedLabel(Said("1P", "P"), Said("S"), Said("1T"));
    }

    /// <summary>Without the symbology identifier a scanner may be set to send before everything.</summary>
    public static string Bare(string scanned) => Symbology().Replace(scanned.Trim(), "").Trim();

    /// <summary>
    /// A bar code of a number alone may begin with its data identifier too. Whether it does nobody can tell from it: a number may
    /// begin with a P of its own.
    /// </summary>
    /// <returns>Null where it does not.</returns>
    public static string? WithoutIdentifier(string number) =>
        NumberField().Match(number) is { Success: true } match ? match.Groups["says"].Value : null;

    /// <summary>The same of a serial's own bar code: begun by an S, or by one of its own.</summary>
    /// <returns>Null where it does not.</returns>
    public static string? SerialWithoutIdentifier(string serial) =>
        serial is ['S' or 's', .. { Length: >= 3 } bare] ? bare : null;

    [GeneratedRegex(@"^\][A-Za-z][0-9A-Za-z](?=.)")]
    private static partial Regex Symbology();

    [GeneratedRegex(@"^(?<is>\d{0,3}[A-Z])(?<says>.+)$")]
    private static partial Regex Field();

    [GeneratedRegex(@"^1?P(?<says>\S.{2,})$", RegexOptions.IgnoreCase)]
    private static partial Regex NumberField();
}
