namespace Zenrik.Core.Repairs;

/// <summary>Why a part is exchanged, in words of one's own: "hinge cracked".</summary>
public static class FaultText
{
    /// <summary>Fewest characters, spaces around them left out.</summary>
    public const int Shortest = 3;

    public const int Longest = 80;

    /// <summary>Why a text says nothing of use; null when it does.</summary>
    public static Refusal? Check(string? said) =>
        said?.Trim().Length is >= Shortest and <= Longest
            ? null
            : new Refusal(
                RefusalReason.Invalid,
                $"Say what is wrong with it, or why it is exchanged, in {Shortest} to {Longest} characters."
            );
}
