namespace Zenrik.Core.Reliability;

/// <summary>Slots that serve themselves from the same parts on a shelf.</summary>
public static class SharedShelf
{
    /// <summary>Puts together whatever shares a number, directly or by others; each group in the order it came in.</summary>
    /// <param name="numbers">The part numbers of one.</param>
    public static IReadOnlyList<IReadOnlyList<T>> Of<T>(
        IReadOnlyList<T> slots,
        Func<T, IReadOnlyCollection<string>> numbers
    )
    {
        var groups = new List<(List<int> Slots, HashSet<string> Numbers)>();
        foreach (var (i, slot) in slots.Index())
        {
            var own = numbers(slot).ToHashSet(StringComparer.Ordinal);
            var alike = groups.FindAll(g => g.Numbers.Overlaps(own));
            _ = groups.RemoveAll(alike.Contains);
            groups.Add(([.. alike.SelectMany(g => g.Slots), i], [.. alike.SelectMany(g => g.Numbers).Concat(own)]));
        }

        return
        [
            .. groups
                .Select(g => g.Slots.Order().ToList())
                .OrderBy(g => g[0])
                .Select(g => (IReadOnlyList<T>)[.. g.Select(i => slots[i])]),
        ];
    }

    /// <summary>The share of repairs that took two parts of a shelf, 0 to 1, from what failed.</summary>
    /// <param name="failed">Of each part that failed its unit and the day it came out.</param>
    public static double InPairs(IEnumerable<(string Unit, DateOnly Day)> failed)
    {
        var each = failed.CountBy(f => f).Select(f => f.Value).ToList();
        return each.Count == 0 ? 0 : Math.Min(1, each.Average() - 1);
    }
}
