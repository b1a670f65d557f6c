using Zenrik.Core.BenchLedger;
using Zenrik.Core.MapMaking;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.Tests.MapMaking;

/// <summary>
/// A machine whose map is known here and hidden from the draft, and technicians who take it apart in orders of their own, all
/// of which the machine allows.
/// </summary>
/// <remarks>
/// Free sessions know one way to take a part out, so parts that can be had in several ways have their first one here.
/// </remarks>
internal sealed class Learner(ServiceMap map)
{
    private IReadOnlyList<PartId>? goals;

    /// <summary>The map as it is kept.</summary>
    public ServiceMap Whole { get; } = map;

    /// <summary>The truth.</summary>
    public ServiceMap Truth { get; } = OneWay(map);

    /// <summary>Parts that can be ordered, which is what repairs are for, and can be had in that one way.</summary>
    public IReadOnlyList<PartId> Goals => goals ??= Reachable();

    private IReadOnlyList<PartId> Reachable() =>
        [
            .. Truth
                .Assemblies.Select(a => a.Part)
                .Where(p => Truth.Parts.Any(t => t.Id == p))
                .Distinct()
                .Where(p => TeardownPlanner.Plan(Truth, [new Goal.LiftOut(p)]).Try(out _, out _)),
        ];

    private static ServiceMap OneWay(ServiceMap map)
    {
        var plain = map.Plain();
        return plain with
        {
            Parts =
            [
                .. plain.Parts.Select(p =>
                    p with
                    {
                        Ways = [],
                        BlockedBy =
                        [
                            .. p.BlockedBy.Concat(p.Ways.FirstOrDefault(w => !w.SetsAside)?.Clears ?? []).Distinct(),
                        ],
                    }
                ),
            ],
        };
    }

    /// <summary>One session for one part, in an order this person likes and the machine allows.</summary>
    /// <param name="habit">The person; the same one prefers the same orders.</param>
    /// <param name="besides">A part this person takes out too, not knowing that it need not be.</param>
    public Sighting Work(PartId goal, int habit, int session, PartId? besides = null)
    {
        Goal[] goals = besides is { } more
            ? [new Goal.LiftOut(goal), new Goal.LiftOut(more)]
            : [new Goal.LiftOut(goal)];
        var plan = TeardownPlanner.Plan(Truth, goals).Value;
        var left = plan.Acts.Where(a => a.Kind != ActKind.TurnOver && a.Reverse is not null).Distinct().ToList();
        left.RemoveAll(a => left.Exists(o => o.Reverse == a && o.Kind < ActKind.PutIn) && a.Kind >= ActKind.PutIn);
        var machine = new Simulation(Truth);
        foreach (var preparation in Truth.Preparations)
        {
            _ = machine.Do(Act.Prepare(preparation));
        }

        var done = new List<Act>();
        var graph = TeardownGraph.Of(Truth);
        while (left.Count > 0)
        {
            // By habit among what can be done; over it goes when nothing can.
            var next = left.OrderBy(a => new Random(unchecked((habit * 7919) + Stable(a))).Next())
                .FirstOrDefault(Allowed);
            if (next.Target is null)
            {
                _ = machine.Do(Act.TurnOver);
                next = left.First(Allowed);
            }

            _ = machine.Do(next) is { } reason ? throw new InvalidOperationException(reason) : 0;
            done.Add(next);
            left.Remove(next);
        }

        // The machine allows it, and isolation comes before what is not on the way to it.
        bool Allowed(Act act) =>
            graph.RequirementsOf(act).All(r => r.AnyOf.Any(done.Contains)) && machine.Copy().Do(act) is null;

        var back = Enumerable.Reverse(done).Select(a => a.Reverse!.Value);
        return new Sighting
        {
            Session = new Guid(session, 0, 0, new byte[8]),
            By = new Guid(habit, 1, 0, new byte[8]),
            Acts = [.. done.Concat(back).Select(a => Mine(a).ToString())],
            Things =
            [
                .. done.Select((a, i) => new SightedThing(Mine(a).ToString(), Named(a, done.Take(i).ToHashSet()))),
            ],
        };
    }

    /// <summary>The acts of a draft's plan on the true machine; null when it allows them all.</summary>
    public string? Refuses(Plan plan)
    {
        var machine = new Simulation(Truth);
        foreach (var preparation in Truth.Preparations)
        {
            _ = machine.Do(Act.Prepare(preparation));
        }

        foreach (var act in Acts(plan))
        {
            if (machine.Do(act) is { } reason)
            {
                return $"{act}: {reason}";
            }
        }

        return machine.Unfinished();
    }

    /// <summary>Whether one part cannot come out while another is in.</summary>
    public bool Needs(PartId part, PartId other) =>
        TeardownPlanner.Plan(Truth, [new Goal.LiftOut(part)]).Value.Acts.Contains(Act.LiftOut(other));

    /// <summary>Of a plan the machine refuses: the act it refuses, and the part one sees in its way.</summary>
    public (Act What, Act After)? Held(Plan plan)
    {
        var graph = TeardownGraph.Of(Truth);
        var done = new HashSet<Act>();
        foreach (var act in Acts(plan).Where(a => a.Kind is > ActKind.TurnOver and < ActKind.PutIn))
        {
            var missing = graph
                .RequirementsOf(act)
                .Where(r => !r.AnyOf.Any(done.Contains))
                .SelectMany(r => r.AnyOf)
                .FirstOrDefault(a => a.Kind == ActKind.LiftOut);
            if (missing.Target is not null)
            {
                return (Mine(act), missing);
            }

            done.Add(act);
        }

        return null;
    }

    /// <summary>Seconds by hand of a draft's plan on the true machine, and of the best plan there is.</summary>
    public (double Draft, double Best) Seconds(Plan plan, PartId goal)
    {
        Goal[] goals = [new Goal.LiftOut(goal)];
        var best = TeardownPlanner.Plan(Truth, goals).Value;
        return (ByHand(TeardownPlanner.Restore(Truth, goals, [.. Acts(plan)])), ByHand(best));

        // What is done to the machine itself; cleaning, tests and checks are the same for both.
        static double ByHand(Plan plan) =>
            plan
                .Steps.Where(s => s.Act.Kind is > ActKind.Prepare and <= ActKind.Reconnect or ActKind.CleanAndPaste)
                .Sum(s => s.Seconds);
    }

    private IEnumerable<Act> Acts(Plan plan)
    {
        foreach (
            var act in plan.Acts.Where(a =>
                a.Kind == ActKind.TurnOver
                || a.Reverse is not null
                || a.Kind is >= ActKind.PutIn and <= ActKind.Reconnect
            )
        )
        {
            var theirs = act.Kind is ActKind.Isolate or ActKind.Reconnect
                ? act with
                {
                    Target = Truth.Isolation.Value,
                }
                : act;
            if (theirs.Kind == ActKind.PutIn && Truth.Part(theirs.Part).Thermal is not null)
            {
                yield return Act.CleanAndPaste(theirs.Part);
            }

            yield return theirs;
        }
    }

    private static Act Mine(Act act) =>
        act.Kind is ActKind.Isolate or ActKind.Reconnect ? act with { Target = "isolation" } : act;

    private NamedThing Named(Act act, HashSet<Act> off) =>
        act.Kind switch
        {
            ActKind.Undo => new NamedThing
            {
                Kind = NamedKind.Screws,
                Name = act.Target,
                Identity = act.Target,
                Count = Truth.Fastener(act.Fastener).Count,
                Drive = Truth.Fastener(act.Fastener).Screw.Drive,
                Side = Truth.Fastener(act.Fastener).Side,
            },
            ActKind.Open or ActKind.Isolate => new NamedThing
            {
                Kind = act.Kind == ActKind.Open ? NamedKind.Joint : NamedKind.Isolation,
                Name = act.Target,
                Identity = act.Target,
                Joint = Truth.Joint(act.Joint).Kind,
                Side = Truth.Joint(act.Joint).Side,
            },
            ActKind.Free => new NamedThing
            {
                Kind = NamedKind.Tie,
                Name = act.Target,
                Identity = act.Target,
                Side = Truth.Tie(act.Tie).Side,
            },
            _ => new NamedThing
            {
                Kind = NamedKind.Part,
                Name = act.Target,
                Identity = act.Target,
                Exchanged = Goals.Contains(act.Part),
                Side = Truth.Part(act.Part).Side,
                Outside = Truth.Part(act.Part).Outside,
                Held =
                [
                    .. Truth
                        .Fasteners.Where(f => f.Holds == act.Part)
                        .Select(f => Act.Undo(f.Id))
                        .Concat(
                            Truth
                                .Joints.Where(j => j.Between.Contains(act.Part))
                                .Select(j => TeardownGraph.Opening(Truth, j.Id))
                        )
                        .Concat(Truth.Ties.Where(t => t.Of == act.Part).Select(t => Act.Free(t.Id)))
                        .Where(off.Contains)
                        .Select(a => Mine(a).ToString()),
                ],
                Carries =
                [
                    .. Truth
                        .MovingWith(act.Part, off.Where(a => a.Kind == ActKind.LiftOut).Select(a => a.Part).ToHashSet())
                        .Where(p => p != act.Part)
                        .Select(p => p.Value),
                ],
            },
        };

    /// <summary>The same number for the same act in every process.</summary>
    private static int Stable(Act act) => act.ToString().Aggregate(17, (h, c) => unchecked((h * 31) + c));
}
