using System.Globalization;
using Zenrik.Core.MapMaking;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;
using Zenrik.Core.Tests.MapMaking;
using Zenrik.Workshop.Shipped;

namespace Zenrik.Benchmarks;

/// <summary>
/// How soon a draft is as good as the truth: the shipped maps are hidden, and technicians with habits of their own take the
/// machines apart in orders the machines allow, and every other time more of them than need be.
/// </summary>
internal static class LearningMeasures
{
    private static readonly int[] After = [1, 2, 3, 5, 10];

    public static void Measure(bool quick)
    {
        Console.WriteLine("Maps made by working (shipped maps hidden; plans from the draft, on the true machine)");
        Say("no questions asked", asks: false, wrong: 0, quick);
        Say("the question worth asking, at the bench", asks: true, wrong: 0, quick);
        Say("the same, one answer in twenty wrong", asks: true, wrong: 0.05, quick);
    }

    private static void Say(string variant, bool asks, double wrong, bool quick)
    {
        Console.WriteLine($"  {variant}");
        var ratios = After.ToDictionary(n => n, _ => new List<double>());
        var refused = After.ToDictionary(n => n, _ => 0);
        var (waits, none) = (After.ToDictionary(n => n, _ => 0), After.ToDictionary(n => n, _ => 0));
        var (acts, asked, twice, recovered, sunk) = (0, 0, 0, 0, 0);
        foreach (var (file, json) in ShippedMaps.All)
        {
            var machine = new Learner(ServiceMapReader.Read(file, json).Map!);
            if (machine.Goals.Count == 0)
            {
                continue;
            }

            for (var run = 0; run < (quick ? 1 : 3); run++)
            {
                var random = new Random(417 + run);
                var (sightings, said, known) = (
                    new List<Sighting>(),
                    new List<Statement>(),
                    new HashSet<(string, string)>()
                );
                for (var n = 1; n <= After[^1]; n++)
                {
                    // Every other session somebody takes something out that need not be.
                    PartId? besides = random.Next(2) == 0 ? machine.Goals[random.Next(machine.Goals.Count)] : null;
                    var goal = machine.Goals[random.Next(machine.Goals.Count)];
                    var work = machine.Work(goal, random.Next(1, 5), n, besides);
                    acts += work.Things.Count;
                    if (asks && sightings.Count > 0)
                    {
                        Ask(machine, work, sightings, said, known, random);
                    }

                    sightings.Add(work);
                    if (ratios.TryGetValue(n, out var here))
                    {
                        Judge(machine, new Draft(machine.Truth.Model, sightings, said), here, n);
                    }
                }
            }
        }

        foreach (var n in After)
        {
            var all = ratios[n].Order().ToList();
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"    after {n, 2} sessions: {all.Count, 4} plans, {100.0 * all.Count / (all.Count + refused[n]):0.0} of 100 allowed by the machine; seconds ÷ the optimum: median {Benchmarks.Measure.Quantile(all, 0.5):0.00}, nine in ten within {Benchmarks.Measure.Quantile(all, 0.9):0.00}; of {waits[n]} waits of parts for parts {none[n]} are none"
                )
            );
        }

        if (asks)
        {
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"    {asked} questions in {acts} acts, one in {(double)acts / Math.Max(1, asked):0.0}; asked twice: {twice}{(wrong > 0 ? $"; of {recovered + sunk} plans the machine refused at the end, {recovered} work once the bench has said what held it" : "")}"
                )
            );
        }

        void Judge(Learner machine, Draft draft, List<double> here, int n)
        {
            var between = draft.Map.Waits.Where(w =>
                w.IsCover && w.Waiting.Kind == ActKind.LiftOut && machine.Goals.Contains(w.Waiting.Part)
            );
            foreach (var wait in between)
            {
                waits[n]++;
                none[n] += machine.Needs(wait.Waiting.Part, wait.First.Part) ? 0 : 1;
            }

            foreach (var part in draft.Map.Assemblies.Select(a => a.Part))
            {
                if (!TeardownPlanner.Plan(draft.Map, [new Goal.LiftOut(part)]).Try(out var plan, out _))
                {
                    refused[n]++;
                }
                else if (machine.Refuses(plan) is null)
                {
                    var (mine, best) = machine.Seconds(plan, part);
                    here.Add(mine / best);
                }
                else
                {
                    refused[n]++;
                    if (n == After[^1])
                    {
                        _ = Recovers(machine, draft, part) ? recovered++ : sunk++;
                    }
                }
            }
        }

        void Ask(
            Learner machine,
            Sighting work,
            List<Sighting> sightings,
            List<Statement> said,
            HashSet<(string, string)> known,
            Random random
        )
        {
            var off = new HashSet<Act>();
            foreach (var act in work.Acts.Select(Act.Parse).TakeWhile(a => a.Kind < ActKind.PutIn))
            {
                var draft = new Draft(machine.Truth.Model, sightings, said);
                var goals = draft.Map.Assemblies.Select(a => (a.Part, 5.0)).Take(6).ToList();
                if (act.Kind == ActKind.LiftOut && Questions.Best(draft, act, off, goals) is { Wait: var wait })
                {
                    asked++;
                    twice += known.Add((wait.What, wait.After)) ? 0 : 1;
                    var must = machine.Needs(wait.Waiting.Part, wait.First.Part) != (random.NextDouble() < wrong);
                    Statement answer = must
                        ? new Statement.Needs(wait.What, wait.After)
                        : new Statement.NeedNot(wait.What, wait.After);
                    if (draft.Refuse(answer) is null)
                    {
                        said.Add(answer);
                    }
                }

                off.Add(act);
            }
        }
    }

    /// <summary>Whether a bench that meets what holds a part, and says so, comes to a plan that works.</summary>
    private static bool Recovers(Learner machine, Draft draft, PartId part)
    {
        for (var tries = 0; tries < 12; tries++)
        {
            if (!TeardownPlanner.Plan(draft.Map, [new Goal.LiftOut(part)]).Try(out var plan, out _))
            {
                return false;
            }

            if (machine.Refuses(plan) is null)
            {
                return true;
            }

            if (machine.Held(plan) is not { } held)
            {
                return false;
            }

            draft = draft.With(new Statement.Needs(held.What.ToString(), held.After.ToString()));
        }

        return false;
    }
}
