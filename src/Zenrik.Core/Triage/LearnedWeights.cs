using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Triage;

/// <summary>How often a fault was found, in closed repairs of a model.</summary>
public sealed record FaultCount(string ModelCode, DeviceClass Class, string Fault, int Count);

/// <summary>A fault's share of all faults: as shipped, and as the workshop's record has moved it.</summary>
public sealed record LearnedWeight(Fault Fault, double Shipped, double ForClass, double ForModel, int Seen);

/// <summary>
/// Weights of faults with what closed repairs add. The shipped weights are the mean of a Dirichlet distribution worth
/// <see cref="ClassStrength"/> repairs; a class's repairs are counts upon it. The class's posterior mean is in turn the
/// mean of a Dirichlet worth <see cref="ModelStrength"/> repairs for each of its models, so that a model with few repairs
/// looks like its class and one with many like itself.
/// </summary>
/// <remarks>Posterior mean of a Dirichlet: (prior share × strength + count) / (strength + all counts).</remarks>
public static class LearnedWeights
{
    public const double ClassStrength = 200;

    public const double ModelStrength = 60;

    /// <summary>Every fault of a class with its shares; each column adds up to 1.</summary>
    /// <param name="counts">Counts of all models; other classes are ignored. Unknown faults too.</param>
    public static IReadOnlyList<LearnedWeight> Of(
        TriageKnowledge all,
        string modelCode,
        DeviceClass device,
        IReadOnlyList<FaultCount> counts
    )
    {
        var faults = all.Faults.Where(f => f.Weight.Of(device) > 0).ToList();
        var known = faults.Select(f => f.Id).ToHashSet();
        var mine = counts.Where(c => c.Class == device && known.Contains(c.Fault)).ToList();
        var model = mine.Where(c => c.ModelCode == modelCode)
            .GroupBy(c => c.Fault)
            .ToDictionary(g => g.Key, g => g.Sum(c => c.Count));
        // A model's repairs count once: for the class only what the other models add.
        var others = mine.Where(c => c.ModelCode != modelCode)
            .GroupBy(c => c.Fault)
            .ToDictionary(g => g.Key, g => g.Sum(c => c.Count));
        var (sum, ofOthers, ofModel) = (faults.Sum(f => f.Weight.Of(device)), others.Values.Sum(), model.Values.Sum());
        return
        [
            .. faults.Select(f =>
            {
                var shipped = f.Weight.Of(device) / sum;
                var forClass =
                    ((shipped * ClassStrength) + others.GetValueOrDefault(f.Id)) / (ClassStrength + ofOthers);
                var seen = model.GetValueOrDefault(f.Id);
                var forModel = ((forClass * ModelStrength) + seen) / (ModelStrength + ofModel);
                return new LearnedWeight(f, shipped, forClass, forModel, seen);
            }),
        ];
    }
}
