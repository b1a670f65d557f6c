namespace Zenrik.Core;

/// <summary>What a kind of name may consist of. Each kind of name has a type of its own that is read by one of these.</summary>
/// <param name="What">"A unit's tag".</param>
/// <param name="Least">Characters at least.</param>
/// <param name="Most">Characters at most.</param>
/// <param name="Beside">Characters allowed besides letters and digits; never first or last.</param>
/// <param name="Example">One that would do.</param>
/// <param name="Ascii">True: no letters but A to Z, as on a label.</param>
internal sealed record NameRule(string What, int Least, int Most, string Beside, string Example, bool Ascii = false)
{
    /// <summary>The name without space around it, or why it is none.</summary>
    public Outcome<string> Read(string? typed)
    {
        var text = (typed ?? "").Trim();
        return
            text.Length >= Least
            && text.Length <= Most
            && text.All(c => Plain(c) || Beside.Contains(c, StringComparison.Ordinal))
            && Plain(text[0])
            && (Plain(text[^1]) || text[^1] is '.' or ')' && Beside.Contains(text[^1], StringComparison.Ordinal))
            ? text
            : Refuse();
    }

    private bool Plain(char c) =>
        Ascii
            ? char.IsAsciiLetterOrDigit(c)
            : char.IsLetterOrDigit(c)
                || char.GetUnicodeCategory(c)
                    is System.Globalization.UnicodeCategory.NonSpacingMark
                        or System.Globalization.UnicodeCategory.SpacingCombiningMark;

    private Refusal Refuse() =>
        new(
            RefusalReason.Invalid,
            $"{What} has {Least} to {Most} characters: letters, digits{(Beside.Length == 0 ? "" : $" and, between them, {string.Join(' ', Beside.Select(c => c == ' ' ? "spaces" : c.ToString()))}")}, like {Example}."
        );
}
