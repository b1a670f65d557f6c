namespace Zenrik.Core.MapMaking;

/// <summary>The name of a model or of its maker, as printed on the machine.</summary>
public static class ModelName
{
    /// <summary>Longest name, in characters.</summary>
    public const int MaxLength = 60;

    /// <summary>The name with single spaces.</summary>
    /// <param name="typed">What was typed.</param>
    /// <param name="what">What it names, at the beginning of a sentence: "The maker".</param>
    public static Outcome<string> Read(string? typed, string what)
    {
        var text = string.Join(' ', (typed ?? "").Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));
        return text.Length is < 1 or > MaxLength || text.Any(char.IsControl) || !text.Any(char.IsLetterOrDigit)
            ? new Refusal(
                RefusalReason.Invalid,
                $"{what} has 1 to {MaxLength} characters with a letter or a digit among them, as printed on the machine."
            )
            : text;
    }
}

/// <summary>The code of a model in addresses and files: lower case words joined by hyphens.</summary>
public static class ModelCode
{
    /// <summary>Longest code, in characters.</summary>
    public const int MaxLength = 40;

    /// <summary>A code made of a name, told apart from those that are taken.</summary>
    public static string For(string name, IReadOnlyCollection<string> taken)
    {
        var words = BenchLedger.FreeMap.Words(name);
        var code = words.Length == 0 ? "model" : words;
        // Two words are pages of the room.
        for (var n = 2; taken.Contains(code) || code is "new" or "import"; n++)
        {
            code = $"{words[..Math.Min(words.Length, MaxLength - 5)].TrimEnd('-')}-{n}";
        }

        return code;
    }
}
