namespace Zenrik.Core.Reliability;

/// <summary>By what parts of a kind are told apart.</summary>
public enum WatchBy
{
    /// <summary>The maker's lot on the label.</summary>
    Lot,
    Number,
    Site,

    /// <summary>Who sold it, in which grade.</summary>
    Supplier,
}

/// <summary>A part's life with what it can be told apart by; null where that is not known.</summary>
/// <param name="Supplier">With the grade that was ordered.</param>
public sealed record WatchedLife(
    Lifetime Life,
    string Model,
    string Slot,
    string? Lot,
    string? Number,
    string? Site,
    string? Supplier = null
)
{
    public string? By(WatchBy by) =>
        by switch
        {
            WatchBy.Lot => Lot,
            WatchBy.Number => Number,
            WatchBy.Site => Site,
            WatchBy.Supplier => Supplier,
            _ => throw new ArgumentOutOfRangeException(nameof(by)),
        };
}

/// <summary>Parts that live significantly shorter than their peers in the same slot of the same model.</summary>
/// <param name="Value">The lot, number or site, or the supplier with the grade.</param>
/// <param name="Parts">How many there were, those in service among them.</param>
/// <param name="InService">How many still serve.</param>
/// <param name="Test">Against their peers.</param>
/// <param name="Rate">Failures a year against those of their peers.</param>
/// <param name="Since">The day it could first have been seen.</param>
/// <param name="Suspected">True for a lot that may well be chance: worth a look, not more.</param>
public sealed record WatchFinding(
    WatchBy By,
    string Model,
    string Slot,
    string Value,
    int Parts,
    int InService,
    LogRank Test,
    RateComparison Rate,
    DateOnly Since,
    bool Suspected
);

/// <summary>The parts of one slot of one model, and how each group of them fares against the rest.</summary>
public sealed class WatchedKind
{
    private WatchedKind(IReadOnlyCollection<WatchedLife> lives, IReadOnlyList<(WatchBy, string, LogRank)> groups) =>
        (Lives, Groups) = (lives, groups);

    /// <summary>All of one model and slot.</summary>
    internal IReadOnlyCollection<WatchedLife> Lives { get; }

    /// <summary>Those large enough to ask about, against all others.</summary>
    internal IReadOnlyList<(WatchBy By, string Value, LogRank Test)> Groups { get; }

    internal string Model => Lives.First().Model;

    internal string Slot => Lives.First().Slot;

    /// <param name="lives">At least one; all of one model and slot.</param>
    public static WatchedKind Of(IReadOnlyCollection<WatchedLife> lives)
    {
        var all = RiskTable.Of([.. lives.Select(l => l.Life)]);
        var groups = new List<(WatchBy, string, LogRank)>();
        foreach (var by in Enum.GetValues<WatchBy>())
        {
            foreach (var group in lives.Where(l => l.By(by) is not null).GroupBy(l => l.By(by)!))
            {
                List<Lifetime> own = [.. group.Select(l => l.Life)];
                if (own.Count >= Watch.FewestPeers && lives.Count - own.Count >= Watch.FewestPeers)
                {
                    groups.Add((by, group.Key, all.Compare(own)));
                }
            }
        }

        return new WatchedKind(lives, groups);
    }
}

/// <summary>Looks for what is worse than its peers, so that a bad lot is found and noise is not.</summary>
public static class Watch
{
    /// <summary>Fewer failures are no pattern whatever their chance. Common practice, no published source.</summary>
    public const int FewestFailures = 3;

    /// <summary>Fewer peers are nothing to compare with.</summary>
    public const int FewestPeers = 5;

    /// <summary>What is worse than its peers, whatever its slot and model.</summary>
    public static IReadOnlyList<WatchFinding> Find(IEnumerable<WatchedLife> lives) =>
        Find(lives.GroupBy(l => (l.Model, l.Slot)).Select(g => WatchedKind.Of([.. g])));

    /// <summary>
    /// Every group of at least five against the rest of its slot and model, the share of false findings held over all of
    /// them (<see cref="FalseDiscovery"/>); then the worst first, each asked again without what those before explain.
    /// </summary>
    /// <returns>What is worse, the worst first, what is only suspected among them.</returns>
    public static IReadOnlyList<WatchFinding> Find(IEnumerable<WatchedKind> kinds)
    {
        var asked = kinds.SelectMany(k => k.Groups.Select(g => (Kind: k, g.By, g.Value, g.Test))).ToList();
        var believed = Bounds(FalseOf);
        var lots = asked.Where(a => a.By == WatchBy.Lot).ToList();
        var byChance = lots.Count == 0 ? 0 : SuspectedByChance * lots.DistinctBy(l => l.Kind).Count() / lots.Count;

        var found = new List<WatchFinding>();
        var explained = new HashSet<WatchedLife>(ReferenceEqualityComparer.Instance);
        foreach (
            var (kind, by, value, _) in asked
                .Where(a => IsBelieved(a.By, a.Test) || IsSuspected(a.By, a.Test))
                .OrderBy(a => a.Test.Worse)
                .ThenBy(a => (a.By, a.Kind.Model, a.Kind.Slot, a.Value))
        )
        {
            // A school that got the bad lot is not bad itself: what a worse group explains is asked without it.
            var left = kind.Lives.Where(l => !explained.Contains(l)).ToLookup(l => l.By(by) == value);
            List<Lifetime> own = [.. left[true].Select(l => l.Life)];
            List<Lifetime> others = [.. left[false].Select(l => l.Life)];
            var test = LogRank.Of(own, others);
            if (
                own.Count < FewestPeers
                || others.Count < FewestPeers
                || test.Failed < FewestFailures
                || !(IsBelieved(by, test) || IsSuspected(by, test))
            )
            {
                continue;
            }

            // What may be chance explains nothing else.
            var surely = IsBelieved(by, test);
            if (surely)
            {
                explained.UnionWith(left[true]);
            }

            found.Add(
                new WatchFinding(
                    by,
                    kind.Model,
                    kind.Slot,
                    value,
                    own.Count,
                    InService(own),
                    test,
                    RateComparison.Of(
                        test.Failed,
                        own.Sum(l => l.Days) / DaysAYear,
                        others.Count(l => l.Failed),
                        others.Sum(l => l.Days) / DaysAYear
                    ),
                    Since(own, others, t => surely ? IsBelieved(by, t) : IsSuspected(by, t)),
                    !surely
                )
            );
        }

        return found;

        bool IsBelieved(WatchBy by, LogRank test) => test.Worse <= believed[by];

        bool IsSuspected(WatchBy by, LogRank test) => by == WatchBy.Lot && test.MidP <= byChance;

        Dictionary<WatchBy, double> Bounds(Func<WatchBy, double> share) =>
            asked
                .GroupBy(a => a.By)
                .ToDictionary(
                    g => g.Key,
                    g => FalseDiscovery.Threshold([.. g.Select(a => a.Test.Worse)], share(g.Key))
                );
    }

    private const double DaysAYear = 365.25;

    /// <summary>
    /// Which share of findings may be false. A bad lot is what is looked for first and costs little to look into: more of
    /// them are shown sooner. <c>./zenrik bench outlook</c> prints what that finds and what it cries wolf for.
    /// </summary>
    private static double FalseOf(WatchBy by) => by == WatchBy.Lot ? 0.1 : 0.05;

    /// <summary>
    /// A lot has few parts and months: one that fails three times as often is as likely missed as believed for long. What
    /// is suspected is shown sooner, and as what it is: so many lots to a slot of a model where all are alike, on the average,
    /// shared out among its lots and asked of <see cref="LogRank.MidP"/>.
    /// </summary>
    private const double SuspectedByChance = 0.05;

    private static int InService(List<Lifetime> own)
    {
        var today = own.Max(l => l.To);
        return own.Count(l => !l.Failed && l.To == today);
    }

    /// <summary>The first day on which the failures until then would have been listed as they are.</summary>
    private static DateOnly Since(List<Lifetime> own, List<Lifetime> others, Func<LogRank, bool> listed)
    {
        var days = own.Where(l => l.Failed).Select(l => l.To).Order().ToList();
        return days.Skip(FewestFailures - 1).FirstOrDefault(Seen, days[^1]);

        bool Seen(DateOnly day) => listed(LogRank.Of(Until(own, day), Until(others, day)));
    }

    private static List<Lifetime> Until(List<Lifetime> lives, DateOnly day) =>
        [.. lives.Select(l => l.On(day)).OfType<Lifetime>()];
}
