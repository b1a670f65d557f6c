using CsCheck;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.MapMaking;
using Zenrik.Core.Parts;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.Tests.MapMaking;

/// <summary>What a plan by a draft may try, on machines whose map is known and hidden.</summary>
public sealed class ProbeTests
{
    private static readonly IReadOnlyList<Learner> Machines =
    [
        .. Maps
            .ShippedFiles.Select(f => new Learner(ServiceMapReader.Read(f, File.ReadAllText(f)).Map!))
            .Where(m => m.Goals.Count > 1),
    ];

    /// <summary>A draft of one or two sessions, in which more came off than need be, and a part a repair is about.</summary>
    private static readonly Gen<(Learner Machine, Draft Draft, PartId Goal)> Doubtful =
        from machine in Gen.Int[0, Machines.Count - 1].Select(i => Machines[i])
        from goals in Gen.Int[0, machine.Goals.Count - 1].Array[1, 2]
        from besides in Gen.Int[0, machine.Goals.Count - 1].Array[goals.Length]
        from habits in Gen.Int[1, 9].Array[goals.Length]
        let sightings = goals.Select((g, i) => machine.Work(machine.Goals[g], habits[i], i, machine.Goals[besides[i]]))
        select (machine, new Draft(machine.Truth.Model, sightings, []), machine.Goals[goals[0]]);

    private static Ledger At(Plan plan, int step)
    {
        var ledger = Ledger.Begin(
            new Brief(plan, new Dictionary<string, PartNumber>(), new Dictionary<string, PartNumber>())
        );
        while (ledger.DoneSteps < step - 1)
        {
            var now = ledger.Current!;
            ledger = ledger.Add(new Entry.Done(now.Number, CautionRead: true)).Value;
        }

        return ledger;
    }

    [Fact]
    public void Trying_tears_nothing_and_both_ways_on_are_plans_the_machine_allows()
    {
        var (tries, came, stayed) = (0, 0, 0);
        Doubtful.Sample(
            s =>
            {
                if (!TeardownPlanner.Plan(s.Draft.Map, [new Goal.LiftOut(s.Goal)]).Try(out var plan, out _))
                {
                    return;
                }

                foreach (var (step, probe) in Probes.Along(s.Draft, plan))
                {
                    Interlocked.Increment(ref tries);
                    probe.Comes.ShouldBeInRange(0.001, 0.999);
                    probe.WorthSeconds.ShouldBeGreaterThan(0);
                    var tried = probe.Wait.Waiting.Part;
                    s.Draft.Map.Part(tried).Cells.ShouldBeFalse();

                    // It comes: the ledger takes it, and as fast as was said.
                    var ledger = At(plan, step);
                    var found = probe.Correction;
                    MapCorrection.Read(found.ToString())!.ToString().ShouldBe(found.ToString());
                    var trying = ledger.Add(ledger.Correct(found).Value).Value;
                    trying.Trying!.Tried.ShouldBe(probe.Wait.Waiting);
                    plan.Steps.Skip(step - 1).Sum(p => p.Seconds).ShouldBe(probe.IfNotTried, 0.001);
                    trying.Plan.Steps.Skip(step - 1).Sum(p => p.Seconds).ShouldBe(probe.IfItComes, 0.001);

                    // In the true machine nothing holds it at that moment but what may lie over it.
                    var off = trying.Plan.Acts.TakeWhile(a => a != probe.Wait.Waiting).ToHashSet();
                    var truth = s.Machine.Truth;
                    truth.Fasteners.Where(f => f.Holds == tried).ShouldAllBe(f => off.Contains(Act.Undo(f.Id)));
                    // What it carries keeps its joints to it; of a cable with two ends one is enough.
                    var moving = truth.MovingWith(tried);
                    truth
                        .Joints.Where(j => j.Id != truth.Isolation && j.Between.Count(moving.Contains) == 1)
                        .ShouldAllBe(j =>
                            off.Contains(Act.Open(j.Id))
                            || truth.OtherEnd(j.Id) != null && off.Contains(Act.Open(truth.OtherEnd(j.Id)!.Id))
                        );
                    truth
                        .Ties.Where(t => moving.Contains(t.Of) && !moving.Contains(t.On))
                        .ShouldAllBe(t => off.Contains(Act.Free(t.Id)));
                    if (s.Machine.Refuses(trying.Plan) is null)
                    {
                        Interlocked.Increment(ref came);
                    }
                    else
                    {
                        Interlocked.Increment(ref stayed);
                    }

                    // Given up before its screws are touched, it is the plan as it stood.
                    var waits = new MapCorrection.Stays(tried, probe.Wait.First.Part);
                    MapCorrection.Read(waits.ToString()).ShouldBe(waits);
                    var given = trying.Add(trying.Correct(waits).Value).Value;
                    given.Trying.ShouldBeNull();
                    ledger.Correct(waits).Refusal.ShouldNotBeNull();

                    s.Machine.Refuses(plan).ShouldBeNull();
                }
            },
            iter: 400
        );
        tries.ShouldBeGreaterThan(20);
        came.ShouldBeGreaterThan(0);
        (came + stayed).ShouldBe(tries);
    }

    [Fact]
    public void What_was_answered_is_not_tried_again()
    {
        var (machine, draft, goal) = Doubtful
            .Where(s =>
                TeardownPlanner.Plan(s.Draft.Map, [new Goal.LiftOut(s.Goal)]).Try(out var p, out _)
                && Probes.Along(s.Draft, p).Count > 0
            )
            .Single();
        var plan = TeardownPlanner.Plan(draft.Map, [new Goal.LiftOut(goal)]).Value;
        var (_, probe) = Probes.Along(draft, plan)[0];
        foreach (
            var said in new Statement[]
            {
                new Statement.Needs(probe.Wait.What, probe.Wait.After),
                new Statement.CannotTell(probe.Wait.What, probe.Wait.After),
                new Statement.NeedNot(probe.Wait.What, probe.Wait.After),
            }
        )
        {
            draft.Refuse(said).ShouldBeNull(machine.Truth.Model.Code);
            Probes
                .Along(draft.With(said), plan)
                .ShouldAllBe(p => p.Probe.Wait.What != probe.Wait.What || p.Probe.Wait.After != probe.Wait.After);
        }
    }
}
