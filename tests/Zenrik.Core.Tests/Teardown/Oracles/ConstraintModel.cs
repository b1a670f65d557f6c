using Google.OrTools.Sat;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.Tests.Teardown.Oracles;

/// <summary>
/// The problem as a constraint model solved by OR-Tools CP-SAT. Acts are assigned to phases; during a phase the tool in
/// hand, the tool of the way back and the side do not change. Used by tests and benchmarks only.
/// </summary>
internal static class ConstraintModel
{
    /// <summary>The least cost, proved by the solver.</summary>
    /// <param name="problem">The question.</param>
    /// <param name="phases">More phases than any best order has; the cost found stays a bound from above otherwise.</param>
    public static long Cost(TeardownProblem problem, int phases)
    {
        var model = new CpModel();
        var acts = Useful(problem);
        var index = acts.Index().ToDictionary(a => a.Item, a => a.Index);
        var taken = acts.Select(a => model.NewBoolVar($"{a}")).ToArray();
        var rank = acts.Select(a => model.NewIntVar(0, acts.Count, $"rank {a}")).ToArray();
        var phase = acts.Select(a => model.NewIntVar(0, phases - 1, $"phase {a}")).ToArray();

        foreach (var goal in problem.Goals)
        {
            model.AddBoolOr(goal.AnyOf.Where(index.ContainsKey).Select(a => taken[index[a]]));
        }

        foreach (var (i, act) in acts.Index())
        {
            foreach (var requirement in problem.RequirementsOf(act))
            {
                var supports = new List<ILiteral> { taken[i].Not() };
                foreach (var before in requirement.AnyOf.Where(index.ContainsKey).Select(a => index[a]))
                {
                    var support = model.NewBoolVar("");
                    model.AddImplication(support, taken[before]);
                    model.Add(rank[before] + 1 <= rank[i]).OnlyEnforceIf(support);
                    model.Add(phase[before] <= phase[i]).OnlyEnforceIf(support);
                    supports.Add(support);
                }

                model.AddBoolOr(supports);
            }

            if (!problem.IsOutside(act))
            {
                foreach (var (o, _) in acts.Index().Where(a => problem.IsOutside(a.Item)))
                {
                    model.Add(phase[o] <= phase[i]).OnlyEnforceIf([taken[o], taken[i]]);
                    model.Add(rank[o] + 1 <= rank[i]).OnlyEnforceIf([taken[o], taken[i]]);
                }
            }
        }

        var cost = LinearExpr.WeightedSum(taken, acts.Select(problem.Milliseconds));
        cost += Changes(model, phases, phase, rank, taken, acts, problem);
        model.Minimize(cost);
        var solver = new CpSolver { StringParameters = "num_search_workers:2 random_seed:1 max_time_in_seconds:60" };
        var status = solver.Solve(model);
        return status == CpSolverStatus.Optimal
            ? (long)Math.Round(solver.ObjectiveValue)
            : throw new InvalidOperationException($"CP-SAT ended with {status}");
    }

    /// <summary>Acts that some requirement reachable from the goals could ask for.</summary>
    private static List<Act> Useful(TeardownProblem problem)
    {
        var found = problem.Goals.SelectMany(g => g.AnyOf).ToHashSet();
        var open = new Stack<Act>(found);
        while (open.TryPop(out var act))
        {
            foreach (
                var next in problem
                    .RequirementsOf(act)
                    .SelectMany(r => r.AnyOf)
                    .Concat(problem.InHandAfter(act))
                    .Where(problem.Acts.Contains)
                    .Where(found.Add)
            )
            {
                open.Push(next);
            }
        }

        return [.. problem.Acts.Where(found.Contains)];
    }

    private static LinearExpr Changes(
        CpModel model,
        int phases,
        IntVar[] phase,
        IntVar[] rank,
        BoolVar[] taken,
        List<Act> acts,
        TeardownProblem problem
    )
    {
        var tools = Enum.GetValues<Tool>().Length;
        // Of each phase: hand, back and side as numbers; 0 is fingers, that is nothing yet.
        var hand = Enumerable.Range(0, phases).Select(k => model.NewIntVar(0, tools - 1, $"hand {k}")).ToArray();
        var back = Enumerable.Range(0, phases).Select(k => model.NewIntVar(0, tools - 1, $"back {k}")).ToArray();
        var side = Enumerable.Range(0, phases).Select(k => model.NewIntVar(0, 1, $"side {k}")).ToArray();
        foreach (var (i, act) in acts.Index())
        {
            In(hand, (int)problem.ToolOut(act), onlyIf: problem.ToolOut(act) != Tool.Fingers);
            In(back, (int)problem.ToolBack(act), onlyIf: problem.ToolBack(act) != Tool.Fingers);
            var inPlace = InPlace(i);
            In(side, (int)(problem.SideUp(act) ?? Side.Base), onlyIf: problem.SideUp(act) is not null, inPlace);

            void In(IntVar[] mode, int value, bool onlyIf, params ILiteral[] when)
            {
                if (onlyIf)
                {
                    var here = model.NewIntVar(0, tools, "");
                    model.AddElement(phase[i], mode, here);
                    model.Add(here == value).OnlyEnforceIf([taken[i], .. when]);
                }
            }
        }

        // True unless something before has taken what the act works on off its place.
        ILiteral[] InPlace(int act)
        {
            var off = new List<ILiteral>();
            foreach (var before in problem.InHandAfter(acts[act]).Select(a => acts.IndexOf(a)).Where(b => b >= 0))
            {
                var gone = model.NewBoolVar("");
                model.AddImplication(gone, taken[before]);
                model.Add(rank[before] + 1 <= rank[act]).OnlyEnforceIf(gone);
                model.Add(phase[before] <= phase[act]).OnlyEnforceIf(gone);
                off.Add(gone);
            }

            if (off.Count == 0)
            {
                return [];
            }

            var inPlace = model.NewBoolVar("");
            model.AddBoolOr(off).OnlyEnforceIf(inPlace.Not());
            return [inPlace];
        }

        LinearExpr total = LinearExpr.Constant(0);
        ILiteral? changedBefore = null;
        for (var k = 0; k < phases; k++)
        {
            var before = k == 0 ? null : hand[k - 1];
            var tool = Differ(hand[k], before, 0);
            var turn = Differ(side[k], k == 0 ? null : side[k - 1], (int)Side.Deck);
            total += TeardownProblem.ToolChangeMs * tool;
            total += TeardownProblem.TurnOverMs * turn;
            // Phases that change nothing come last: they are all alike otherwise.
            var changed = model.NewBoolVar("");
            model.AddMaxEquality(changed, [tool, turn]);
            if (changedBefore is not null)
            {
                model.AddImplication(changed, changedBefore);
            }

            changedBefore = k == 0 ? null : changed;
            if (k > 0)
            {
                // Taking up the first tool of the way back is paid at the turning point, if at all.
                var none = model.NewBoolVar("");
                model.Add(back[k - 1] == 0).OnlyEnforceIf(none);
                model.Add(back[k - 1] != 0).OnlyEnforceIf(none.Not());
                var paid = model.NewBoolVar("");
                var differ = Differ(back[k], back[k - 1], 0);
                model.AddBoolOr([paid, none, differ.Not()]);
                total += TeardownProblem.ToolChangeMs * paid;
                // Once there is one, it stays until another replaces it.
                model.Add(back[k] != 0).OnlyEnforceIf(none.Not());
            }
        }

        var ends = model.NewBoolVar("");
        var noBack = model.NewBoolVar("");
        model.Add(back[^1] == 0).OnlyEnforceIf(noBack);
        model.Add(back[^1] != 0).OnlyEnforceIf(noBack.Not());
        model.AddBoolOr([ends, noBack, Differ(back[^1], hand[^1], 0).Not()]);
        return total + (TeardownProblem.ToolChangeMs * ends);

        BoolVar Differ(IntVar a, IntVar? b, int constant)
        {
            var differ = model.NewBoolVar("");
            if (b is null)
            {
                model.Add(a == constant).OnlyEnforceIf(differ.Not());
                model.Add(a != constant).OnlyEnforceIf(differ);
            }
            else
            {
                model.Add(a == b).OnlyEnforceIf(differ.Not());
                model.Add(a != b).OnlyEnforceIf(differ);
            }

            return differ;
        }
    }
}
