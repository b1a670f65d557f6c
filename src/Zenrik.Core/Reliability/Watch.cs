namespace Zenrik.Core.Reliability;

/// <summary>By what parts of a kind are told apart.</summary>
public enum WatchBy
{
    /// <summary>The maker's lot on the label.</summary>
    Lot,
    Number,
    Site,
    Supplier,
}

/// <summary>A part's life with what it can be told apart by; null where that is not known.</summary>
public sealed record WatchedLife(
    Lifetime Life,
    string Model,
    string Slot,
    string? Lot,
    string? Number,
    string? Site,
    string? Supplier
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
/// <param name="Value">The lot, number, site or supplier.</param>
/// <param name="Parts">How many there were, those in service among them.</param>
/// <param name="InService">How many still serve.</param>
/// <param name="Test">Against their peers.</param>
/// <param name="Rate">Failures a year against those of their peers.</param>
/// <param name="Since">The day it could first have been seen.</param>
public sealed record WatchFinding(
    WatchBy By,
    string Model,
    string Slot,
    string Value,
    int Parts,
    int InService,
    LogRank Test,
    RateComparison Rate,
    DateOnly Since
);

/// <summary>Looks for what is worse than its peers, so that a bad lot is found and noise is not.</summary>
public static class Watch
{
    /// <summary>Fewer failures are no pattern whatever their chance. Common practice, no published source.</summary>
    public const int FewestFailures = 3;

    /// <summary>Fewer peers are nothing to compare with.</summary>
    public const int FewestPeers = 5;

    /// <summary>
    /// Every group of at least five against the rest of its slot and model, the share of false findings held over all of
    /// them (<see cref="FalseDiscovery"/>).
    /// </summary>
    /// <param name="share">Of false findings, as 0.05.</param>
    /// <returns>What is worse, the worst first.</returns>
    public static IReadOnlyList<WatchFinding> Find(IReadOnlyCollection<WatchedLife> lives, double share = 0.05)
    {
        var asked =
            new List<(
                WatchBy By,
                string Model,
                string Slot,
                string Value,
                List<Lifetime> Own,
                List<Lifetime> Others,
                LogRank Test
            )>();
        foreach (var kind in lives.GroupBy(l => (l.Model, l.Slot)))
        {
            foreach (var by in Enum.GetValues<WatchBy>())
            {
                foreach (var group in kind.Where(l => l.By(by) is not null).GroupBy(l => l.By(by)!))
                {
                    var own = group.Select(l => l.Life).ToList();
                    var others = kind.Where(l => l.By(by) != group.Key).Select(l => l.Life).ToList();
                    if (own.Count >= FewestPeers && others.Count >= FewestPeers)
                    {
                        asked.Add((by, kind.Key.Model, kind.Key.Slot, group.Key, own, others, LogRank.Of(own, others)));
                    }
                }
            }
        }

        var believed = FalseDiscovery.Threshold([.. asked.Select(a => a.Test.Worse)], share);
        return
        [
            .. asked
                .Where(a => a.Test.Failed >= FewestFailures && believed > 0 && a.Test.Worse <= believed)
                .OrderBy(a => a.Test.Worse)
                .ThenBy(a => (a.By, a.Model, a.Slot, a.Value))
                .Select(a => new WatchFinding(
                    a.By,
                    a.Model,
                    a.Slot,
                    a.Value,
                    a.Own.Count,
                    InService(a.Own),
                    a.Test,
                    RateComparison.Of(
                        a.Test.Failed,
                        a.Own.Sum(l => l.Days) / DaysAYear,
                        a.Others.Count(l => l.Failed),
                        a.Others.Sum(l => l.Days) / DaysAYear
                    ),
                    Since(a.Own, a.Others, believed)
                )),
        ];
    }

    private const double DaysAYear = 365.25;

    private static int InService(List<Lifetime> own)
    {
        var today = own.Max(l => l.To);
        return own.Count(l => !l.Failed && l.To == today);
    }

    /// <summary>The first day on which the failures until then would have been believed.</summary>
    private static DateOnly Since(List<Lifetime> own, List<Lifetime> others, double believed)
    {
        var days = own.Where(l => l.Failed).Select(l => l.To).Order().ToList();
        return days.Skip(FewestFailures - 1).FirstOrDefault(Seen, days[^1]);

        bool Seen(DateOnly day) => LogRank.Of(Until(own, day), Until(others, day)).Worse <= believed;
    }

    private static List<Lifetime> Until(List<Lifetime> lives, DateOnly day) =>
        [.. lives.Select(l => l.On(day)).OfType<Lifetime>()];
}
