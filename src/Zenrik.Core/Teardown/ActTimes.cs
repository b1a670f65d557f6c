using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Teardown;

/// <summary>How long an act took in finished sessions of a model.</summary>
/// <param name="Sessions">In how many sessions it was done.</param>
/// <param name="MedianSeconds">The median, so that one long lunch does not count.</param>
public sealed record Observed(int Sessions, double MedianSeconds);

/// <summary>
/// Seconds of acts on one model: the standard time, drawn towards what finished sessions took the more there are of
/// them. With n sessions the observed median weighs n / (n + <see cref="Weight"/>).
/// </summary>
/// <remarks>A shrinkage estimator with a fixed prior weight; standard times are the prior.</remarks>
public sealed class ActTimes
{
    /// <summary>How many sessions a standard time is worth.</summary>
    public const double Weight = 6;

    private readonly IReadOnlyDictionary<Act, Observed> observed;

    public ActTimes(IReadOnlyDictionary<Act, Observed> observed) => this.observed = observed;

    /// <summary>Nothing has been observed: standard times alone.</summary>
    public static ActTimes Standard { get; } = new(new Dictionary<Act, Observed>());

    /// <summary>What is known of an act; null when it was never done.</summary>
    public Observed? Of(Act act) => observed.GetValueOrDefault(act);

    /// <summary>Seconds an act takes with its tool in hand.</summary>
    public double Seconds(ServiceMap map, Act act)
    {
        var standard = StandardTimes.Of(map, act);
        return observed.TryGetValue(act, out var seen)
            ? ((seen.Sessions * seen.MedianSeconds) + (Weight * standard)) / (seen.Sessions + Weight)
            : standard;
    }

    /// <summary>Medians by act.</summary>
    /// <param name="durations">Seconds each act took, one entry a time it was done.</param>
    public static ActTimes From(IEnumerable<(Act Act, double Seconds)> durations) =>
        new(
            durations
                .GroupBy(d => d.Act, d => d.Seconds)
                .ToDictionary(g => g.Key, g => new Observed(g.Count(), Median([.. g.Order()])))
        );

    private static double Median(double[] sorted) =>
        sorted.Length % 2 == 1
            ? sorted[sorted.Length / 2]
            : (sorted[(sorted.Length / 2) - 1] + sorted[sorted.Length / 2]) / 2;
}

/// <summary>What besides the map decides a plan.</summary>
/// <param name="Practice">The workshop's house rules.</param>
/// <param name="Times">How long acts take on this model.</param>
public sealed record Basis(HouseRules.HousePractice Practice, ActTimes Times)
{
    /// <summary>What this one unit is handled under; empty for most.</summary>
    public IReadOnlyList<ServiceMaps.Hazard> Hazards { get; init; } = [];

    public static Basis Default { get; } = new(HouseRules.HousePractice.Default, ActTimes.Standard);
}
