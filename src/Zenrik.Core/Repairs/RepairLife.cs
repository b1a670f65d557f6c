namespace Zenrik.Core.Repairs;

/// <summary>Where a repair stands.</summary>
public enum RepairState
{
    /// <summary>Taken in; what is wrong and what to fit is being found.</summary>
    Open,

    /// <summary>The machine is being taken apart or put together.</summary>
    OnBench,

    /// <summary>Ended, one of the <see cref="RepairEnd"/>s. Final.</summary>
    Closed,

    /// <summary>Dangerous: set apart, nothing is tested, charged or opened until somebody says it is safe.</summary>
    Stopped,

    /// <summary>Given up before the bench; nothing was opened. Final.</summary>
    Withdrawn,
}

/// <summary>How a closed repair ended.</summary>
public enum RepairEnd
{
    /// <summary>An assembly was exchanged at the bench.</summary>
    Exchanged,

    /// <summary>A remedy without a part cured it.</summary>
    Cured,
    NoFaultFound,

    /// <summary>The cause was somebody else's: the site's network.</summary>
    Elsewhere,
    SentAway,
    Retired,

    /// <summary>Cleaned, or looked through and in order: nothing had to be exchanged.</summary>
    Serviced,
}

/// <summary>Which steps a repair can take, and how it can end from where.</summary>
public static class RepairLife
{
    private static readonly Dictionary<RepairState, RepairState[]> Steps = new()
    {
        [RepairState.Open] = [RepairState.OnBench, RepairState.Stopped, RepairState.Closed, RepairState.Withdrawn],
        // An open machine is put back together before its repair is given up.
        [RepairState.OnBench] = [RepairState.Stopped, RepairState.Closed],
        // Not withdrawn: its user would get back what is dangerous. First somebody says that it is safe.
        [RepairState.Stopped] = [RepairState.Open, RepairState.OnBench, RepairState.Closed],
        [RepairState.Closed] = [],
        [RepairState.Withdrawn] = [],
    };

    private static readonly Dictionary<RepairEnd, RepairState[]> EndsFrom = new()
    {
        [RepairEnd.Exchanged] = [RepairState.OnBench],
        [RepairEnd.Cured] = [RepairState.Open],
        [RepairEnd.NoFaultFound] = [RepairState.Open],
        [RepairEnd.Elsewhere] = [RepairState.Open],
        [RepairEnd.SentAway] = [RepairState.Open],
        [RepairEnd.Retired] = [RepairState.Open, RepairState.Stopped],
        [RepairEnd.Serviced] = [RepairState.Open, RepairState.OnBench],
    };

    /// <summary>The states of a repair whose unit is in the workshop for it: all that are not final.</summary>
    public static IReadOnlyList<RepairState> Underway { get; } =
    [.. Enum.GetValues<RepairState>().Where(s => Steps[s].Length > 0)];

    /// <summary>States a repair can go to next; empty at the end.</summary>
    public static IReadOnlyList<RepairState> Next(RepairState from) => Steps[from];

    /// <summary>Whether a repair can go from one state to another without ending.</summary>
    /// <param name="code">Names the repair in the sentence.</param>
    /// <param name="from">Where it stands.</param>
    /// <param name="to">Where it is to go; closed it is by an end.</param>
    /// <returns>Null when it can.</returns>
    public static Refusal? May(string code, RepairState from, RepairState to) =>
        to != RepairState.Closed && Steps[from].Contains(to) ? null : Never(code, from, Name(to));

    /// <summary>Whether a repair can end so from where it stands.</summary>
    /// <param name="code">Names the repair in the sentence.</param>
    /// <param name="from">Where it stands.</param>
    /// <param name="end">How it is to end.</param>
    /// <returns>Null when it can.</returns>
    public static Refusal? MayEnd(string code, RepairState from, RepairEnd end) =>
        EndsFrom[end].Contains(from) ? null : Never(code, from, $"closed as “{Name(end)}”");

    /// <summary>Whether a unit may be kept for its parts: a donor is opened by whoever wants one of them.</summary>
    /// <param name="code">Names the repair in the sentence.</param>
    /// <param name="state">Where the repair stands in which it is given up.</param>
    /// <returns>Null when it may.</returns>
    public static Refusal? MayBecomeDonor(string code, RepairState state) =>
        state == RepairState.Stopped
            ? new Refusal(
                RefusalReason.Conflict,
                $"{code} is set apart as dangerous, and a donor is opened. First a lead says what made it safe; or it is retired whole."
            )
            : null;

    /// <summary>Whether an ended repair may be taken up again where it ended.</summary>
    /// <param name="code">Names the repair in the sentence.</param>
    /// <param name="state">Where it stands.</param>
    /// <param name="end">How it ended; null when it was withdrawn.</param>
    /// <param name="opened">Whether the machine was opened for it.</param>
    /// <returns>Null when it may.</returns>
    public static Refusal? MayReopen(string code, RepairState state, RepairEnd? end, bool opened) =>
        state is not (RepairState.Closed or RepairState.Withdrawn)
            ? new Refusal(RefusalReason.Conflict, $"{code} has not ended; go on with it.")
        : end == RepairEnd.Retired
            ? new Refusal(
                RefusalReason.Conflict,
                $"The unit of {code} was retired with it and is not repaired any more."
            )
        : opened || end == RepairEnd.Exchanged
            ? new Refusal(
                RefusalReason.Conflict,
                $"What was done at the bench for {code} stays as it was recorded. Take the unit in again; the new repair names this one."
            )
        : null;

    /// <summary>Where a repair that was set apart goes on once it is safe.</summary>
    /// <param name="wasOpened">Whether a bench session stands.</param>
    public static RepairState Released(bool wasOpened) => wasOpened ? RepairState.OnBench : RepairState.Open;

    private static Refusal Never(string code, RepairState from, string to) =>
        new(RefusalReason.Conflict, $"{code} is {Name(from)}; from there it does not become {to}.");

    /// <summary>"on the bench": the state within a sentence, on every page and in every answer.</summary>
    public static string Name(RepairState state) =>
        state switch
        {
            RepairState.Open => "open",
            RepairState.OnBench => "on the bench",
            RepairState.Closed => "closed",
            RepairState.Stopped => "set apart as dangerous",
            RepairState.Withdrawn => "withdrawn",
            _ => throw new ArgumentOutOfRangeException(nameof(state)),
        };

    /// <summary>"no fault found": how it ended, everywhere but in the letter to its user.</summary>
    public static string Name(RepairEnd end) =>
        end switch
        {
            RepairEnd.Exchanged => "exchanged",
            RepairEnd.Cured => "cured without a part",
            RepairEnd.NoFaultFound => "no fault found",
            RepairEnd.Elsewhere => "the cause lies elsewhere",
            RepairEnd.SentAway => "sent away",
            RepairEnd.Retired => "retired",
            RepairEnd.Serviced => "serviced, nothing exchanged",
            _ => throw new ArgumentOutOfRangeException(nameof(end)),
        };
}
