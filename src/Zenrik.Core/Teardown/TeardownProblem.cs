using Zenrik.Core.HouseRules;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Teardown;

/// <summary>
/// The question a plan answers, as mathematics: choose a set of acts that meets every goal and every requirement of the
/// acts in it, and an order in which each requirement is met before it is needed, so that the time of the acts, of
/// changing tools and of turning the machine over, out and back, is least.
/// </summary>
/// <remarks>
/// Acts on the outside come before all others. Time out and back: an act costs <see cref="Milliseconds"/>; picking up a
/// tool that is not in hand costs <see cref="ToolChangeMs"/>, on the way out for <see cref="ToolOut"/> and, in reverse
/// order, on the way back for <see cref="ToolBack"/>, which begins with the tool the way out ended with; each turning
/// over is paid twice. The machine lies deck up at first; what is off its place is worked in the hand.
/// Reading, cleaning, testing and checking cost the same whatever way is chosen and are left out.
/// </remarks>
public sealed class TeardownProblem
{
    public const long ToolChangeMs = (long)(StandardTimes.ToolChange * 1000);

    /// <summary>One turn out and the one that undoes it on the way back.</summary>
    public const long TurnOverMs = (long)(2 * StandardTimes.TurnOver * 1000);

    private readonly Dictionary<Act, IReadOnlyList<Requirement>> requirements;

    private TeardownProblem(TeardownGraph graph, IReadOnlyList<Goal> goals, Basis basis)
    {
        Graph = graph;
        Basis = basis;
        Goals = [.. goals.SelectMany(graph.Map.Needs)];
        requirements = graph.Acts.ToDictionary(a => a, graph.RequirementsOf);
        Network = graph.Network;
        if (TakeRidersOffFirst(goals))
        {
            Network = new ChoiceNetwork(requirements);
        }

        Traits =
        [
            .. Network.Acts.Select(a => new ActTraits(
                Milliseconds(a),
                ToolOut(a),
                ToolBack(a),
                SideUp(a),
                [.. InHandAfter(a).Select(Network.IndexOf)],
                IsOutside(a)
            )),
        ];
    }

    public TeardownGraph Graph { get; }

    /// <summary>House rules and times.</summary>
    public Basis Basis { get; }

    /// <summary>Each must be met by one of its acts.</summary>
    public IReadOnlyList<Requirement> Goals { get; }

    public IReadOnlyCollection<Act> Acts => requirements.Keys;

    internal ChoiceNetwork Network { get; }

    /// <summary>By index in the network: what the search asks of an act over and over.</summary>
    internal IReadOnlyList<ActTraits> Traits { get; }

    public IReadOnlyList<Requirement> RequirementsOf(Act act) => requirements[act];

    /// <summary>States the question; goals the map does not know are refused by name.</summary>
    public static Outcome<TeardownProblem> Of(ServiceMap map, IReadOnlyList<Goal> goals, Basis basis)
    {
        if (goals.Count == 0)
        {
            return new Refusal(RefusalReason.Invalid, "A plan needs at least one goal: a part or an assembly.");
        }

        foreach (var goal in goals)
        {
            if (GoalCheck.Refuse(map, goal) is { } refusal)
            {
                return refusal;
            }
        }

        return new TeardownProblem(TeardownGraph.Of(map), [.. goals, .. Also(map, basis.Practice)], basis);
    }

    /// <summary>The act out, what undoes it, and new paste where it breaks a heat path.</summary>
    public long Milliseconds(Act act) => HandlingTime.Of(Graph.Map, act, Basis.Times);

    public Tool ToolOut(Act act) => ActTools.For(Graph.Map, act, Basis.Practice);

    /// <summary>The tool of the act's reverse.</summary>
    public Tool ToolBack(Act act) =>
        act.Reverse is { } back ? ActTools.For(Graph.Map, back, Basis.Practice) : Tool.Fingers;

    /// <summary>The side that must face up while what the act works on is in its place; null when it does not matter.</summary>
    public Side? SideUp(Act act) => ActTools.SideUp(Graph.Map, act);

    /// <summary>Acts any of which takes that off its place: then it is worked in the hand, whichever side is up.</summary>
    public IReadOnlyList<Act> InHandAfter(Act act) => [.. ActTools.InHandAfter(Graph.Map, act)];

    public bool IsOutside(Act act) => TeardownGraph.IsOutside(Graph.Map, act);

    /// <summary>The cheapest acts in their cheapest order, turning over included; null when the goals cannot be met.</summary>
    public IReadOnlyList<Act>? Solve() => Solve(default).Acts;

    /// <summary>As <see cref="Solve()"/>, within a limit.</summary>
    /// <returns>The acts, and by what share they may take longer than the cheapest.</returns>
    public (IReadOnlyList<Act>? Acts, double Gap) Solve(SearchLimit limit) => Find(Goals, null, limit);

    /// <summary>As <see cref="Solve(SearchLimit)"/> for what remains, where some of it is done.</summary>
    /// <param name="unmet">The requirements still to meet.</param>
    /// <param name="standing">What is out and open, and what the hand holds.</param>
    /// <param name="limit">How long to search.</param>
    /// <returns>The acts, null when the goals cannot be met, and by what share they may take longer than the cheapest.</returns>
    internal (IReadOnlyList<Act>? Acts, double Gap) SolveFrom(
        IEnumerable<Requirement> unmet,
        Standing standing,
        SearchLimit limit
    ) => Find(unmet, standing, limit);

    private (IReadOnlyList<Act>? Acts, double Gap) Find(
        IEnumerable<Requirement> wanted,
        Standing? standing,
        SearchLimit limit
    )
    {
        var given = new Bits(Network.Acts.Count);
        foreach (var act in standing?.Out ?? Standing.None.Out)
        {
            given.Add(Network.IndexOf(act));
        }

        // Where an act takes something off its place, what stands for it would have to do the same: it is left alone.
        var eases = new bool[Network.Acts.Count];
        foreach (var eased in Traits.SelectMany(t => t.InHandAfter))
        {
            eases[eased] = true;
        }

        var bound = new Lazy<OrderBound>(() => new OrderBound(this, standing ?? Standing.None));
        Sequencer? asked = null;
        Sequencer? best = null;
        var search = new WaySearch(
            Network,
            [.. Traits.Select((t, i) => given[i] ? 0 : t.Milliseconds)],
            acts => bound.Value.Of(acts),
            (chosen, atMost) => (asked = new Sequencer(this, chosen.Members, standing, limit)).Cost(atMost),
            limit,
            () => best = asked,
            (a, b) => Traits[a].IsAlike(Traits[b]) && (!eases[b] || IsOtherWay(a, b)),
            a => Traits[a].InHandAfter
        );
        _ = search.Cheapest(wanted, given);
        return (best?.Order(), search.Gap);
    }

    private bool IsOtherWay(int act, int other) =>
        (Network.Acts[act].Kind, Network.Acts[act].Target) == (Network.Acts[other].Kind, Network.Acts[other].Target);

    /// <summary>What the house wants out whatever the job.</summary>
    internal static IEnumerable<Goal> Also(ServiceMap map, HousePractice practice) =>
        practice.Of(RuleBook.Battery) == BatteryOut.Always
            ? map.Parts.Where(p => p.Cells && !p.Fixed).Select(p => new Goal.LiftOut(p.Id))
            : [];

    /// <summary>
    /// What moves over comes off its old carrier while that is still held in the machine, unless it can only be freed
    /// once the carrier is out. Common practice, no published source.
    /// </summary>
    private bool TakeRidersOffFirst(IReadOnlyList<Goal> goals)
    {
        var map = Graph.Map;
        var clauses = (int[][][])Network.Clauses.Clone();
        var changed = false;
        foreach (var rider in map.Replaced(goals).SelectMany(map.TransferList).Distinct())
        {
            for (
                var on = rider.MountedOn;
                on is { } carrier && !map.Part(carrier).Fixed;
                on = map.Part(carrier).MountedOn
            )
            {
                var lifts = TeardownGraph.Removing(map.Part(carrier)).ToList();
                // Asked again after each that was added: two that wait for each other would be no way at all.
                var possible = ChoiceNetwork.PossibleWithout(clauses, lifts.Select(Network.IndexOf));
                foreach (var lift in lifts)
                {
                    // What is outside comes off before anything inside, its riders with it.
                    var free = TeardownGraph
                        .Removing(rider)
                        .Where(a => possible[Network.IndexOf(a)] && (!IsOutside(lift) || IsOutside(a)))
                        .ToList();
                    if (free.Count > 0)
                    {
                        requirements[lift] = [.. requirements[lift], new Requirement(free)];
                        var at = Network.IndexOf(lift);
                        clauses[at] = [.. clauses[at], Network.Indices(requirements[lift][^1])];
                        changed = true;
                    }
                }
            }
        }

        return changed;
    }
}

/// <summary>What an act costs and wants, looked up once.</summary>
internal readonly record struct ActTraits(
    long Milliseconds,
    Tool ToolOut,
    Tool ToolBack,
    Side? SideUp,
    int[] InHandAfter,
    bool Outside
)
{
    /// <summary>Whether an order takes the one as it takes the other.</summary>
    public bool IsAlike(ActTraits other) =>
        (ToolOut, ToolBack, SideUp, Outside) == (other.ToolOut, other.ToolBack, other.SideUp, other.Outside)
        && InHandAfter.AsSpan().SequenceEqual(other.InHandAfter);
}
