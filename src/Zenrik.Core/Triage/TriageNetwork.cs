using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Triage;

/// <summary>The unit and its complaint, as triage needs them.</summary>
public sealed record TriageCase
{
    public required DeviceClass Class { get; init; }

    /// <summary>Components the unit has; null: every one there is.</summary>
    public IReadOnlySet<string>? Components { get; init; }

    /// <summary>At least one symptom id.</summary>
    public required IReadOnlyList<string> Symptoms { get; init; }

    public IReadOnlyList<string> Circumstances { get; init; } = [];

    /// <summary>What replaces the shipped weight of faults, by fault id; see <see cref="LearnedWeights"/>.</summary>
    public IReadOnlyDictionary<string, double>? Weights { get; init; }

    public TriageCosts Costs { get; init; } = TriageCosts.Default;
}

/// <summary>What acts cost. All costs are minutes; money counts as the minutes of work it would pay for.</summary>
public sealed record TriageCosts
{
    public static TriageCosts Default { get; } = new();

    /// <summary>Pay for an hour of work, in the workshop's currency; positive.</summary>
    public double LabourPerHour { get; init; } = 30;

    /// <summary>Minutes to open the machine and close it, once.</summary>
    public double OpeningMinutes { get; init; } = 12;

    /// <summary>Minutes that giving up costs: everything tried, the unit sent away whole.</summary>
    public double GivingUpMinutes { get; init; } = 600;

    /// <summary>Minutes that a unit costs which was given back or away and comes back.</summary>
    public double ComingBackMinutes { get; init; } = 60;

    /// <summary>Minutes and price that are known better than the files know them, by remedy id.</summary>
    public IReadOnlyDictionary<string, (double Minutes, double Price)> Known { get; init; } =
        new Dictionary<string, (double, double)>();

    /// <summary>Minutes a remedy costs, without opening.</summary>
    public double Of(Remedy remedy)
    {
        var (minutes, price) = Known.TryGetValue(remedy.Id, out var known) ? known : (remedy.Minutes, remedy.Price);
        return minutes + (price * 60 / LabourPerHour);
    }
}

/// <summary>
/// The faults that can explain a complaint, what can be asked and what can be tried, as numbers. Assumes one fault at a
/// time, and that answers are independent of each other once the fault is known.
/// </summary>
public sealed class TriageNetwork
{
    /// <summary>Chance that a symptom a fault does not show is there for a reason of its own.</summary>
    internal const double Coincidence = 0.02;

    internal readonly double[] Prior;

    /// <summary>By test, then outcome, then fault.</summary>
    internal readonly double[][][] Chances;

    internal readonly double[] TestMinutes;

    /// <summary>By remedy: the faults it may cure, and the chance of each.</summary>
    internal readonly int[][] Cured;

    internal readonly double[][] CureChance;

    /// <summary>All cures, remedy after remedy; those of remedy r from <see cref="CuresFrom"/>[r] to [r + 1].</summary>
    internal readonly (int Fault, double Chance)[] Cures;

    internal readonly int[] CuresFrom;

    /// <summary>By fault: the remedies that may cure it, and the chance of each.</summary>
    internal readonly (int Remedy, double Chance)[][] CuredBy;

    internal readonly bool[] Opens;

    /// <summary>By fault: its cluster, from 0. Faults of different clusters share no remedy.</summary>
    internal readonly int[] Cluster;

    internal readonly int Clusters;

    internal readonly double[] RemedyMinutes;

    /// <summary>By remedy: minutes lost besides when it did not cure.</summary>
    internal readonly double[] FailureMinutes;

    private TriageNetwork(
        TriageCase @case,
        Fault[] faults,
        double[] prior,
        TriageTest[] tests,
        double[][][] chances,
        Remedy[] remedies,
        double[][] cures
    )
    {
        Case = @case;
        Faults = faults;
        Tests = tests;
        Remedies = remedies;
        Prior = prior;
        Chances = chances;
        TestMinutes = [.. tests.Select(t => t.Minutes)];
        Cured = [.. cures.Select(c => c.Index().Where(x => x.Item > 0).Select(x => x.Index).ToArray())];
        CureChance = [.. cures.Select(c => c.Where(x => x > 0).ToArray())];
        Cures = [.. cures.SelectMany(c => c.Index().Where(x => x.Item > 0).Select(x => (x.Index, x.Item)))];
        CuresFrom = new int[remedies.Length + 1];
        for (var r = 0; r < remedies.Length; r++)
        {
            CuresFrom[r + 1] = CuresFrom[r] + Cured[r].Length;
        }

        CuredBy =
        [
            .. faults.Select(
                (_, f) => cures.Index().Where(c => c.Item[f] > 0).Select(c => (c.Index, c.Item[f])).ToArray()
            ),
        ];
        Opens = [.. remedies.Select(r => r.Opens)];
        (Cluster, Clusters) = ClustersOf(faults.Length, Cured);
        RemedyMinutes = [.. remedies.Select(@case.Costs.Of)];
        FailureMinutes = [.. remedies.Select(r => r.Ends is null ? 0 : @case.Costs.ComingBackMinutes)];
    }

    private static (int[] Of, int Count) ClustersOf(int faults, int[][] cured)
    {
        var of = Enumerable.Range(0, faults).ToArray();
        foreach (var shared in cured)
        {
            foreach (var fault in shared.Skip(1))
            {
                var (from, to) = (of[fault], of[shared[0]]);
                for (var f = 0; f < faults; f++)
                {
                    of[f] = of[f] == from ? to : of[f];
                }
            }
        }

        var names = of.Distinct().ToList();
        return ([.. of.Select(f => names.IndexOf(f))], names.Count);
    }

    public TriageCase Case { get; }

    /// <summary>The faults that can explain the complaint on this unit.</summary>
    public IReadOnlyList<Fault> Faults { get; }

    /// <summary>Tests whose outcome depends on which of them it is.</summary>
    public IReadOnlyList<TriageTest> Tests { get; }

    /// <summary>Remedies that can cure one of them.</summary>
    public IReadOnlyList<Remedy> Remedies { get; }

    /// <summary>Chance of each fault before anything is tried, in the order of <see cref="Faults"/>.</summary>
    public IReadOnlyList<double> PriorChances => Prior;

    /// <summary>The network of one complaint.</summary>
    public static Outcome<TriageNetwork> Of(TriageKnowledge all, TriageCase @case)
    {
        if (@case.Symptoms.Count == 0)
        {
            return new Refusal(RefusalReason.Invalid, "Say what is wrong: choose at least one symptom.");
        }

        foreach (var id in @case.Symptoms)
        {
            if (all.Symptom(id) is not { } symptom)
            {
                return new Refusal(RefusalReason.NotFound, $"There is no symptom \"{id}\".");
            }

            if (symptom.Stop is { } stop)
            {
                return new Refusal(RefusalReason.Conflict, $"Nothing is tested here. {stop}");
            }
        }

        if (@case.Circumstances.FirstOrDefault(c => all.Circumstance(c) is null) is { } stranger)
        {
            return new Refusal(RefusalReason.NotFound, $"There is no circumstance \"{stranger}\".");
        }

        var met = all
            .Faults.Index()
            .Where(f =>
                Weight(f.Item) > 0
                && @case.Symptoms.Any(f.Item.Shows.ContainsKey)
                && (f.Item.Component is null || @case.Components?.Contains(f.Item.Component) != false)
            )
            .ToArray();
        if (met.Length == 0)
        {
            return new Refusal(RefusalReason.NotFound, "Nothing known explains that on this unit.");
        }

        double[] prior =
        [
            .. met.Select(f =>
                Weight(f.Item)
                * @case.Symptoms.Aggregate(1.0, (p, s) => p * f.Item.Shows.GetValueOrDefault(s, Coincidence))
                * @case.Circumstances.Aggregate(1.0, (p, c) => p * f.Item.Circumstances.GetValueOrDefault(c, 1))
            ),
        ];
        var sum = prior.Sum();
        var dead = @case.Symptoms.Any(s => all.Symptom(s)!.Dead);
        var tests = all
            .Tests.Index()
            .Where(t =>
                OnClass(t.Item.Classes)
                && !(dead && t.Item.Running)
                && t.Item.Symptoms.Any(@case.Symptoms.Contains)
                && met.Any(f => !ReferenceEquals(all.Row(t.Index, f.Index), all.Row(t.Index, met[0].Index)))
            )
            .ToArray();
        var remedies = all
            .Remedies.Index()
            .Where(r =>
                OnClass(r.Item.Classes)
                && (r.Item.Exchanges is null || @case.Components?.Contains(r.Item.Exchanges) != false)
                && met.Any(f => all.Cure(r.Index, f.Index) > 0)
            )
            .ToArray();
        return new TriageNetwork(
            @case,
            [.. met.Select(f => f.Item)],
            [.. prior.Select(p => p / sum)],
            [.. tests.Select(t => t.Item)],
            [
                .. tests.Select(t =>
                    t.Item.Outcomes.Select((_, o) => met.Select(f => all.Row(t.Index, f.Index)[o]).ToArray()).ToArray()
                ),
            ],
            [.. remedies.Select(r => r.Item)],
            [.. remedies.Select(r => met.Select(f => all.Cure(r.Index, f.Index)).ToArray())]
        );

        bool OnClass(IReadOnlyList<DeviceClass> classes) => classes.Count == 0 || classes.Contains(@case.Class);

        double Weight(Fault fault) =>
            @case.Weights?.GetValueOrDefault(fault.Id, -1) is { } w and >= 0 ? w : fault.Weight.Of(@case.Class);
    }
}
