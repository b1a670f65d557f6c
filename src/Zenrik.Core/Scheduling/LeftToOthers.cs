namespace Zenrik.Core.Scheduling;

/// <summary>Work that somebody leaves to others: not learned yet, not allowed, or not theirs.</summary>
/// <param name="Models">Codes of models they do not work on.</param>
/// <param name="Parts">
/// Slots whose parts they do not exchange; a name stands for all slots that begin with it: "memory" for "memory-a".
/// </param>
public sealed record LeftToOthers(IReadOnlyList<string> Models, IReadOnlyList<string> Parts)
{
    /// <summary>True when everything is theirs to do.</summary>
    public bool IsNothing => Models.Count + Parts.Count == 0;

    /// <summary>Reads it as somebody types it: names with commas between them.</summary>
    /// <param name="known">The models' names by their codes; either may be typed.</param>
    /// <param name="slots">Every slot there is.</param>
    /// <returns>In the order of codes and slots; a refusal that names what nobody knows.</returns>
    public static Outcome<LeftToOthers> Read(
        string? models,
        string? parts,
        IReadOnlyDictionary<string, string> known,
        IReadOnlyCollection<string> slots
    )
    {
        var (codes, stems) = (
            new SortedSet<string>(StringComparer.Ordinal),
            new SortedSet<string>(StringComparer.Ordinal)
        );
        foreach (var name in Words(models))
        {
            if (known.FirstOrDefault(m => Is(m.Value, name) || Is(m.Key, name)) is not { Key: { } code })
            {
                return new Refusal(
                    RefusalReason.Invalid,
                    $"There is no model \"{name}\". Write models as the fleet names them, with commas between them."
                );
            }

            _ = codes.Add(code);
        }

        foreach (var word in Words(parts))
        {
            var stem = word.ToLowerInvariant().Replace(' ', '-');
            if (!slots.Any(s => Stands(stem, s)))
            {
                return new Refusal(
                    RefusalReason.Invalid,
                    $"No part is called \"{word}\". Parts are called as their slots: {string.Join(", ", slots.Where(s => !slots.Any(o => o != s && Stands(o, s))).Order(StringComparer.Ordinal))}."
                );
            }

            _ = stems.Add(stem);
        }

        return new LeftToOthers([.. codes], [.. stems]);

        static IEnumerable<string> Words(string? text) =>
            (text ?? "").Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
        static bool Is(string a, string b) => string.Equals(a, b, StringComparison.OrdinalIgnoreCase);
    }

    public bool Covers(BenchJob job) => Models.Contains(job.Model) || job.Slots.Any(s => Parts.Any(p => Stands(p, s)));

    /// <summary>True when a name stands for a slot.</summary>
    public static bool Stands(string name, string slot) =>
        slot == name || slot.StartsWith($"{name}-", StringComparison.Ordinal);
}
