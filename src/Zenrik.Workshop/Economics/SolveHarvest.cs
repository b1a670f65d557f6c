using Google.OrTools.Sat;
using Zenrik.Core.Economics;

namespace Zenrik.Workshop.Economics;

/// <summary>The harvest that gives most, exactly: a facility location problem as an integer programme (CP-SAT of OR-Tools).</summary>
internal static class SolveHarvest
{
    /// <summary>Parts of a minute the solver reckons in.</summary>
    private const int Ticks = 100;

    private static readonly TimeSpan Limit = TimeSpan.FromSeconds(5);

    /// <returns>What to take out for whom, and whether it is proved that nothing gives more.</returns>
    public static (IReadOnlyList<Taken> Taken, bool Proved) Run(HarvestProblem problem)
    {
        var model = new CpModel();
        var opens = problem.Donors.Select(d => model.NewBoolVar(d.Tag)).ToArray();
        var takes = new List<(Taken What, BoolVar Is)>();
        foreach (var (p, part) in problem.Parts.Index())
        {
            for (var w = 0; w < problem.Wants.Count; w++)
            {
                if (problem.Serves(p, w) && problem.Gain(p, w) > 0)
                {
                    var take = model.NewBoolVar($"{p} for {w}");
                    model.AddImplication(take, opens[part.Donor]);
                    takes.Add((new Taken(p, w), take));
                }
            }
        }

        foreach (var part in takes.GroupBy(t => t.What.Part))
        {
            model.AddAtMostOne(part.Select(t => t.Is));
        }

        foreach (var want in takes.GroupBy(t => t.What.Want))
        {
            model.AddAtMostOne(want.Select(t => t.Is));
        }

        model.Maximize(
            LinearExpr.WeightedSum(
                [.. takes.Select(t => t.Is), .. opens],
                [
                    .. takes.Select(t => (long)Math.Round(Ticks * problem.Gain(t.What.Part, t.What.Want))),
                    .. problem.Donors.Select(d => -(long)Math.Round(Ticks * d.Opens)),
                ]
            )
        );
        var solver = new CpSolver
        {
            StringParameters = FormattableString.Invariant(
                $"max_time_in_seconds:{Limit.TotalSeconds} num_workers:2 random_seed:1"
            ),
        };
        return solver.Solve(model) switch
        {
            CpSolverStatus.Optimal => (Chosen(), true),
            CpSolverStatus.Feasible => (Chosen(), false),
            _ => ([], false),
        };

        IReadOnlyList<Taken> Chosen() => [.. takes.Where(t => solver.BooleanValue(t.Is)).Select(t => t.What)];
    }
}
