namespace Zenrik.Core.Fleet;

/// <summary>Where a unit stands in its life with the house.</summary>
public enum UnitState
{
    /// <summary>With its user, or in the loan pool and ready to go out.</summary>
    InUse,

    /// <summary>Handed in; what is wrong is being found, or the part is waited for.</summary>
    AtCounter,

    /// <summary>Open on the bench.</summary>
    OnBench,

    /// <summary>Lent to somebody for a while.</summary>
    Loaned,

    /// <summary>Out of use, kept for its parts.</summary>
    Donor,

    /// <summary>Out of use and out of the house, or about to be. Final.</summary>
    Retired,

    /// <summary>Lost or stolen: nobody knows where it is. It may turn up again.</summary>
    Lost,
}

/// <summary>Which steps from one state to another a unit can take.</summary>
public static class UnitLife
{
    private static readonly Dictionary<UnitState, UnitState[]> Steps = new()
    {
        [UnitState.InUse] = [UnitState.AtCounter, UnitState.Loaned, UnitState.Donor, UnitState.Retired, UnitState.Lost],
        [UnitState.AtCounter] = [UnitState.InUse, UnitState.OnBench, UnitState.Donor, UnitState.Retired],
        // From the bench only by way of the counter or back to its user: an open machine is not given away.
        [UnitState.OnBench] = [UnitState.AtCounter, UnitState.InUse],
        [UnitState.Loaned] = [UnitState.InUse, UnitState.AtCounter, UnitState.Lost],
        [UnitState.Donor] = [UnitState.InUse, UnitState.Retired, UnitState.Lost],
        [UnitState.Retired] = [],
        // Found again it serves again, or is handed in to be looked at; given up for good it is retired.
        [UnitState.Lost] = [UnitState.InUse, UnitState.AtCounter, UnitState.Retired],
    };

    /// <summary>States a unit can go to next; empty at the end.</summary>
    public static IReadOnlyList<UnitState> Next(UnitState from) => Steps[from];

    /// <summary>Whether a unit can go from one state to another. Staying where it is is no step and is allowed.</summary>
    /// <param name="tag">Names the unit in the sentence.</param>
    /// <returns>Null when it can.</returns>
    public static Refusal? May(string tag, UnitState from, UnitState to) =>
        from == to || Steps[from].Contains(to)
            ? null
            : new Refusal(RefusalReason.Conflict, $"{tag} is {Name(from)}; from there it does not become {Name(to)}.");

    /// <summary>
    /// Whether a donor can serve again: only whole, with everything that was taken out of it back in its slot, and never one
    /// that must not get power: nobody cleans and dries a donor.
    /// </summary>
    /// <param name="stillOut">Names of what was taken out of it and not put back.</param>
    /// <param name="withoutPower">Code of the repair in which it was given up while it must not get power; null: it was not.</param>
    /// <returns>Null when it can.</returns>
    public static Refusal? MayServeAgain(
        string tag,
        IReadOnlyCollection<string> stillOut,
        string? withoutPower = null
    ) =>
        withoutPower is not null
            ? new Refusal(
                RefusalReason.Conflict,
                $"{tag} was given up in {withoutPower} while it must not get power, and nobody has cleaned and dried it since. It stays a donor, or it is retired."
            )
        : stillOut.Count == 0 ? null
        : new Refusal(
            RefusalReason.Conflict,
            $"{tag} lacks what was taken out of it: {string.Join(", ", stillOut)}. Take those movements back on the items\u2019 pages first, or retire it."
        );

    /// <summary>True while the unit serves somebody or is to serve again.</summary>
    public static bool Serves(UnitState state) => !OutOfUse.Contains(state);

    /// <summary>States of a unit that serves nobody any more.</summary>
    public static IReadOnlyList<UnitState> OutOfUse { get; } = [UnitState.Donor, UnitState.Retired, UnitState.Lost];

    /// <summary>"at the counter": the state within a sentence.</summary>
    public static string Name(UnitState state) =>
        state switch
        {
            UnitState.InUse => "in use",
            UnitState.AtCounter => "at the counter",
            UnitState.OnBench => "on the bench",
            UnitState.Loaned => "on loan",
            UnitState.Donor => "a donor",
            UnitState.Lost => "lost",
            _ => "retired",
        };
}
