using CsCheck;
using Zenrik.Core.MapMaking;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.Tests.MapMaking;

/// <summary>Drafts of machines whose map is known and hidden: what benches show is all they have.</summary>
public sealed class DraftTests
{
    private static readonly IReadOnlyList<Learner> Machines =
    [
        .. Maps
            .ShippedFiles.Select(f => new Learner(ServiceMapReader.Read(f, File.ReadAllText(f)).Map!))
            .Where(m => m.Goals.Count > 0),
    ];

    private static readonly Gen<(Learner Machine, Sighting[] Sightings)> Seen =
        from machine in Gen.Int[0, Machines.Count - 1].Select(i => Machines[i])
        from goals in Gen.Int[0, machine.Goals.Count - 1].Array[1, 6]
        from habits in Gen.Int[1, 4].Array[goals.Length]
        from besides in Gen.Int[-machine.Goals.Count, machine.Goals.Count - 1].Array[goals.Length]
        select (
            machine,
            goals
                .Select(
                    (g, i) =>
                        machine.Work(machine.Goals[g], habits[i], i, besides[i] < 0 ? null : machine.Goals[besides[i]])
                )
                .ToArray()
        );

    private static Draft Of(Learner machine, IEnumerable<Sighting> sightings, params Statement[] said) =>
        new(machine.Truth.Model, sightings, said);

    [Fact]
    public void A_draft_is_a_map_that_passes_the_checks_and_reads_back() =>
        Seen.Sample(
            s =>
            {
                var map = Of(s.Machine, s.Sightings).Map;
                var reading = ServiceMapReader.Read("draft", ServiceMapReader.Write(map));
                reading.Findings.ShouldBeEmpty();
                ServiceMapReader.Write(reading.Map!).ShouldBe(ServiceMapReader.Write(map));
            },
            iter: 200
        );

    [Fact]
    public void The_true_machine_allows_every_plan_made_from_a_draft() =>
        Seen.Sample(
            s =>
            {
                var map = Of(s.Machine, s.Sightings).Map;
                ServiceMapRules.Check("draft", map).ShouldBeEmpty(s.Machine.Truth.Model.Code);
                foreach (var part in map.Assemblies.Select(a => a.Part))
                {
                    var plan = TeardownPlanner.Plan(map, [new Goal.LiftOut(part)]).Value;
                    Simulation.Check(map, [.. plan.Acts]).ShouldBeNull();
                    s.Machine.Refuses(plan).ShouldBeNull($"{s.Machine.Truth.Model.Code}, {part}");
                }
            },
            iter: 300
        );

    [Fact]
    public void All_shipped_models_but_those_that_only_come_apart_aside_teach() =>
        Machines.Count.ShouldBeGreaterThan(6);

    [Fact]
    public void In_whatever_order_sessions_come_the_draft_is_the_same() =>
        Seen.Sample(
            s =>
                ServiceMapReader
                    .Write(Of(s.Machine, s.Sightings.Reverse()).Map)
                    .ShouldBe(ServiceMapReader.Write(Of(s.Machine, s.Sightings).Map)),
            iter: 100
        );

    [Fact]
    public void What_holds_and_joins_a_part_is_never_lost_and_what_a_session_did_without_is() =>
        Seen.Sample(
            s =>
            {
                var map = Of(s.Machine, s.Sightings).Map;
                var graph = TeardownGraph.Of(map);
                foreach (var part in map.Parts.Where(p => s.Machine.Truth.Parts.Any(t => t.Id == p.Id && !t.Fixed)))
                {
                    TeardownGraph
                        .Of(s.Machine.Truth)
                        .RequirementsOf(Act.LiftOut(part.Id))
                        .Where(r => r.AnyOf is [{ Kind: ActKind.Undo }])
                        .SelectMany(r => r.AnyOf)
                        .Where(a => !Closure(graph, Act.LiftOut(part.Id)).Contains(a))
                        .ShouldBeEmpty();
                }

                // Every session itself is allowed by the draft it went into.
                foreach (var sighting in s.Sightings)
                {
                    var done = new HashSet<Act>();
                    foreach (var act in sighting.Acts.Select(Act.Parse).TakeWhile(a => a.Kind < ActKind.PutIn))
                    {
                        graph
                            .RequirementsOf(act)
                            .Where(r => !r.AnyOf.Any(done.Contains))
                            .ShouldBeEmpty($"{s.Machine.Truth.Model.Code}, {act}");
                        done.Add(act);
                    }
                }
            },
            iter: 200
        );

    /// <summary>All that an act waits for, by way of others too.</summary>
    private static HashSet<Act> Closure(TeardownGraph graph, Act from)
    {
        var all = new HashSet<Act>();
        var waiting = new Stack<Act>([from]);
        while (waiting.TryPop(out var act))
        {
            foreach (var next in graph.RequirementsOf(act).SelectMany(r => r.AnyOf).Where(all.Add))
            {
                waiting.Push(next);
            }
        }

        return all;
    }

    private static readonly Learner Sandpiper = Machines.Single(m => m.Truth.Model.Code == "sandpiper-14");

    private static Sighting[] Sessions(params (string Part, int By)[] sessions) =>
        [.. sessions.Select((s, i) => Sandpiper.Work(PartId.Of(s.Part), s.By, i))];

    [Fact]
    public void A_wait_goes_when_a_session_did_without_or_a_person_denies_it_and_stays_when_one_says_it_must()
    {
        var draft = Of(Sandpiper, Sessions(("heatsink", 1)));
        var wait = draft.Map.Waits.First(w => w.First.Kind == ActKind.LiftOut && w.Waiting.Kind == ActKind.LiftOut);
        Waits(Of(Sandpiper, Sessions(("heatsink", 1)), new Statement.NeedNot(wait.What, wait.After))).ShouldBeFalse();

        var sure = Of(Sandpiper, Sessions(("heatsink", 1)), new Statement.Needs(wait.What, wait.After));
        Waits(sure).ShouldBeFalse();
        sure.Map.Part(wait.Waiting.Part).BlockedBy.ShouldContain(wait.First.Part);
        // Said last counts; and what waits already cannot be made to wait the other way round.
        Waits(
                Of(
                    Sandpiper,
                    Sessions(("heatsink", 1)),
                    new Statement.NeedNot(wait.What, wait.After),
                    new Statement.Needs(wait.What, wait.After)
                )
            )
            .ShouldBeFalse();
        draft.Refuse(new Statement.Needs(wait.After, wait.What))!.Message.ShouldContain("both cannot come first");
        draft.Refuse(new Statement.Needs("lift-out:nothing", wait.What))!.Reason.ShouldBe(RefusalReason.NotFound);

        bool Waits(Draft of) => of.Map.Waits.Any(w => w.What == wait.What && w.After == wait.After);
    }

    [Fact]
    public void More_people_make_a_wait_likelier_than_more_sessions_of_one()
    {
        var map = Of(Sandpiper, Sessions(("heatsink", 1))).Map;
        var wait = map.Waits[0];
        double After(int sessions, int people) =>
            Belief.IsMust(wait with { Sessions = sessions, People = people }, map);
        After(1, 1).ShouldBeLessThan(After(3, 1));
        After(3, 1).ShouldBeLessThan(After(2, 2));
        After(9, 5).ShouldBeInRange(0.95, 1);
    }

    [Fact]
    public void What_people_say_of_a_thing_is_checked_and_kept()
    {
        var sessions = Sessions(("battery", 1), ("fan", 2));
        var draft = Of(Sandpiper, sessions);
        var fan = "lift-out:fan";
        Refused(new Statement.Called(fan, "battery")).ShouldContain("name of something else");
        Refused(new Statement.Called(fan, " ")).ShouldContain("A name has");
        Refused(new Statement.Measures(40, 200)).ShouldContain("between 100 and 600");
        Refused(new Statement.InSlot("fan", "Fan 1")).ShouldContain("lower case");
        Refused(new Statement.InSlot("fan", "battery")).ShouldContain("already");
        Refused(new Statement.Holds("undo:fan-screws", "battery")).ShouldContain("still on when the battery came out");
        Refused(new Statement.Rides("fan", "fan")).ShouldContain("ride on itself");
        Refused(new Statement.Joins("isolation", "battery", "battery")).ShouldContain("two different");
        Refused(new Statement.Lies(fan, new Shape { Rect = [300, 200, 90, 90] }, null))
            .ShouldContain("outside the drawing");

        Refused(new Statement.Lies("undo:fan-screws", null, [new Point(5, 5)])).ShouldContain("one for each screw");

        var said = Of(
            Sandpiper,
            sessions,
            new Statement.Measures(310, 215),
            new Statement.Called(fan, "Blower"),
            new Statement.InSlot("fan", "fan"),
            new Statement.Lies(fan, new Shape { Rect = [20, 20, 60, 60] }, null)
        );
        var part = said.Map.Part(PartId.Of("fan"));
        (part.Name, part.Slot, part.Shape!.Bounds.Width).ShouldBe(("Blower", "fan", 60));
        // Nobody measured the screws, so nothing is said of their size.
        said.Map.Fasteners.ShouldAllBe(f => f.Screw.Size == "length not measured");
        said.Unplaced.ShouldNotContain(Act.LiftOut(part.Id));
        said.Thing(Act.LiftOut(part.Id))!.Name.ShouldBe("Blower");

        string Refused(Statement statement) => draft.Refuse(statement)?.Message ?? "";
    }
}
