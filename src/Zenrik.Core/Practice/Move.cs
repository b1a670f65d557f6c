using System.Globalization;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.Practice;

/// <summary>
/// One thing a learner does, written as text: the act, and behind it what was said with it,
/// "undo:base-screws tool=T5 field=2 count=8". A decoy is worked at as "decoy:ID", and "finish" says that all is done.
/// </summary>
/// <param name="Act">Null for a decoy, and for the end.</param>
/// <param name="Decoy">The id of what looks like a screw and stays.</param>
/// <param name="Tool">What is in hand; null: not asked.</param>
/// <param name="Field">Where screws are laid, or taken from, from 1; null: not asked.</param>
/// <param name="Count">How many screws the learner counted; null: not asked.</param>
public sealed record Move(Act? Act, string? Decoy = null, Tool? Tool = null, int? Field = null, int? Count = null)
{
    /// <summary>Longest text of a move.</summary>
    public const int MaxLength = 200;

    /// <summary>Fields there are on the mat.</summary>
    public const int Fields = 30;

    /// <summary>Everything is closed and checked, says the learner.</summary>
    public static readonly Move Finish = new((Act?)null);

    public bool IsFinish => Act is null && Decoy is null;

    public override string ToString() =>
        string.Join(
            ' ',
            new[]
            {
                Act?.ToString() ?? (Decoy is null ? "finish" : $"decoy:{Decoy}"),
                Tool is { } tool ? $"tool={tool}" : null,
                Field is { } field ? string.Create(CultureInfo.InvariantCulture, $"field={field}") : null,
                Count is { } count ? string.Create(CultureInfo.InvariantCulture, $"count={count}") : null,
            }.OfType<string>()
        );

    /// <summary>Reads what <see cref="ToString"/> wrote; null when the text is no move.</summary>
    public static Move? Parse(string? text)
    {
        if (text is null || text.Length > MaxLength)
        {
            return null;
        }

        var words = text.Split(' ', StringSplitOptions.RemoveEmptyEntries);
        if (words.Length == 0)
        {
            return null;
        }

        var move =
            words[0] == "finish" ? Finish
            : words[0].StartsWith("decoy:", StringComparison.Ordinal) ? new Move(null, words[0][6..])
            : Teardown.Act.TryParse(words[0], out var act) ? new Move(act)
            : null;
        foreach (var word in words.Skip(1))
        {
            move = word.Split('=', 2) switch
            {
                ["tool", var name] when Enum.TryParse<Tool>(name, out var tool) && Enum.IsDefined(tool) => move is null
                    ? null
                    : move with
                    {
                        Tool = tool,
                    },
                ["field", var n] when Number(n) is >= 1 and <= Fields and var field => move is null
                    ? null
                    : move with
                    {
                        Field = field,
                    },
                ["count", var n] when Number(n) is >= 0 and <= 99 and var count => move is null
                    ? null
                    : move with
                    {
                        Count = count,
                    },
                _ => null,
            };
        }

        return move;

        static int Number(string digits) =>
            int.TryParse(digits, NumberStyles.None, CultureInfo.InvariantCulture, out var n) ? n : -1;
    }
}
