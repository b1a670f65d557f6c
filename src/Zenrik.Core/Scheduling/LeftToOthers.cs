namespace Zenrik.Core.Scheduling;

/// <summary>Work that somebody leaves to others: not learned yet, not allowed, or not theirs.</summary>
/// <param name="Models">Codes of models they do not work on.</param>
/// <param name="Parts">
/// Slots whose parts they do not exchange; a name stands for all slots that begin with it: "memory" for "memory-a".
/// </param>
public sealed record LeftToOthers(IReadOnlyList<string> Models, IReadOnlyList<string> Parts)
{
    public bool Covers(BenchJob job) => Models.Contains(job.Model) || job.Slots.Any(s => Parts.Any(p => Stands(p, s)));

    /// <summary>True when a name stands for a slot.</summary>
    public static bool Stands(string name, string slot) =>
        slot == name || slot.StartsWith($"{name}-", StringComparison.Ordinal);
}
