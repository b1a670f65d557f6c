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
/// The bound for what remains: along a chain of acts that wait for one another each tool is taken up at least once for every
/// stretch of the chain that wants it, and so each side is turned to; of every tool and side the chain counts that asks
/// most of it.
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
    private readonly int[][] inHandAfter; // By act: those after which any side will do.
    private readonly int[] sideInPlace; // -1: either, or it may be off its place by then.
    private readonly int outsideCount;
    private readonly bool[] outside;
    private readonly bool[] given;
    private readonly Mode first;
    private readonly SearchLimit limit;
    private readonly TakenUp handsUp;
    private readonly TakenUp backsUp;
    private readonly TakenUp sidesUp;
    private bool searched;
    private Moment? best;
    private bool isCut;

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
        var n = global.Length;
        var local = new int[network.Acts.Count];
        Array.Fill(local, -1);
        for (var a = 0; a < n; a++)
        {
            local[global[a]] = a;
        }

        acts = Array.ConvertAll(global, i => network.Acts[i]);
        clauseCount = Array.ConvertAll(global, i => network.Clauses[i].Length);
        waitsOn = new int[clauseCount.Sum()][];
        clauseOwner = new int[waitsOn.Length];
        var metBy = new List<int>[n];
        for (var a = 0; a < n; a++)
        {
            metBy[a] = [];
        }

        var c = 0;
        for (var a = 0; a < n; a++)
        {
            foreach (var clause in network.Clauses[global[a]])
            {
                waitsOn[c] = Here(clause);
                clauseOwner[c] = a;
                foreach (var b in waitsOn[c])
                {
                    metBy[b].Add(c);
                }

                c++;
            }
        }

        clausesMetBy = Array.ConvertAll(metBy, m => m.ToArray());
        var traits = Array.ConvertAll(global, i => problem.Traits[i]);
        toolOut = Array.ConvertAll(traits, t => (int)t.ToolOut);
        toolBack = Array.ConvertAll(traits, t => (int)t.ToolBack);
        side = Array.ConvertAll(traits, t => t.SideUp is { } s ? (int)s : -1);
        inHandAfter = Array.ConvertAll(traits, t => Here(t.InHandAfter));
        given = new bool[n];
        foreach (var act in standing.Out)
        {
            given[local[network.IndexOf(act)]] = true;
        }

        sideInPlace = new int[n];
        for (var a = 0; a < n; a++)
        {
            sideInPlace[a] = Array.TrueForAll(inHandAfter[a], b => !given[b] && network.Necessary[global[b]][global[a]])
                ? side[a]
                : -1;
        }

        outside = Array.ConvertAll(traits, t => t.Outside);
        outsideCount = outside.Count(o => o);
        first = new Mode((int)standing.Hand, (int)standing.BackHand, (int)standing.Up);
        handsUp = new TakenUp(this, toolOut, none: 0);
        backsUp = new TakenUp(this, toolBack, none: 0);
        sidesUp = new TakenUp(this, sideInPlace, none: -1);

        int[] Here(int[] some)
        {
            var count = 0;
            foreach (var i in some)
            {
                count += local[i] >= 0 ? 1 : 0;
            }

            var here = new int[count];
            foreach (var i in some)
            {
                if (local[i] >= 0)
                {
                    here[^count--] = local[i];
                }
            }

            return here;
        }
    }

    /// <summary>
    /// The least time spent on tools and turning, out and back; no more than <paramref name="atMost"/> is looked for, and that
    /// is returned where it takes so long or longer. Null when the acts have no order.
    /// </summary>
    public long? Cost(long atMost = long.MaxValue)
    {
        if (!searched)
        {
            (searched, best) = (true, Search(atMost, out isCut));
        }

        return best?.Cost ?? (isCut ? atMost : null);
    }

    /// <summary>The acts still to do in order, with turning over put in. The acts have one, and its cost was asked for.</summary>
    public IReadOnlyList<Act> Order()
    {
        _ = Cost();
        var modes = new List<Mode>();
        for (var at = best; at is not null; at = at.Before)
        {
            modes.Insert(0, at.Mode);
        }

        return Arrange(modes);
    }

    private Moment? Search(long atMost, out bool cut)
    {
        cut = false;
        var start = Begin();
        Exhaust(start);
        if (Remaining(start) >= atMost)
        {
            cut = true;
            return null;
        }

        var open = new PriorityQueue<Moment, (long Bound, int Order)>();
        var cheapest = new Dictionary<(Bits, Mode), long> { [(start.Done, start.Mode)] = 0 };
        var modes = new List<(Mode Mode, int Waiting)>();
        var order = 0;
        open.Enqueue(start, (Remaining(start), order));
        while (open.TryDequeue(out var moment, out _))
        {
            if (cheapest[(moment.Done, moment.Mode)] < moment.Cost)
            {
                continue;
            }

            if (moment.DoneCount == acts.Length)
            {
                return moment;
            }

            // Without time, on from here alone, by what most acts wait for.
            ModesAfter(moment, modes);
            if (limit.IsOver)
            {
                open.Clear();
                modes.RemoveRange(1, Math.Max(0, modes.Count - 1));
            }

            foreach (var (next, _) in modes)
            {
                var then = moment.Copy();
                then.Cost += Change(moment.Mode, next);
                then.Mode = next;
                Exhaust(then);
                if (then.DoneCount == acts.Length && next.Back != 0 && next.Back != next.Hand)
                {
                    then.Cost += TeardownProblem.ToolChangeMs; // The way back begins with another tool in hand.
                }

                var bound = then.Cost + Remaining(then);
                if (bound >= atMost)
                {
                    cut = true;
                }
                else if (!cheapest.TryGetValue((then.Done, then.Mode), out var known) || then.Cost < known)
                {
                    cheapest[(then.Done, then.Mode)] = then.Cost;
                    open.Enqueue(then, (bound, ++order));
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
    private void ModesAfter(Moment moment, List<(Mode Mode, int Waiting)> modes)
    {
        modes.Clear();
        for (var a = 0; a < acts.Length; a++)
        {
            if (IsReady(moment, a))
            {
                var mode = ModeFor(moment, a);
                var at = modes.FindIndex(m => m.Mode == mode);
                if (at < 0)
                {
                    modes.Add((mode, 1));
                }
                else
                {
                    modes[at] = (mode, modes[at].Waiting + 1);
                }
            }
        }

        modes.Sort(
            (x, y) =>
                (-x.Waiting, x.Mode.Hand, x.Mode.Side, x.Mode.Back).CompareTo(
                    (-y.Waiting, y.Mode.Hand, y.Mode.Side, y.Mode.Back)
                )
        );
    }

    private Mode ModeFor(Moment now, int act) =>
        new(
            toolOut[act] == 0 ? now.Mode.Hand : toolOut[act],
            toolBack[act] == 0 ? now.Mode.Back : toolBack[act],
            side[act] < 0 || IsInHand(now, act) ? now.Mode.Side : side[act]
        );

    private bool IsInHand(Moment now, int act) => Array.Exists(inHandAfter[act], b => now.Done[b]);

    private static long Change(Mode from, Mode to) =>
        (from.Hand != to.Hand ? TeardownProblem.ToolChangeMs : 0)
        + (from.Back != to.Back && from.Back != 0 ? TeardownProblem.ToolChangeMs : 0)
        + (from.Side != to.Side ? TeardownProblem.TurnOverMs : 0);

    private long Remaining(Moment moment)
    {
        handsUp.Begin();
        backsUp.Begin();
        sidesUp.Begin();
        for (var a = 0; a < acts.Length; a++)
        {
            if (!moment.Done[a])
            {
                handsUp.Add(a, moment.Mode.Hand);
                backsUp.Add(a, moment.Mode.Back);
                sidesUp.Add(a, moment.Mode.Side);
            }
        }

        // The way back begins with some tool; taking up that one is paid at the turning point, if at all.
        var back = Math.Max(0, backsUp.Sum() - (moment.Mode.Back == 0 ? 1 : 0));
        return ((handsUp.Sum() + back) * TeardownProblem.ToolChangeMs) + (sidesUp.Sum() * TeardownProblem.TurnOverMs);
    }

    /// <summary>
    /// How often each tool is taken up, or each side turned to, at least along the acts that wait for an act, one after
    /// another, itself included.
    /// </summary>
    private sealed class TakenUp
    {
        private readonly int[] kinds; // What is wanted at all, in the order it is counted in.
        private readonly int[]?[] counts; // By act: per kind, when it is not there before the act and when it is.
        private readonly int[] most;

        /// <param name="of">The acts and what waits for what.</param>
        /// <param name="wants">By act: what it wants.</param>
        /// <param name="none">Stands for whatever there is.</param>
        public TakenUp(Sequencer of, int[] wants, int none)
        {
            kinds = [.. wants.Where(w => w != none).Distinct()];
            counts = new int[wants.Length][];
            most = new int[kinds.Length];
            for (var a = 0; a < wants.Length; a++)
            {
                _ = From(a);
            }

            // Acts of a set that has an order wait for one another in no circle.
            int[] From(int act)
            {
                if (counts[act] is { } counted)
                {
                    return counted;
                }

                var from = counts[act] = new int[2 * kinds.Length];
                foreach (var c in of.clausesMetBy[act])
                {
                    if (of.waitsOn[c].Length == 1)
                    {
                        var then = From(of.clauseOwner[c]);
                        for (var i = 0; i < from.Length; i++)
                        {
                            from[i] = Math.Max(from[i], then[i]);
                        }
                    }
                }

                for (var k = 0; wants[act] != none && k < kinds.Length; k++)
                {
                    var isWanted = kinds[k] == wants[act];
                    var after = from[(2 * k) + (isWanted ? 1 : 0)];
                    from[2 * k] = after + (isWanted ? 1 : 0);
                    from[(2 * k) + 1] = after;
                }

                return from;
            }
        }

        public void Begin() => Array.Clear(most);

        public void Add(int act, int there)
        {
            var from = counts[act]!;
            for (var k = 0; k < kinds.Length; k++)
            {
                most[k] = Math.Max(most[k], from[(2 * k) + (kinds[k] == there ? 1 : 0)]);
            }
        }

        public int Sum()
        {
            var sum = 0;
            foreach (var count in most)
            {
                sum += count;
            }

            return sum;
        }
    }

    private bool IsReady(Moment moment, int act) =>
        !moment.Done[act] && moment.Unmet[act] == 0 && (outside[act] || moment.OutsideDone == outsideCount);

    private bool IsFree(Moment moment, int act) => IsReady(moment, act) && ModeFor(moment, act) == moment.Mode;

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
        var previous = -1;
        Point[][] places = [.. acts.Select(a => Places(map, a).ToArray())];
        bool[] isTowards = [.. acts.Select(problem.Graph.TowardsIsolation.Contains)];
        // A card's leads open more easily while it lies flat in its slot.
        int[][] leads = [.. acts.Select(LeadsOf)];
        // What each act cannot do without, smallest first: the jobs acts can have in common.
        Bits[] jobs = [.. global.Select(i => problem.Network.Necessary[i]).OrderBy(job => job.Count)];
        var free = new List<int>();
        foreach (var mode in modes)
        {
            if (mode.Side != moment.Mode.Side)
            {
                order.Add(Act.TurnOver);
            }

            moment.Mode = mode;
            while (true)
            {
                free.Clear();
                for (var a = 0; a < acts.Length; a++)
                {
                    if (IsFree(moment, a))
                    {
                        free.Add(a);
                    }
                }

                if (free.Count == 0)
                {
                    break;
                }

                Keep(free, a => isTowards[a]);
                Keep(free, a => !Array.Exists(leads[a], lead => IsReady(moment, lead)));
                KeepKin();
                var here = at;
                var next = free.MinBy(a => places[a].Length == 0 ? 0 : places[a].Min(here.DistanceTo));
                Do(moment, next);
                order.Add(acts[next]);
                previous = next;
                at = places[next].Length == 0 ? at : places[next].MinBy(here.DistanceTo);
            }
        }

        return order;

        static void Keep(List<int> some, Predicate<int> those)
        {
            if (some.Exists(those))
            {
                some.RemoveAll(a => !those(a));
            }
        }

        // What waited for the act before comes first; then how closely two acts belong together: by the size of the smallest
        // job that needs both. A frame's two screw groups do; two things a whole board waits for hardly.
        void KeepKin()
        {
            if (free.Count == 1 || previous < 0)
            {
                return;
            }

            var last = global[previous];
            if (free.Exists(a => problem.Network.Necessary[global[a]][last]))
            {
                free.RemoveAll(a => !problem.Network.Necessary[global[a]][last]);
                return;
            }

            foreach (var job in jobs)
            {
                if (job[last] && free.Exists(a => job[global[a]]))
                {
                    free.RemoveAll(a => !job[global[a]]);
                    return;
                }
            }
        }

        int[] LeadsOf(Act act)
        {
            if (act.Kind != ActKind.Open || map.Joint(act.Joint) is not { } slot || !slot.Kind.IsSlot())
            {
                return [];
            }

            var card = slot.Card(map);
            return
            [
                .. acts.Index()
                    .Where(a =>
                        a.Item.Kind == ActKind.Open && a.Item != act && map.Joint(a.Item.Joint).Between.Contains(card)
                    )
                    .Select(a => a.Index),
            ];
        }
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
