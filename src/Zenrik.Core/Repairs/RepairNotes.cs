namespace Zenrik.Core.Repairs;

/// <summary>What is added to a repair beside its acts.</summary>
public enum RepairNoteKind
{
    /// <summary>Something worth knowing: the user telephoned, the cable stays here.</summary>
    Said,

    /// <summary>What the record of an ended repair has wrong, and what is right.</summary>
    Corrected,

    /// <summary>The user was told that it can be fetched.</summary>
    Told,

    /// <summary>It was fetched, or brought back; the text says by whom.</summary>
    Collected,

    /// <summary>It had ended and was taken up again; the text says why.</summary>
    Reopened,
}

/// <summary>What may be added to a repair when.</summary>
public static class RepairNotes
{
    public const int MaxText = 400;

    /// <summary>The text as it is kept, or why it may not be added now.</summary>
    /// <param name="code">Names the repair in the sentence.</param>
    /// <param name="kind">What is added.</param>
    /// <param name="state">Where the repair stands.</param>
    /// <param name="had">What was added before, since it was last taken up.</param>
    /// <param name="typed">What was typed; to whom, for what was fetched.</param>
    public static Outcome<string> Read(
        string code,
        RepairNoteKind kind,
        RepairState state,
        IReadOnlyCollection<RepairNoteKind> had,
        string? typed
    )
    {
        var text = typed?.ReplaceLineEndings(" ").Trim() ?? "";
        if (text.Length > MaxText || text.Any(char.IsControl))
        {
            return Invalid($"At most {MaxText} characters of plain text; this has {text.Length}.");
        }

        return (kind, state) switch
        {
            (RepairNoteKind.Said, _) when text.Length < 3 => Invalid(
                "Say what is worth knowing, in 3 characters or more."
            ),
            (RepairNoteKind.Corrected, not (RepairState.Closed or RepairState.Withdrawn)) => Conflict(
                $"{code} is still underway: correct the thing itself."
            ),
            (RepairNoteKind.Corrected, _) when text.Length < 3 => Invalid(
                "Say what the record has wrong and what is right, in 3 characters or more."
            ),
            (RepairNoteKind.Told or RepairNoteKind.Collected, not RepairState.Closed) => Conflict(
                $"{code} is not finished, so there is nothing to fetch yet."
            ),
            (RepairNoteKind.Told, _) when had.Contains(RepairNoteKind.Collected) => Conflict(
                $"{code} has been fetched already."
            ),
            (RepairNoteKind.Collected, _) when had.Contains(RepairNoteKind.Collected) => Conflict(
                $"{code} has been fetched already."
            ),
            (RepairNoteKind.Collected, _) when text.Length < 2 => Invalid("Say who fetched it."),
            (RepairNoteKind.Reopened, _) when text.Length < 3 => Invalid(
                "Say why it is taken up again, in 3 characters or more."
            ),
            _ => text,
        };
    }

    private static Refusal Invalid(string message) => new(RefusalReason.Invalid, message);

    private static Refusal Conflict(string message) => new(RefusalReason.Conflict, message);
}
