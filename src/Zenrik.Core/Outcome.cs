using System.Diagnostics.CodeAnalysis;

namespace Zenrik.Core;

/// <summary>Why something was not done, in a sentence fit to be shown to the person who asked for it.</summary>
/// <param name="Reason">The class of refusal, for callers that act on it (an HTTP status, a retry).</param>
/// <param name="Message">What happened, what was kept, what to do. Plain text.</param>
public sealed record Refusal(RefusalReason Reason, string Message);

/// <summary>The classes of refusal.</summary>
public enum RefusalReason
{
    /// <summary>The input itself is unusable: empty, too long, out of range.</summary>
    Invalid,

    /// <summary>What was named does not exist.</summary>
    NotFound,

    /// <summary>The input is good but the present state does not allow it: out of order, taken, already closed.</summary>
    Conflict,

    /// <summary>The sender acted on a view that has since changed.</summary>
    Stale,

    /// <summary>Possible, but only after the person has confirmed what the message says.</summary>
    NeedsConfirmation,
}

/// <summary>A value, or the reason there is none. Rules that people run into return this; bugs throw.</summary>
public readonly struct Outcome<T>
{
    private readonly T? value;

    private Outcome(T? value, Refusal? refusal) => (this.value, Refusal) = (value, refusal);

    /// <summary>The reason there is no value, or null.</summary>
    public Refusal? Refusal { get; }

    /// <summary>The value.</summary>
    /// <exception cref="InvalidOperationException">There is none; the refusal's message is in the exception.</exception>
    public T Value => Refusal is null ? value! : throw new InvalidOperationException(Refusal.Message);

    /// <summary>True and the value, or false and the refusal.</summary>
    public bool Try([MaybeNullWhen(false)] out T got, [NotNullWhen(false)] out Refusal? why)
    {
        got = value;
        why = Refusal;
        return why is null;
    }

    public static implicit operator Outcome<T>(T value) => new(value, null);

    public static implicit operator Outcome<T>(Refusal refusal) => new(default, refusal);
}
