using Google.OrTools.Sat;
using Zenrik.Core.Scheduling;

namespace Zenrik.Workshop.Scheduling;

/// <summary>A schedule with what is known of how good it can be.</summary>
/// <param name="Orders">Of each hand the jobs in their order.</param>
/// <param name="Late">Minutes too late, each by its weight.</param>
/// <param name="Bound">No schedule has fewer.</param>
internal sealed record SolvedSchedule(IReadOnlyList<IReadOnlyList<int>> Orders, long Late, long Bound);

/// <summary>
/// The schedule with the least weighted lateness, by constraint programming (CP-SAT of OR-Tools): each hand's jobs are a
/// circuit of arcs, so that an arc between two on the same model saves setting up.
/// </summary>
internal static class SolveSchedule
{
    /// <summary>A model larger than this is not even set up in the time there is: some 150 jobs for four hands.</summary>
    private const long MostArcs = 100_000;

    /// <summary>Searches from a schedule on; what it finds is never worse.</summary>
    /// <param name="from">A schedule that can be.</param>
    /// <param name="limit">How long it may take.</param>
    public static SolvedSchedule Run(BenchWork work, IReadOnlyList<IReadOnlyList<int>> from, TimeSpan limit)
    {
        var had = work.Cost(from)!.Value;
        var arcs = (long)work.Hands.Count * work.Jobs.Count * work.Jobs.Count;
        if (had.Late == 0 || arcs > MostArcs || work.Jobs.Count != from.Sum(o => o.Count))
        {
            return new SolvedSchedule(from, had.Late, 0);
        }

        var model = new CpModel();
        var late = work
            .Jobs.Select(
                (_, j) =>
                    model.NewIntVar(
                        0,
                        work.Hands.Max(h => h.Shifts.Minutes) + work.DueAt[j] + HouseEnd(work),
                        $"late {j}"
                    )
            )
            .ToArray();
        var places = new Dictionary<(int Job, int Hand), (IntVar Begins, IntVar Ends, BoolVar Here)>();
        for (var h = 0; h < work.Hands.Count; h++)
        {
            LayOut(h);
        }

        for (var j = 0; j < work.Jobs.Count; j++)
        {
            model.AddExactlyOne(places.Where(p => p.Key.Job == j).Select(p => p.Value.Here));
        }

        Hint();
        model.Minimize(LinearExpr.WeightedSum(late, work.Jobs.Select(j => j.Weight).ToArray()));
        var solver = new CpSolver
        {
            StringParameters = FormattableString.Invariant(
                $"max_time_in_seconds:{limit.TotalSeconds} num_workers:2 random_seed:1"
            ),
        };
        if (solver.Solve(model) is not (CpSolverStatus.Optimal or CpSolverStatus.Feasible))
        {
            return new SolvedSchedule(from, had.Late, 0);
        }

        var bound = (long)Math.Ceiling(solver.BestObjectiveBound - 1e-6);
        // What the solver leaves open, who is done when beside the lateness, is tidied up.
        var found = Dispatch.Improve(
            work,
            [
                .. work.Hands.Select(
                    (_, h) =>
                        (IReadOnlyList<int>)
                            [
                                .. places
                                    .Where(p => p.Key.Hand == h && solver.BooleanValue(p.Value.Here))
                                    .OrderBy(p => solver.Value(p.Value.Begins))
                                    .Select(p => p.Key.Job),
                            ]
                ),
            ]
        );
        return work.Cost(found) is { } cost && cost < had
            ? new SolvedSchedule(found, cost.Late, bound)
            : new SolvedSchedule(from, had.Late, bound);

        void LayOut(int h)
        {
            var (first, gaps) = work.Away(h);
            var end = work.Hands[h].Shifts.Minutes;
            List<int> mine = [.. Enumerable.Range(0, work.Jobs.Count).Where(j => work.May(j, h))];
            var circuit = model.AddCircuit();
            var idle = model.NewBoolVar($"{h} idle");
            circuit.AddArc(0, 0, idle);
            foreach (var j in mine)
            {
                var begins = model.NewIntVar(work.ReadyAt[j][h], Math.Min(end, work.PinnedAt[j]), $"{j} on {h} begins");
                var ends = model.NewIntVar(0, end, $"{j} on {h} ends");
                var here = model.NewBoolVar($"{j} on {h}");
                places[(j, h)] = (begins, ends, here);
                circuit.AddArc(j + 1, j + 1, here.Not());
                var until = LinearExpr.NewBuilder().Add(ends).Add(first - work.DueAt[j]);
                foreach (var (after, minutes) in gaps)
                {
                    var beyond = model.NewBoolVar($"{j} on {h} beyond {after}");
                    model.Add(ends <= after).OnlyEnforceIf([here, beyond.Not()]);
                    until.AddTerm(beyond, minutes);
                }

                model.Add(late[j] >= until).OnlyEnforceIf(here);
            }

            foreach (var j in mine)
            {
                Arc(-1, j);
                circuit.AddArc(j + 1, 0, model.NewBoolVar($"{j} last on {h}"));
                foreach (var i in mine.Where(i => i != j))
                {
                    Arc(i, j);
                }
            }

            foreach (var (a, b) in work.Pinned(h).Zip(work.Pinned(h).Skip(1)))
            {
                model.Add(places[(a, h)].Ends <= places[(b, h)].Begins);
            }

            void Arc(int before, int job)
            {
                var follows = model.NewBoolVar($"{job} after {before} on {h}");
                circuit.AddArc(before + 1, job + 1, follows);
                var (begins, ends, _) = places[(job, h)];
                model.Add(ends == begins + work.Takes(h, job, before)).OnlyEnforceIf(follows);
                if (before >= 0)
                {
                    model.Add(begins >= places[(before, h)].Ends).OnlyEnforceIf(follows);
                }
            }
        }

        void Hint()
        {
            foreach (var ((j, h), place) in places)
            {
                model.AddHint(place.Here, from[h].Contains(j));
            }

            for (var h = 0; h < from.Count; h++)
            {
                foreach (var (j, begins, ends) in work.Walk(h, from[h]))
                {
                    model.AddHint(places[(j, h)].Begins, begins);
                    model.AddHint(places[(j, h)].Ends, ends);
                }
            }
        }
    }

    private static int HouseEnd(BenchWork work) =>
        work.Hands.Select((h, i) => work.HouseAt(i, h.Shifts.Minutes)).DefaultIfEmpty().Max();
}
