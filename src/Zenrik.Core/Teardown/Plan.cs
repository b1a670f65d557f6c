using Zenrik.Core.HouseRules;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Teardown;

/// <summary>The stretches of a plan.</summary>
public enum Stage
{
    Out,
    Back,
    CloseOut,
}

/// <summary>One act of a plan with everything a technician needs to do it.</summary>
/// <param name="Number">From 1, through the whole plan.</param>
/// <param name="SideUp">The side that faces up during the act; null when it does not matter.</param>
/// <param name="Seconds">Expected duration, tool change included.</param>
/// <param name="Why">From the act this one makes possible to the goal; empty for goals and closing acts.</param>
/// <param name="Here">Why it stands where it does, one sentence; empty on the way back, which is the way out reversed.</param>
public sealed record PlanStep(
    int Number,
    Stage Stage,
    Act Act,
    Tool Tool,
    Side? SideUp,
    double Seconds,
    string Title,
    string How,
    IReadOnlyList<Caution> Cautions,
    IReadOnlyList<Act> Why,
    string Here
)
{
    /// <summary>True when the act may only be confirmed together with "I have read the caution".</summary>
    public bool MustAcknowledge => Cautions.Any(c => c.Severity == Severity.Severe);
}

/// <summary>Expected minutes and the interval that holds four jobs in five.</summary>
public sealed record Minutes(double Expected, double Low, double High)
{
    /// <summary>
    /// The total of acts of the given lengths. Each act varies by <see cref="StandardTimes.ActSpread"/> of its length,
    /// independently; the technician's pace varies all acts together by <see cref="StandardTimes.PaceSpread"/>.
    /// </summary>
    public static Minutes Total(IEnumerable<double> seconds)
    {
        const double Decile = 1.2816; // Standard normal quantile at 0.9.
        var (sum, squares) = seconds.Aggregate((Sum: 0.0, Squares: 0.0), (t, s) => (t.Sum + s, t.Squares + (s * s)));
        var own = StandardTimes.ActSpread * StandardTimes.ActSpread * squares;
        var pace = StandardTimes.PaceSpread * sum * StandardTimes.PaceSpread * sum;
        var reach = Decile * Math.Sqrt(own + pace);
        return new Minutes(sum / 60, Math.Max(0, sum - reach) / 60, (sum + reach) / 60);
    }
}

/// <summary>Consumables a plan uses up.</summary>
public enum Consumable
{
    /// <summary>Thermal paste, counted in single applications.</summary>
    ThermalPaste,

    /// <summary>A set of pads for one heatsink.</summary>
    ThermalPads,
}

/// <summary>
/// The way out to the goals and back: a sequence of acts, and what follows from it. The sequence is the only state; a
/// stored plan is restored from its acts and the map revision it was made from.
/// </summary>
public sealed class Plan
{
    internal Plan(ServiceMap map, IReadOnlyList<Goal> goals, IReadOnlyList<PlanStep> steps, Basis basis, double gap = 0)
    {
        Map = map;
        Gap = gap;
        Basis = basis;
        Goals = goals;
        Steps = steps;
        Minutes = Minutes.Total(steps.Select(s => s.Seconds));
    }

    /// <summary>The map of the unit the plan is for, optional parts resolved.</summary>
    public ServiceMap Map { get; }

    /// <summary>By what share it may take longer than the quickest, where the search was ended early; 0: it is the quickest.</summary>
    public double Gap { get; }

    public IReadOnlyList<Goal> Goals { get; }

    /// <summary>The house rules it was made under, and the times it counts with.</summary>
    public Basis Basis { get; }

    public IReadOnlyList<PlanStep> Steps { get; }

    public Minutes Minutes { get; }

    public IEnumerable<Act> Acts => Steps.Select(s => s.Act);

    /// <summary>How many steps lead out; the turning point lies after them.</summary>
    public int OutCount => Steps.Count(s => s.Stage == Stage.Out);

    /// <summary>Tools to lay out, without fingers.</summary>
    public IReadOnlyList<Tool> Tools => [.. Steps.Select(s => s.Tool).Where(t => t != Tool.Fingers).Distinct().Order()];

    /// <summary>The assemblies that are exchanged.</summary>
    public IReadOnlyList<Assembly> Replaced => [.. Map.Replaced(Goals)];

    /// <summary>Parts to move from an old assembly to its successor.</summary>
    public IReadOnlyList<Part> TransferList => [.. Replaced.SelectMany(Map.TransferList).Distinct()];

    /// <summary>Screw groups in the order they come out.</summary>
    public IReadOnlyList<FastenerGroup> FastenersOut =>
        [.. Acts.Where(a => a.Kind == ActKind.Undo).Select(a => a.Fastener).Distinct().Select(Map.Fastener)];

    /// <summary>Joints opened on the way, each once.</summary>
    public int JointsOpened =>
        Acts.Where(a => a.Kind is ActKind.Open or ActKind.Isolate).Select(a => a.Joint).Distinct().Count();

    /// <summary>Parts lifted out on the way, each once.</summary>
    public int PartsOut => Acts.Where(a => a.Kind == ActKind.LiftOut).Select(a => a.Part).Distinct().Count();

    /// <summary>How many of each consumable the plan uses.</summary>
    public IReadOnlyDictionary<Consumable, int> Consumables => UsedBy(Acts);

    /// <summary>How many of each consumable some acts use up.</summary>
    public IReadOnlyDictionary<Consumable, int> UsedBy(IEnumerable<Act> acts)
    {
        var heatsinks = acts.Where(a => a.Kind == ActKind.CleanAndPaste)
            .Select(a => Map.Part(a.Part).Thermal!)
            .ToList();
        var pads =
            Basis.Practice.Of(RuleBook.Pads) == HeatsinkPads.Renew ? heatsinks.Count(thermal => thermal.Pads) : 0;
        return new[]
        {
            (Kind: Consumable.ThermalPaste, Count: heatsinks.Sum(thermal => thermal.Faces)),
            (Kind: Consumable.ThermalPads, Count: pads),
        }
            .Where(c => c.Count > 0)
            .ToDictionary(c => c.Kind, c => c.Count);
    }

    /// <summary>
    /// The mat field a screw group is laid in: numbered from 1 in the order the groups come out. Null when the screws
    /// stay captive in their part, or do not come out at all.
    /// </summary>
    public int? MatField(FastenerId group)
    {
        var laid = FastenersOut.Where(f => !f.Captive).Select(f => f.Id).ToList();
        var at = laid.IndexOf(group);
        return at < 0 ? null : at + 1;
    }

    /// <summary>Where a group lies while it is out, by the house's way of keeping screws: "field 3", "captive".</summary>
    public string KeptAt(FastenerGroup group) =>
        group.Captive
            ? "captive"
            : Basis.Practice.Of(RuleBook.ScrewKeeping) switch
            {
                ScrewKeeping.WithPart => $"with {Wording.The(Map.Part(group.Holds).Name)}",
                ScrewKeeping.TapedBeside => "taped beside the hole",
                ScrewKeeping.Photograph => "in the dish, photographed",
                _ => $"field {MatField(group.Id)}",
            };
}
