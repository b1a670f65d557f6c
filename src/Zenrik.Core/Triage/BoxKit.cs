using Zenrik.Core.Reliability;

namespace Zenrik.Core.Triage;

/// <summary>A machine to be cured where it stands, and what it may need.</summary>
/// <param name="WithoutPart">The chance that it wants no part: it is seated, set, cleaned, or nothing is wrong.</param>
/// <param name="Parts">By part the chance that exchanging it is what cures; with the rest at most 1.</param>
public sealed record KitMachine(double WithoutPart, IReadOnlyDictionary<string, double> Parts)
{
    /// <summary>What it is known to want, all of it: nothing else is uncertain then.</summary>
    public IReadOnlyList<string> Surely { get; init; } = [];

    /// <summary>A machine whose parts are known.</summary>
    public static KitMachine Known(IReadOnlyList<string> parts) =>
        new(0, new Dictionary<string, double>()) { Surely = parts };
}

/// <summary>So many of a part in the box.</summary>
/// <param name="Last">The chance that the last of them is wanted.</param>
public sealed record KitLine(string Part, int Count, double Last);

/// <summary>What to take along.</summary>
/// <param name="Lines">What is surest to be wanted first.</param>
/// <param name="Cured">Machines cured on the spot with it, in expectation.</param>
/// <param name="WithoutParts">Those of them that want none; one whose parts are known is none of these.</param>
/// <param name="AtMost">What a box with everything would cure.</param>
public sealed record BoxKit(IReadOnlyList<KitLine> Lines, double Cured, double WithoutParts, double AtMost)
{
    /// <summary>True when so many are cured as were asked for.</summary>
    public required bool Reaches { get; init; }

    /// <summary>Less likely than this a part is not taken along, whatever share is asked for.</summary>
    private const double LeastChance = 0.005;

    /// <summary>
    /// What is known to be wanted, and beside it the fewest parts with which so many of the machines are cured in expectation. How many want a part is a Poisson
    /// binomial count N; k of it serve the sum of P(N ≥ j) over j up to k, each one less than the one before: what is
    /// surest to be wanted is taken first, and no box of as few parts serves more.
    /// </summary>
    /// <param name="share">Of the machines, 0 to 1. Where no box reaches it, all that may be wanted goes in.</param>
    public static BoxKit For(IReadOnlyList<KitMachine> machines, double share)
    {
        var without = machines.Sum(m => m.WithoutPart);
        var surely = machines.SelectMany(m => m.Surely).CountBy(p => p).ToDictionary();
        var known = machines.Count(m => m.Surely.Count > 0);
        // A share that is reached but for the rounding of sums is reached.
        var wanted = (share * machines.Count) - 1e-9;
        var chances = machines
            .SelectMany(m => m.Parts)
            .GroupBy(p => p.Key, p => p.Value)
            .SelectMany(part =>
            {
                var count = PoissonBinomial.Of([.. part]);
                return Enumerable
                    .Range(1, part.Count())
                    .Select(k => (Part: part.Key, Count: k, Chance: count.AtLeast(k)));
            })
            .OrderByDescending(c => c.Chance)
            .ThenBy(c => c.Part, StringComparer.Ordinal)
            .ThenBy(c => c.Count)
            .ToList();
        var cured = without + known;
        var lines = surely.ToDictionary(s => s.Key, s => new KitLine(s.Key, s.Value, 1));
        foreach (var (part, count, chance) in chances)
        {
            if (cured >= wanted || chance < LeastChance)
            {
                break;
            }

            cured += chance;
            lines[part] = new KitLine(part, surely.GetValueOrDefault(part) + count, chance);
        }

        return new BoxKit(
            [.. lines.Values.OrderByDescending(l => l.Count).ThenByDescending(l => l.Last)],
            cured,
            without,
            without + known + machines.Sum(m => m.Parts.Values.Sum())
        )
        {
            Reaches = cured >= wanted,
        };
    }
}
