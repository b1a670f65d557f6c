namespace Zenrik.Core.Economics;

/// <summary>A machine that was given up and may be stripped.</summary>
/// <param name="Opens">Minutes to open and close it, whatever is taken out; not negative.</param>
public sealed record HarvestDonor(string Tag, string Model, double Opens);

/// <summary>A part in a donor.</summary>
/// <param name="Donor">Index of the donor.</param>
/// <param name="Minutes">To take it out of the opened machine; not negative.</param>
/// <param name="Works">The chance that it is good, 0 to 1.</param>
public sealed record HarvestPart(int Donor, string Slot, string Name, string Number, double Minutes, double Works);

/// <summary>Something that wants one part.</summary>
/// <param name="Id">A repair that waits, or the slot something is expected to fail in.</param>
/// <param name="Numbers">Any of these would do.</param>
/// <param name="Worth">What having it is worth, in minutes of work: its price, the days a user waits less, each by its chance.</param>
/// <param name="Waits">True for a repair that waits, false for what is only expected.</param>
public sealed record HarvestWant(string Id, string What, IReadOnlySet<string> Numbers, double Worth, bool Waits);

/// <summary>A part and what it is taken out for, as indices.</summary>
public readonly record struct Taken(int Part, int Want);

/// <summary>Which donors to strip of what, for whom. All figures are minutes; money counts as the work it would pay for.</summary>
public sealed record HarvestProblem(
    IReadOnlyList<HarvestDonor> Donors,
    IReadOnlyList<HarvestPart> Parts,
    IReadOnlyList<HarvestWant> Wants
)
{
    public bool Serves(int part, int want) => Wants[want].Numbers.Contains(Parts[part].Number);

    /// <summary>True when another asks the same, so that what was found for it holds.</summary>
    public bool IsSame(HarvestProblem other) =>
        Donors.SequenceEqual(other.Donors)
        && Parts.SequenceEqual(other.Parts)
        && Wants.Count == other.Wants.Count
        && Wants
            .Zip(other.Wants)
            .All(w =>
                w.First with { Numbers = w.Second.Numbers } == w.Second && w.First.Numbers.SetEquals(w.Second.Numbers)
            );

    /// <summary>What one part gives a want, the opening of its donor not counted.</summary>
    public double Gain(int part, int want) => (Parts[part].Works * Wants[want].Worth) - Parts[part].Minutes;

    /// <summary>What a harvest gives in all: each part and each want at most once, each donor opened once.</summary>
    public double Value(IReadOnlyList<Taken> taken) =>
        taken.Sum(t => Gain(t.Part, t.Want))
        - taken.Select(t => Parts[t.Part].Donor).Distinct().Sum(d => Donors[d].Opens);

    /// <summary>Stripping when somebody asks: what waits longest first, each time a donor is opened for one part alone.</summary>
    public (IReadOnlyList<Taken> Taken, double Value) AsNeeded()
    {
        var taken = new List<Taken>();
        var value = 0.0;
        for (var want = 0; want < Wants.Count; want++)
        {
            var best = Enumerable
                .Range(0, Parts.Count)
                .Where(p => Serves(p, want) && !taken.Exists(t => t.Part == p))
                .Select(p => (Part: p, Gain: Gain(p, want) - Donors[Parts[p].Donor].Opens))
                .OrderByDescending(p => p.Gain)
                .FirstOrDefault();
            if (best.Gain > 0)
            {
                taken.Add(new Taken(best.Part, want));
                value += best.Gain;
            }
        }

        return (taken, value);
    }
}
