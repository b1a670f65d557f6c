namespace Zenrik.Core.BenchLedger;

/// <summary>
/// One line of a bench session's ledger. Lines are only ever added; taking one back is a line of its own.
/// </summary>
public abstract record Entry
{
    private Entry() { }

    /// <summary>So many screws of the current group are out (or back in) by now.</summary>
    public sealed record Counted(int Step, int Count) : Entry;

    /// <summary>The current act is done.</summary>
    /// <param name="Step">The plan step's number, so that an act for another moment is recognised.</param>
    /// <param name="CautionRead">The technician confirmed having read a severe caution.</param>
    public sealed record Done(int Step, bool CautionRead = false) : Entry;

    /// <summary>The current act is done with a count that differs from the map, and this is why.</summary>
    public sealed record CountDiffers(int Step, int Count, Difference Why, string? Note) : Entry;

    /// <summary>The number the current act asks for, as printed.</summary>
    /// <param name="Confirmed">The technician looked again after being told that it differs.</param>
    public sealed record NumberRead(int Step, string Number, bool Confirmed) : Entry;

    /// <summary>A remark at the current act; does not move on.</summary>
    public sealed record Noted(int Step, string Text) : Entry;

    /// <summary>Takes back the last line still standing.</summary>
    public sealed record TakenBack : Entry;
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
