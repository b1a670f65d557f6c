namespace Zenrik.Core.ServiceMaps;

/// <summary>One thing two editions of a map differ in.</summary>
/// <param name="What">"part", "screws", "joint", "tie", "assembly", "check", "preparation".</param>
/// <param name="Name">As the newer edition calls it; the older where the newer lacks it.</param>
public sealed record MapChange(ChangeKind Kind, string What, string Name);

public enum ChangeKind
{
    Added,
    Removed,
    Altered,
}

/// <summary>What a revision of a map changed.</summary>
public static class MapComparison
{
    /// <summary>The differences, in the order of the newer edition; what only the older has comes last of its kind.</summary>
    public static IReadOnlyList<MapChange> Between(ServiceMap older, ServiceMap newer) =>
        [
            .. Of("preparation", older.Preparations, newer.Preparations, p => p.Id, p => p.Title),
            .. Of("part", older.Parts, newer.Parts, p => p.Id.Value, p => p.Name),
            .. Of("screws", older.Fasteners, newer.Fasteners, f => f.Id.Value, f => $"{f.Name} ({f.Count})"),
            .. Of("joint", older.Joints, newer.Joints, j => j.Id.Value, j => j.Name),
            .. Of("tie", older.Ties, newer.Ties, t => t.Id.Value, t => t.Name),
            .. Of("assembly", older.Assemblies, newer.Assemblies, a => a.Id.Value, a => a.Name),
            .. Of("wait", older.Waits, newer.Waits, w => $"{w.What} {w.After}", w => $"{w.What} after {w.After}"),
            .. Of("check", older.Checks, newer.Checks, c => c.Id.Value, c => c.Title),
        ];

    private static IEnumerable<MapChange> Of<T>(
        string what,
        IReadOnlyList<T> older,
        IReadOnlyList<T> newer,
        Func<T, string> id,
        Func<T, string> name
    )
    {
        foreach (var now in newer)
        {
            var before = older.Where(o => id(o) == id(now)).ToList();
            if (before.Count == 0)
            {
                yield return new MapChange(ChangeKind.Added, what, name(now));
            }
            else if (ServiceMapReader.Text(before[0]) != ServiceMapReader.Text(now))
            {
                yield return new MapChange(ChangeKind.Altered, what, name(now));
            }
        }

        foreach (var gone in older.Where(o => newer.All(n => id(n) != id(o))))
        {
            yield return new MapChange(ChangeKind.Removed, what, name(gone));
        }
    }
}
