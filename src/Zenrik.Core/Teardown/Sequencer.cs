using System.Numerics;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Teardown;

/// <summary>
/// Puts a set of acts in the order that changes tools and turns the machine over least, out and back; among such orders
/// what belongs together stays together and the hand travels little.
/// </summary>
/// <remarks>
/// <para>
/// A mode is what is free of charge at a moment: the tool in hand, the tool the way back will have needed last, the side
/// that is up. Doing at once everything possible in the present mode is never worse than keeping some of it for later.
/// Take a best order and an act in it that could have been done now for nothing, and move it here. What it makes
/// possible stays possible, since acts only ever add possibilities. No change of tool is added here, as the mode does not
/// change; and taking an element out of a sequence never adds a change between neighbours: the two it stood between
/// differ at most once where it differed from both, or agree. If it was the last, the tool in hand at the turning point
/// may change, which costs at most the one change its leaving saved. So the only question is which mode comes next, and
/// the search (A*, states = acts done × mode) asks nothing else.
/// </para>
/// <para>
/// The bound for what remains: every tool still needed and not in hand is picked up at least once, out and back alike,
/// and the other side is turned to once if anything needs it.
/// </para>
/// </remarks>
internal sealed class Sequencer
{
    private readonly TeardownProblem problem;
    private readonly Act[] acts;
    private readonly int[] global;
    private readonly int[][] waitsOn; // By clause: the alternatives that are in the set.
    private readonly int[] clauseOwner;
    private readonly int[][] clausesMetBy; // By act: the clauses it meets.
    private readonly int[] clauseCount;
    private readonly int[] toolOut;
    private readonly int[] toolBack;
    private readonly int[] side; // -1: either.
    private readonly int outsideCount;
    private readonly bool[] outside;
    private readonly bool[] given;
    private readonly Mode first;
    private readonly SearchLimit limit;
    private bool searched;
    private Moment? best;

    private readonly record struct Mode(int Hand, int Back, int Side);

    private sealed class Moment
    {
        public required Bits Done { get; init; }
        public required Bits Met { get; init; }
        public required int[] Unmet { get; init; }
        public int DoneCount { get; set; }
        public int OutsideDone { get; set; }
        public Mode Mode { get; set; }
        public long Cost { get; set; }
        public Moment? Before { get; set; }

        public Moment Copy() =>
            new()
            {
                Done = Done.Copy(),
                Met = Met.Copy(),
                Unmet = (int[])Unmet.Clone(),
                DoneCount = DoneCount,
                OutsideDone = OutsideDone,
                Mode = Mode,
                Cost = Cost,
                Before = this,
            };
    }

    /// <param name="problem">The problem.</param>
    /// <param name="chosen">The acts to put in order, those done already included.</param>
    /// <param name="standing">Where the work stands; null: at its beginning.</param>
    /// <param name="limit">How long to look for the best order; then the next best one is taken.</param>
    public Sequencer(
        TeardownProblem problem,
        IEnumerable<int> chosen,
        Standing? standing = null,
        SearchLimit limit = default
    )
    {
        this.problem = problem;
        this.limit = limit;
        standing ??= Standing.None;
        var network = problem.Network;
        global = [.. chosen];
        acts = [.. global.Select(i => network.Acts[i])];
        var local = global.Index().ToDictionary(g => g.Item, g => g.Index);
        var clauses = new List<int[]>();
        var owners = new List<int>();
        for (var a = 0; a < acts.Length; a++)
        {
            foreach (var clause in network.Clauses[global[a]])
            {
                clauses.Add([.. clause.Where(local.ContainsKey).Select(i => local[i])]);
                owners.Add(a);
            }
        }

        waitsOn = [.. clauses];
        clauseOwner = [.. owners];
        clauseCount = new int[acts.Length];
        foreach (var owner in owners)
        {
            clauseCount[owner]++;
        }

        var metBy = acts.Select(_ => new List<int>()).ToList();
        foreach (var (c, clause) in waitsOn.Index())
        {
            foreach (var a in clause)
            {
                metBy[a].Add(c);
            }
        }

        clausesMetBy = [.. metBy.Select(m => m.ToArray())];
        var traits = global.Select(i => problem.Traits[i]).ToList();
        toolOut = [.. traits.Select(t => (int)t.ToolOut)];
        toolBack = [.. traits.Select(t => (int)t.ToolBack)];
        side = [.. traits.Select(t => t.SideUp is { } s ? (int)s : -1)];
        outside = [.. traits.Select(t => t.Outside)];
        outsideCount = outside.Count(o => o);
        given = [.. acts.Select(standing.Out.Contains)];
        first = new Mode((int)standing.Hand, (int)standing.BackHand, (int)standing.Up);
    }

    /// <summary>A cost no order of these acts, or of more, goes below.</summary>
    public static long Bound(TeardownProblem problem, Bits acts, Standing? standing = null)
    {
        standing ??= Standing.None;
        var (outTools, backTools, turned) = (0, 0, false);
        foreach (var i in acts.Members)
        {
            if (standing.Out.Count > 0 && standing.Out.Contains(problem.Network.Acts[i]))
            {
                continue;
            }

            var traits = problem.Traits[i];
            outTools |= 1 << (int)traits.ToolOut;
            backTools |= 1 << (int)traits.ToolBack;
            turned |= traits.SideUp is { } side && side != standing.Up;
        }

        // Where nothing is out yet, the way back picks up its last tool for nothing.
        var back = Apart(backTools, standing.BackHand) - (standing.BackHand == Tool.Fingers ? 1 : 0);
        return (Apart(outTools, standing.Hand) + Math.Max(0, back)) * TeardownProblem.ToolChangeMs
            + (turned ? TeardownProblem.TurnOverMs : 0);

        static int Apart(int tools, Tool free) => BitOperations.PopCount((uint)tools & ~(1u | (1u << (int)free)));
    }

    /// <summary>The least time spent on tools and turning, out and back; null when the acts have no order.</summary>
    public long? Cost() => Best()?.Cost;

    /// <summary>The acts still to do in order, with turning over put in. The acts have one.</summary>
    public IReadOnlyList<Act> Order()
    {
        var modes = new List<Mode>();
        for (var at = Best(); at is not null; at = at.Before)
        {
            modes.Insert(0, at.Mode);
        }

        return Arrange(modes);
    }

    /// <summary>Searched for once: what a time limit let find is what is put in order.</summary>
    private Moment? Best()
    {
        if (!searched)
        {
            (searched, best) = (true, Search());
        }

        return best;
    }

    private Moment? Search()
    {
        var start = Begin();
        Exhaust(start);
        var open = new PriorityQueue<Moment, (long Bound, int Order)>();
        var reached = new HashSet<(Bits, Mode)>();
        var order = 0;
        open.Enqueue(start, (Remaining(start), order));
        while (open.TryDequeue(out var moment, out _))
        {
            if (!reached.Add((moment.Done, moment.Mode)))
            {
                continue;
            }

            if (moment.DoneCount == acts.Length)
            {
                return moment;
            }

            // Without time, on from here alone, by what most acts wait for.
            var modes = ModesAfter(moment);
            if (limit.IsOver)
            {
                open.Clear();
                modes = modes.Take(1);
            }

            foreach (var next in modes)
            {
                var then = moment.Copy();
                then.Cost += Change(moment.Mode, next);
                then.Mode = next;
                Exhaust(then);
                if (then.DoneCount == acts.Length && next.Back != 0 && next.Back != next.Hand)
                {
                    then.Cost += TeardownProblem.ToolChangeMs; // The way back begins with another tool in hand.
                }

                if (!reached.Contains((then.Done, then.Mode)))
                {
                    open.Enqueue(then, (then.Cost + Remaining(then), ++order));
                }
            }
        }

        return null;
    }

    private Moment Begin()
    {
        var moment = new Moment
        {
            Done = new Bits(acts.Length),
            Met = new Bits(waitsOn.Length),
            Unmet = (int[])clauseCount.Clone(),
            Mode = first,
        };
        for (var a = 0; a < acts.Length; a++)
        {
            if (given[a])
            {
                Do(moment, a);
            }
        }

        return moment;
    }

    /// <summary>Modes in which something that waits could be done, those with most waiting first.</summary>
    private IEnumerable<Mode> ModesAfter(Moment moment) =>
        Enumerable
            .Range(0, acts.Length)
            .Where(a => IsReady(moment, a))
            .GroupBy(a => ModeFor(moment.Mode, a))
            .OrderByDescending(g => g.Count())
            .ThenBy(g => g.Key.Hand)
            .ThenBy(g => g.Key.Side)
            .Select(g => g.Key);

    private Mode ModeFor(Mode now, int act) =>
        new(
            toolOut[act] == 0 ? now.Hand : toolOut[act],
            toolBack[act] == 0 ? now.Back : toolBack[act],
            side[act] < 0 ? now.Side : side[act]
        );

    private static long Change(Mode from, Mode to) =>
        (from.Hand != to.Hand ? TeardownProblem.ToolChangeMs : 0)
        + (from.Back != to.Back && from.Back != 0 ? TeardownProblem.ToolChangeMs : 0)
        + (from.Side != to.Side ? TeardownProblem.TurnOverMs : 0);

    private long Remaining(Moment moment)
    {
        var (outTools, backTools, turn) = (0, 0, false);
        for (var a = 0; a < acts.Length; a++)
        {
            if (!moment.Done[a])
            {
                outTools |= 1 << toolOut[a];
                backTools |= 1 << toolBack[a];
                turn |= side[a] >= 0 && side[a] != moment.Mode.Side;
            }
        }

        outTools &= ~(1 | (1 << moment.Mode.Hand));
        backTools &= ~(1 | (1 << moment.Mode.Back));
        var back = BitOperations.PopCount((uint)backTools);
        return (BitOperations.PopCount((uint)outTools) + (moment.Mode.Back == 0 ? Math.Max(0, back - 1) : back))
                * TeardownProblem.ToolChangeMs
            + (turn ? TeardownProblem.TurnOverMs : 0);
    }

    private bool IsReady(Moment moment, int act) =>
        !moment.Done[act] && moment.Unmet[act] == 0 && (outside[act] || moment.OutsideDone == outsideCount);

    private bool IsFree(Moment moment, int act) => IsReady(moment, act) && ModeFor(moment.Mode, act) == moment.Mode;

    private void Exhaust(Moment moment)
    {
        for (var grown = true; grown; )
        {
            grown = false;
            for (var a = 0; a < acts.Length; a++)
            {
                if (IsFree(moment, a))
                {
                    Do(moment, a);
                    grown = true;
                }
            }
        }
    }

    private void Do(Moment moment, int act)
    {
        moment.Done.Add(act);
        moment.DoneCount++;
        moment.OutsideDone += outside[act] ? 1 : 0;
        foreach (var clause in clausesMetBy[act])
        {
            if (!moment.Met[clause])
            {
                moment.Met.Add(clause);
                moment.Unmet[clauseOwner[clause]]--;
            }
        }
    }

    /// <summary>Goes through the modes; within each, kin first, then the nearest.</summary>
    private List<Act> Arrange(List<Mode> modes)
    {
        var map = problem.Graph.Map;
        var moment = Begin();
        var order = new List<Act>();
        var at = new Point(map.Drawing.WidthMm / 2, map.Drawing.HeightMm);
        var last = -1;
        // What each act cannot do without, smallest first: the jobs acts can have in common.
        var jobs = global.Select(i => problem.Network.Necessary[i]).OrderBy(job => job.Count).ToArray();
        foreach (var mode in modes)
        {
            if (mode.Side != moment.Mode.Side)
            {
                order.Add(Act.TurnOver);
            }

            moment.Mode = mode;
            while (true)
            {
                var (here, previous) = (at, last);
                var common = previous < 0 ? [] : Array.FindAll(jobs, job => job[global[previous]]);
                var next = Enumerable
                    .Range(0, acts.Length)
                    .Where(a => IsFree(moment, a))
                    .OrderBy(a => problem.Graph.TowardsIsolation.Contains(acts[a]) ? 0 : 1)
                    .ThenBy(a => IsSlotWithLeads(moment, a))
                    .ThenBy(a => Kinship(previous, common, a))
                    .ThenBy(a => Places(map, acts[a]).Select(here.DistanceTo).DefaultIfEmpty(0).Min())
                    .FirstOrDefault(-1);
                if (next < 0)
                {
                    break;
                }

                Do(moment, next);
                order.Add(acts[next]);
                last = next;
                at = Places(map, acts[next]).OrderBy(here.DistanceTo).Append(here).First();
            }
        }

        return order;

        // How closely two acts belong together: the size of the smallest job that needs both. A frame's two screw groups
        // do; two things a whole board waits for hardly.
        int Kinship(int previous, Bits[] common, int act) =>
            previous < 0 || problem.Network.Necessary[global[act]][global[previous]] ? -1
            : Array.FindIndex(common, job => job[global[act]]) is var smallest and >= 0 ? smallest
            : int.MaxValue;

        // A card's leads open more easily while it lies flat in its slot.
        bool IsSlotWithLeads(Moment now, int act) =>
            acts[act].Kind == ActKind.Open
            && map.Joint(acts[act].Joint) is var slot
            && slot.Kind.IsSlot()
            && Enumerable
                .Range(0, acts.Length)
                .Any(a =>
                    a != act
                    && IsReady(now, a)
                    && acts[a].Kind == ActKind.Open
                    && map.Joint(acts[a].Joint).Between.Contains(slot.Card(map))
                );
    }

    private static IEnumerable<Point> Places(ServiceMap map, Act act) =>
        act.Kind switch
        {
            ActKind.Undo => map.Fastener(act.Fastener).Positions,
            ActKind.Open or ActKind.Isolate => [map.Joint(act.Joint).At],
            ActKind.Free => [map.Tie(act.Tie).At],
            ActKind.LiftOut or ActKind.SetAside when map.Part(act.Part).Shape is { } shape => [shape.Bounds.Centre],
            _ => [],
        };
}
