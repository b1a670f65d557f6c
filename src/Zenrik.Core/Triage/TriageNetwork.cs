using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Triage;

/// <summary>The unit and its complaint, as triage needs them.</summary>
public sealed record TriageCase
{
    public required DeviceClass Class { get; init; }

    /// <summary>As <see cref="TriageKnowledge.ComponentsOf"/>; null: every component there is, each exchanged alone.</summary>
    public IReadOnlyDictionary<string, string?>? Components { get; init; }

    /// <summary>Of <see cref="MachineFeatures"/>.</summary>
    public IReadOnlySet<string> Features { get; init; } = MachineFeatures.Unknown;

    /// <summary>True when a person has said that what was found dangerous is safe now.</summary>
    public bool MadeSafe { get; init; }

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
    public double ComingBackMinutes { get; init; } = 200;

    /// <summary>
    /// Minutes that a part exchanged in vain costs besides its own work and price: the unit waits for the next one, the
    /// part is used. Common practice, no published source.
    /// </summary>
    public double WrongPartMinutes { get; init; } = 300;

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

    /// <summary>
    /// Chance that a remedy is said not to have helped although nothing is wrong that shows: the trouble comes and goes.
    /// Common practice, no published source.
    /// </summary>
    internal const double StillThere = 0.3;

    internal readonly double[] Prior;

    /// <summary>By test, then outcome, then fault.</summary>
    internal readonly double[][][] Chances;

    // All cures, remedy after remedy; those of remedy r from curesFrom[r] to [r + 1].
    private readonly (int Fault, double Chance)[] cures;
    private readonly int[] curesFrom;

    /// <summary>The faults that a remedy may cure, by index, and the chance of each.</summary>
    internal ReadOnlySpan<(int Fault, double Chance)> CuresOf(int remedy) =>
        cures.AsSpan(curesFrom[remedy]..curesFrom[remedy + 1]);

    /// <summary>By fault: the remedies that may cure it, and the chance of each.</summary>
    internal readonly (int Remedy, double Chance)[][] CuredBy;

    internal readonly bool[] Opens;

    /// <summary>By remedy: true when it ends what is forbidden.</summary>
    internal readonly bool[] Lifts;

    /// <summary>Index of the fault that nothing is wrong; −1 when it is not among them.</summary>
    internal readonly int NothingWrong;

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
        this.cures = [.. cures.SelectMany(c => c.Index().Where(x => x.Item > 0).Select(x => (x.Index, x.Item)))];
        curesFrom = new int[remedies.Length + 1];
        for (var r = 0; r < remedies.Length; r++)
        {
            curesFrom[r + 1] = curesFrom[r] + cures[r].Count(c => c > 0);
        }

        CuredBy =
        [
            .. faults.Select(
                (_, f) => cures.Index().Where(c => c.Item[f] > 0).Select(c => (c.Index, c.Item[f])).ToArray()
            ),
        ];
        Opens = [.. remedies.Select(r => r.Opens)];
        Lifts = [.. remedies.Select(r => r.Allows.Count > 0)];
        NothingWrong = Array.FindIndex(faults, f => f.Nature == FaultNature.None);
        RemedyMinutes = [.. remedies.Select(@case.Costs.Of)];
        FailureMinutes =
        [
            .. remedies.Select(r =>
                r.Ends is not null ? @case.Costs.ComingBackMinutes
                : r.Exchanges is not null ? @case.Costs.WrongPartMinutes
                : 0
            ),
        ];
    }

    private TriageNetwork(TriageNetwork like)
    {
        Case = like.Case with { MadeSafe = true };
        (Faults, Tests, Remedies, Prior, Chances) = (like.Faults, like.Tests, like.Remedies, like.Prior, like.Chances);
        (cures, curesFrom, CuredBy) = (like.cures, like.curesFrom, like.CuredBy);
        (Opens, Lifts, NothingWrong) = (like.Opens, like.Lifts, like.NothingWrong);
        (RemedyMinutes, FailureMinutes) = (like.RemedyMinutes, like.FailureMinutes);
        (Forbidden, Hazards) = (like.Forbidden, like.Hazards);
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

        var known = Known(all, @case);
        if (known.Count == 0)
        {
            return new Refusal(RefusalReason.NotFound, "Nothing known explains that on this unit.");
        }

        int[] met = [.. known.Keys];
        double[] prior = [.. known.Values];
        var sum = prior.Sum();
        var dead = @case.Symptoms.Any(s => all.Symptom(s)!.Dead);
        var tests = all
            .Tests.Index()
            .Where(t =>
                OnClass(t.Item.Classes)
                && t.Item.Requires.All(@case.Features.Contains)
                && !(dead && t.Item.Needs.Contains(Need.Running))
                && t.Item.Symptoms.Any(@case.Symptoms.Contains)
                && met.Any(f => !ReferenceEquals(all.Row(t.Index, f), all.Row(t.Index, met[0])))
            )
            .ToArray();
        var remedies = RemediesFor(all, @case, met).Where(r => OnClass(r.Remedy.Classes)).ToArray();
        return new TriageNetwork(
            @case,
            [.. met.Select(f => all.Faults[f])],
            [.. prior.Select(p => p / sum)],
            [.. tests.Select(t => t.Item)],
            [
                .. tests.Select(t =>
                    t.Item.Outcomes.Select((_, o) => met.Select(f => all.Row(t.Index, f)[o]).ToArray()).ToArray()
                ),
            ],
            [.. remedies.Select(r => r.Remedy)],
            [.. remedies.Select(r => r.Cures)]
        )
        {
            Forbidden = TriageSafety.Forbidden(all, @case.Symptoms, @case.Circumstances),
            Hazards = [.. @case.Symptoms.Select(s => all.Symptom(s)!.Hazard).OfType<Hazard>().Distinct()],
        };

        bool OnClass(IReadOnlyList<DeviceClass> classes) => classes.Count == 0 || classes.Contains(@case.Class);
    }

    /// <summary>The same after a person has said that what was found dangerous is safe now.</summary>
    public TriageNetwork MadeSafe() => new(this);

    /// <summary>What must not be done before anything has been found or tried.</summary>
    public IReadOnlySet<Need> Forbidden { get; private init; } = new HashSet<Need>();

    /// <summary>What every act on this machine is done under.</summary>
    public IReadOnlyList<Hazard> Hazards { get; private init; } = [];

    /// <summary>The chance that a remedy of this network cures a fault of it, what is exchanged with it included.</summary>
    public double ChanceToCure(string remedyId, string faultId)
    {
        var r = Remedies.Index().FirstOrDefault(x => x.Item.Id == remedyId, (-1, null!)).Index;
        if (r >= 0)
        {
            foreach (ref readonly var cure in CuresOf(r))
            {
                if (Faults[cure.Fault].Id == faultId)
                {
                    return cure.Chance;
                }
            }
        }

        return 0;
    }

    /// <summary>What is to be minded at an act: its own caution, and those of the hazards it is done under.</summary>
    /// <param name="actId">Id of a test or remedy.</param>
    /// <param name="belief">Chances of the faults, in their order.</param>
    public IReadOnlyList<string> Cautions(string actId, IReadOnlyList<double> belief)
    {
        var remedy = Remedies.FirstOrDefault(r => r.Id == actId);
        var own = remedy is null ? Tests.FirstOrDefault(t => t.Id == actId)?.Caution : remedy.Caution;
        // Whoever exchanges what is probably cracked touches it, whatever the user said.
        var met = remedy is { Exchanges: not null }
            ? Faults.Where((f, i) => belief[i] >= LikelyHazard && f.Hazard is not null && ChanceToCure(actId, f.Id) > 0)
            : [];
        return
        [
            .. Hazards.Concat(met.Select(f => f.Hazard!.Value)).Distinct().Select(h => h.Caution().Text),
            .. own is null ? Array.Empty<string>() : [own],
        ];
    }

    private const double LikelyHazard = 0.1;

    /// <summary>
    /// By index of fault: weight × chances of the symptoms × factors of circumstances and features. What cannot happen to
    /// a soldered component falls to the component's own failing, or to that of what carries it.
    /// </summary>
    private static Dictionary<int, double> Known(TriageKnowledge all, TriageCase @case)
    {
        var found = new Dictionary<int, double>();
        var elsewhere = new List<(Fault Fault, double Weight)>();
        foreach (var (i, fault) in all.Faults.Index())
        {
            var weight = @case.Weights?.GetValueOrDefault(fault.Id, -1) is { } w and >= 0
                ? w
                : fault.Weight.Of(@case.Class);
            if (
                weight <= 0
                || !@case.Symptoms.Any(fault.Shows.ContainsKey)
                || (fault.Component is { } c && @case.Components?.ContainsKey(c) == false)
            )
            {
                continue;
            }

            var chance =
                weight
                * @case.Symptoms.Aggregate(1.0, (p, s) => p * fault.Shows.GetValueOrDefault(s, Coincidence))
                * @case.Circumstances.Aggregate(1.0, (p, c) => p * fault.Circumstances.GetValueOrDefault(c, 1))
                * fault.Features.Where(f => @case.Features.Contains(f.Key)).Aggregate(1.0, (p, f) => p * f.Value);
            if (
                fault is { Separate: true, Component: { } part }
                && @case.Components?[part] != part
                && @case.Components is not null
            )
            {
                elsewhere.Add((fault, chance));
            }
            else
            {
                found[i] = chance;
            }
        }

        foreach (var (fault, weight) in elsewhere)
        {
            var carrier = @case.Components![fault.Component!] ?? TriageKnowledge.Board;
            var heirs = found.Keys.Where(i => all.Faults[i].Nature is FaultNature.Part or FaultNature.BoardLevel);
            var own = heirs.Where(i => all.Faults[i].Component == fault.Component).ToList();
            own = own.Count > 0 ? own : [.. heirs.Where(i => all.Faults[i].Component == carrier)];
            var heir = own.Count > 0 ? own.MaxBy(i => found[i]) : all.Faults.Index().First(f => f.Item == fault).Index;
            found[heir] = found.GetValueOrDefault(heir) + weight;
        }

        return found;
    }

    /// <summary>
    /// The remedies that can cure one of the faults. Exchanging a component exchanges what it carries too; what cannot be
    /// ordered at all is for the specialist.
    /// </summary>
    private static IEnumerable<(Remedy Remedy, double[] Cures)> RemediesFor(
        TriageKnowledge all,
        TriageCase @case,
        int[] met
    )
    {
        var rows = all
            .Remedies.Select((r, i) => (Remedy: r, Cures: met.Select(f => all.Cure(i, f)).ToArray()))
            .ToList();
        var away = rows.FindIndex(r => r.Remedy.Ends == RemedyEnd.BeyondBench);
        if (@case.Components is { } components)
        {
            foreach (var (i, row) in rows.Index().ToList())
            {
                if (row.Remedy.Exchanges is not { } component)
                {
                    continue;
                }

                if (!components.TryGetValue(component, out var carrier))
                {
                    Array.Clear(row.Cures);
                }
                else if (carrier != component)
                {
                    var to = rows.FindIndex(r => r.Remedy.Exchanges is { } c && c == carrier);
                    to = to < 0 ? away : to;
                    for (var f = 0; to >= 0 && f < met.Length; f++)
                    {
                        rows[to].Cures[f] = Math.Max(rows[to].Cures[f], row.Cures[f] * (to == away ? ByOthers : 1));
                    }

                    Array.Clear(row.Cures);
                }
            }
        }

        return rows.Where(r => Array.Exists(r.Cures, c => c > 0));
    }

    /// <summary>What sending away cures of what an exchange would. Common practice, no published source.</summary>
    private const double ByOthers = 0.9;
}
