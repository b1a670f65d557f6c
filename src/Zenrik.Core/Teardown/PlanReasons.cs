using Zenrik.Core.HouseRules;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Teardown;

/// <summary>Why an act is in a plan, and why it stands where it does.</summary>
internal sealed class PlanReasons
{
    private readonly TeardownGraph graph;
    private readonly IReadOnlyList<Act> acts;
    private readonly HousePractice practice;
    private readonly Dictionary<Act, int> position = [];
    private readonly Dictionary<Act, Act> leadsTo = [];

    public PlanReasons(
        TeardownGraph graph,
        IReadOnlyList<Requirement> goals,
        IReadOnlyList<Act> acts,
        HousePractice practice
    )
    {
        (this.graph, this.acts, this.practice) = (graph, acts, practice);
        foreach (var (i, act) in acts.Index())
        {
            position.TryAdd(act, i);
        }

        FollowBackFrom(goals);
    }

    /// <summary>The chain of acts from the one this makes possible to a goal.</summary>
    public IReadOnlyList<Act> Why(Act act)
    {
        var chain = new List<Act>();
        for (var at = act; leadsTo.TryGetValue(at, out var next); at = next)
        {
            chain.Add(next);
        }

        return chain;
    }

    /// <summary>Why an act of the way out stands at its place.</summary>
    public string Here(int at)
    {
        var act = acts[at];
        if (act.Kind == ActKind.TurnOver)
        {
            return "Nothing more can be done from the side that is up.";
        }

        if (!graph.Acts.Contains(act))
        {
            return "";
        }

        if (TeardownGraph.IsOutside(graph.Map, act))
        {
            return "It is done from outside, before the machine is opened.";
        }

        if (graph.TowardsIsolation.Contains(act))
        {
            return act.Kind == ActKind.Isolate
                ? "Isolation comes before anything else inside."
                : "It is on the way to isolation, and only that is done before the machine is electrically off.";
        }

        var enabler = graph
            .RequirementsOf(act)
            .Select(r => r.AnyOf.Where(Done).Select(a => position[a]).DefaultIfEmpty(-1).Min())
            .DefaultIfEmpty(-1)
            .Max();
        var tool = ActTools.For(graph.Map, act, practice);
        var since = enabler >= 0 ? $"Possible since act {enabler + 1}" : "Possible from the start";
        var before = ToolBefore(at);
        return tool == Tool.Fingers ? $"{since}; it needs no tool, so nothing is gained by waiting."
            : before == tool
                ? $"{since}; its tool is in hand ({tool.Name()}) and does all it can before it is put down."
            : before == Tool.Fingers ? $"{since}; the first tool is taken up here ({tool.Name()})."
            : $"{since}; nothing was left for the tool before ({before.Name()}), so it changes here.";

        bool Done(Act a) => position.TryGetValue(a, out var p) && p < at;
    }

    private Tool ToolBefore(int at)
    {
        for (var i = at - 1; i >= 0; i--)
        {
            if (ActTools.For(graph.Map, acts[i], practice) is var tool and not Tool.Fingers)
            {
                return tool;
            }
        }

        return Tool.Fingers;
    }

    private void FollowBackFrom(IReadOnlyList<Requirement> goals)
    {
        // Breadth first, so that the chain shown is the shortest.
        var waiting = new Queue<Act>(goals.Select(Met).OfType<Act>());
        var seen = waiting.ToHashSet();
        while (waiting.TryDequeue(out var act))
        {
            foreach (var before in graph.RequirementsOf(act).Select(Met).OfType<Act>())
            {
                if (seen.Add(before))
                {
                    leadsTo[before] = act;
                    waiting.Enqueue(before);
                }
            }
        }
    }

    /// <summary>The act of the plan that meets a requirement first.</summary>
    private Act? Met(Requirement requirement) =>
        requirement.AnyOf.Where(position.ContainsKey).Select(a => (Act?)a).MinBy(a => position[a!.Value]);
}
