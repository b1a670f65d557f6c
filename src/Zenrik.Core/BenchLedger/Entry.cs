using Zenrik.Core.Teardown;

namespace Zenrik.Core.BenchLedger;

/// <summary>
/// One line of a bench session's ledger. Lines are only ever added; taking one back is a line of its own.
/// </summary>
public abstract record Entry
{
    private Entry() { }

    /// <summary>So many screws of the current group are out (or back in) by now.</summary>
    public sealed record Counted(int Step, int Count) : Entry;

    /// <summary>The current act is done, or so many from it on in one go.</summary>
    /// <param name="Step">The plan step's number, so that an act for another moment is recognised.</param>
    /// <param name="CautionRead">The technician confirmed having read a severe caution.</param>
    /// <param name="Acts">How many acts; from 1 to <see cref="InOneGo.Most"/>.</param>
    public sealed record Done(int Step, bool CautionRead = false, int Acts = 1) : Entry;

    /// <summary>The current act is done with a count that differs from the map, and this is why.</summary>
    public sealed record CountDiffers(int Step, int Count, Difference Why, string? Note) : Entry;

    /// <summary>The number the current act asks for, as printed.</summary>
    /// <param name="Confirmed">The technician looked again after being told that it differs.</param>
    /// <param name="Why">What explains the difference, once confirmed.</param>
    /// <param name="Item">The item in the hand, by the code on its own label; null where only a number was read.</param>
    public sealed record NumberRead(
        int Step,
        string Number,
        bool Confirmed,
        NumberDifference? Why = null,
        string? Item = null
    ) : Entry;

    /// <summary>The current act is not done, or not as it should be, and this is why; the session moves on.</summary>
    public sealed record Left(int Step, Leaving How, string Reason) : Entry;

    /// <summary>Something the new assembly does not bring is on it now.</summary>
    /// <param name="Item">One of <see cref="Ledger.ToMove"/>.</param>
    public sealed record Moved(int Step, string Item) : Entry;

    /// <summary>
    /// What remains is planned anew, from the state of this moment. The acts are part of the line, so that it means the
    /// same whatever planner reads it later.
    /// </summary>
    /// <param name="Goal">A goal that joins the job; null when only the order changes.</param>
    /// <param name="Reason">Why, in a few words.</param>
    /// <param name="Rest">Every act that remains.</param>
    /// <param name="Correction">By what the map is otherwise from here on; null: it stays.</param>
    public sealed record Replanned(
        int Step,
        Goal? Goal,
        string Reason,
        IReadOnlyList<Act> Rest,
        MapCorrection? Correction = null
    ) : Entry;

    /// <summary>A remark at the current act; does not move on.</summary>
    public sealed record Noted(int Step, string Text) : Entry;

    /// <summary>Something came off a machine without a map, and this is its name.</summary>
    public sealed record Named(int Step, NamedThing Thing) : Entry;

    /// <summary>Takes back the last line still standing.</summary>
    public sealed record TakenBack : Entry;
}

/// <summary>How an act is left.</summary>
public enum Leaving
{
    /// <summary>There is nothing to do here, or it does not apply to this unit.</summary>
    NotNeeded,

    /// <summary>It was so already: the tape had come off by itself.</summary>
    AlreadySo,

    /// <summary>Left for another day, or done in a way that has to be put right: old paste used again.</summary>
    StopGap,
}

/// <summary>Why a number read is not the number expected.</summary>
public enum NumberDifference
{
    /// <summary>Another revision of the same part.</summary>
    OtherRevision,

    /// <summary>A number known to replace it.</summary>
    Substitute,

    /// <summary>The book has it wrong: it was misread when it was recorded.</summary>
    MisreadBefore,

    /// <summary>Nobody knows why.</summary>
    Surprise,
}

/// <summary>Why a count of screws differs.</summary>
public enum Difference
{
    /// <summary>A screw was there and cannot be found.</summary>
    Lost,

    /// <summary>One more than known was found, or a spare was used.</summary>
    Extra,

    /// <summary>The map states the wrong count.</summary>
    MapWrong,

    /// <summary>It was missing before work began.</summary>
    MissingBefore,
}

public static class Differences
{
    /// <summary>As a technician says it.</summary>
    public static string Said(this NumberDifference why) =>
        why switch
        {
            NumberDifference.OtherRevision => "another revision",
            NumberDifference.Substitute => "a known substitute",
            NumberDifference.MisreadBefore => "misread when it was recorded",
            NumberDifference.Surprise => "a surprise",
            _ => throw new ArgumentOutOfRangeException(nameof(why)),
        };

    /// <summary>As a technician says it.</summary>
    public static string Said(this Leaving how) =>
        how switch
        {
            Leaving.NotNeeded => "not needed",
            Leaving.AlreadySo => "was so already",
            Leaving.StopGap => "left for now",
            _ => throw new ArgumentOutOfRangeException(nameof(how)),
        };

    /// <summary>As a technician says it.</summary>
    public static string Said(this Difference why) =>
        why switch
        {
            Difference.Lost => "lost",
            Difference.Extra => "extra found",
            Difference.MapWrong => "the map is wrong",
            Difference.MissingBefore => "missing before",
            _ => throw new ArgumentOutOfRangeException(nameof(why)),
        };
}
