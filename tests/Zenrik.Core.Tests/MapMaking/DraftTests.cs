using System.Numerics;
using CsCheck;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.Fit;
using Zenrik.Core.MapMaking;
using Zenrik.Core.Parts;
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
    public void The_truthmachine_allows_every_plan_made_from_a_draft() =>
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
        Refused(new Statement.Lies(fan, new Shape.Rect(300, 200, 90, 90), null)).ShouldContain("outside the drawing");

        Refused(new Statement.Lies("undo:fan-screws", null, [new Point(5, 5)])).ShouldContain("one for each screw");

        var said = Of(
            Sandpiper,
            sessions,
            new Statement.Measures(310, 215),
            new Statement.Called(fan, "Blower"),
            new Statement.InSlot("fan", "fan"),
            new Statement.Lies(fan, new Shape.Rect(20, 20, 60, 60), null)
        );
        var part = said.Map.Part(PartId.Of("fan"));
        (part.Name, part.Slot, part.Shape!.Bounds.Width).ShouldBe(("Blower", "fan", 60));
        // Nobody measured the screws, so nothing is said of their size.
        said.Map.Fasteners.ShouldAllBe(f => f.Screw.Size == "length not measured");
        said.Unplaced.ShouldNotContain(Act.LiftOut(part.Id));
        said.Thing(Act.LiftOut(part.Id))!.Name.ShouldBe("Blower");

        string Refused(Statement statement) => draft.Refuse(statement)?.Message ?? "";
    }

    [Fact]
    public void Two_names_of_one_thing_are_one_and_what_does_not_exist_is_gone()
    {
        var ours = Sandpiper.Work(PartId.Of("fan"), 1, 1);
        var theirs = Renamed(Sandpiper.Work(PartId.Of("fan"), 2, 2));
        var two = Of(Sandpiper, [ours, theirs]);
        two.Map.Parts.ShouldContain(p => p.Id == PartId.Of("cooler"));

        var same = new Statement.Same("lift-out:cooler", "lift-out:fan");
        two.Refuse(same).ShouldBeNull();
        // As if the second had called it so from the beginning, whatever was said of either name before.
        var one = Of(Sandpiper, [ours, theirs], new Statement.Called("lift-out:cooler", "Blower"), same);
        var plain = Of(
            Sandpiper,
            [ours, Sandpiper.Work(PartId.Of("fan"), 2, 2)],
            new Statement.Called("lift-out:fan", "Blower")
        );
        ServiceMapReader.Write(one.Map).ShouldBe(ServiceMapReader.Write(plain.Map));

        var gone = two.With(new Statement.Absent("lift-out:cooler"));
        ServiceMapRules.Check("draft", gone.Map).ShouldBeEmpty();
        gone.Map.Parts.ShouldNotContain(p => p.Id == PartId.Of("cooler"));
        gone.Refuse(new Statement.Called("lift-out:cooler", "x"))!.Reason.ShouldBe(RefusalReason.NotFound);

        two.Refuse(new Statement.Same("lift-out:cooler", "undo:fan-screws"))!.Message.ShouldContain("of one kind");
        two.Refuse(new Statement.Same("undo:base-screws", "undo:fan-screws"))!.Message.ShouldContain("two things");
        two.Refuse(new Statement.Absent("isolate:isolation"))!.Message.ShouldContain("makes it dead");

        static Sighting Renamed(Sighting s) =>
            Sighting.Parse(
                s.ToText().Replace(":fan\"", ":cooler\"").Replace("\"identity\":\"fan\"", "\"identity\":\"cooler\"")
            );
    }

    [Fact]
    public void A_ribbon_said_of_one_part_may_lead_to_another_and_is_opened_before_that_comes_out()
    {
        string[] off =
        [
            "undo:base-screws",
            "lift-out:base-cover",
            "isolate:isolation",
            "open:key-ribbon",
            "undo:board-screws",
            "lift-out:board",
            "lift-out:deck",
        ];
        var shown = new Sighting
        {
            Session = Guid.NewGuid(),
            By = Guid.NewGuid(),
            Acts = [.. off, .. off.Reverse().Select(a => Act.Parse(a).Reverse!.Value.ToString())],
            Things =
            [
                Thing("undo:base-screws", NamedKind.Screws),
                Thing("lift-out:base-cover", NamedKind.Part, "undo:base-screws"),
                Thing("open:key-ribbon", NamedKind.Joint),
                Thing("undo:board-screws", NamedKind.Screws),
                Thing("lift-out:board", NamedKind.Part, "undo:board-screws", "open:key-ribbon"),
                Thing("lift-out:deck", NamedKind.Part),
            ],
        };
        var need = new Statement.NeedNot("lift-out:deck", "lift-out:board");
        var draft = new Draft(Sandpiper.Truth.Model, [shown], [need]);
        Out(draft).ShouldContain("open:key-ribbon");
        Out(draft).ShouldNotContain("lift-out:board");
        Out(draft.With(new Statement.Joins("key-ribbon", "deck", "board"))).ShouldContain("open:key-ribbon");

        static IEnumerable<string> Out(Draft draft) =>
            TeardownPlanner
                .Plan(draft.Map, [new Goal.LiftOut(PartId.Of("deck"))])
                .Value.Acts.Where(a => a.Kind is > ActKind.TurnOver and < ActKind.PutIn)
                .Select(a => a.ToString());

        static SightedThing Thing(string what, NamedKind kind, params string[] held) =>
            new(
                what,
                new NamedThing
                {
                    Kind = kind,
                    Name = Act.Parse(what).Target.Replace('-', ' '),
                    Count = kind == NamedKind.Screws ? 4 : 0,
                    Joint = kind == NamedKind.Joint ? JointKind.FlipLockRibbon : null,
                    Held = kind == NamedKind.Part ? held : null,
                }
            );
    }

    [Fact]
    public void What_rides_on_a_part_moves_over_to_a_new_one_until_somebody_saw_that_it_brings_its_own()
    {
        var draft = Of(Sandpiper, Sessions(("board", 1)));
        var (board, fan) = (PartId.Of("board"), PartId.Of("fan"));
        draft.Map.TransferList(draft.Map.Assembly(AssemblyId.Of("board"))).ShouldBeEmpty();
        draft.Refuse(new Statement.Brings("board", "fan", true))!.Message.ShouldContain("does not ride on");
        draft.Refuse(new Statement.Brings("board", "nothing", true))!.Message.ShouldContain("no part");

        var riding = draft.With(new Statement.Rides("fan", "board"));
        riding.Brings(board, fan).ShouldBeNull();
        riding.RidersOf(board).ShouldBe([fan]);
        Plan(riding).Acts.ShouldContain(Act.LiftOut(fan));
        Plan(riding).TransferList.Select(p => p.Id).ShouldBe([fan]);

        var brings = new Statement.Brings("board", "fan", true);
        riding.Refuse(brings).ShouldBeNull();
        Plan(riding.With(brings)).TransferList.ShouldBeEmpty();
        Statement.Parse(brings.ToText()).ShouldBe(brings);
        var moves = riding.With(brings).With(new Statement.Brings("board", "fan", false));
        moves.Brings(board, fan).ShouldBe(false);
        Plan(moves).TransferList.Select(p => p.Id).ShouldBe([fan]);

        // A bench that took it off the old one for the new one has answered too.
        var shown = Sessions(("board", 1))[0];
        var moved = Of(
            Sandpiper,
            [
                shown with
                {
                    Things =
                    [
                        .. shown.Things.Select(t =>
                            t.Off == "lift-out:fan" ? t with { Thing = t.Thing with { MovesFrom = "board" } } : t
                        ),
                    ],
                },
            ]
        );
        moved.Brings(board, fan).ShouldBe(false);
        moved.RidesOn(fan).ShouldBe(board);

        // What the new one brings is taken off no more, whatever else is planned anew later.
        var ledger = Ledger.Begin(
            new Brief(Plan(riding), new Dictionary<string, PartNumber>(), new Dictionary<string, PartNumber>())
        );
        var found = ledger.Add(ledger.Correct(new MapCorrection.Brings(board, fan)).Value).Value;
        found.ToMove.ShouldBeEmpty();
        Simulation.Check(found.Plan.Map, [.. found.Plan.Acts]).ShouldBeNull();
        ledger.Correct(new MapCorrection.Brings(board, PartId.Of("battery"))).Refusal.ShouldNotBeNull();
        MapCorrection
            .Read(new MapCorrection.Brings(board, fan).ToString())
            .ShouldBe(new MapCorrection.Brings(board, fan));
        MapCorrection.Read("clean:fan").ShouldBeNull();

        static Plan Plan(Draft draft) =>
            TeardownPlanner.Plan(draft.Map, [new Goal.Replace(AssemblyId.Of("board"))]).Value;
    }

    [Fact]
    public void Screws_and_joints_are_what_a_person_says_they_are()
    {
        var draft = Of(Sandpiper, Sessions(("fan", 1)));
        var screws = draft.Map.Fasteners.Single(f => f.Holds == PartId.Of("fan"));
        var act = Act.Undo(screws.Id).ToString();
        var said = draft
            .With(new Statement.Screws(act, screws.Count + 2, Drive.T5, 3.5))
            .With(new Statement.Opens("fan-plug", JointKind.PullTabPlug));
        var group = said.Map.Fastener(screws.Id);
        (group.Count, group.Screw.Drive, group.Screw.LengthMm, group.Positions.Count).ShouldBe(
            (screws.Count + 2, Drive.T5, 3.5, screws.Count + 2)
        );
        said.Thing(Act.Undo(screws.Id))!.Count.ShouldBe(screws.Count + 2);
        said.Map.Joint(JointId.Of("fan-plug")).Kind.ShouldBe(JointKind.PullTabPlug);
        draft.Refuse(new Statement.Screws(act, 41, Drive.T5, null))!.Message.ShouldContain("two groups");
        draft.Refuse(new Statement.Screws(act, 4, Drive.T5, 31))!.Message.ShouldContain("30 mm");
    }

    [Fact]
    public void A_draft_copied_from_a_like_model_is_that_model_until_sessions_show_otherwise()
    {
        foreach (var machine in Machines)
        {
            var truth = machine.Truth;
            var like = CopiedMap.Parse(new CopiedMap(machine.Whole).ToText());
            var copy = new Draft(truth.Model with { Code = "other", Name = "Other 14" }, [], [], like);
            ServiceMapReader.Read("copy", ServiceMapReader.Write(copy.Map)).Findings.ShouldBeEmpty(truth.Model.Code);
            foreach (var goal in machine.Goals)
            {
                var plan = TeardownPlanner.Plan(copy.Map, [new Goal.LiftOut(goal)]).Value;
                machine.Refuses(plan).ShouldBeNull($"{truth.Model.Code}, {goal}");
                var (draft, best) = machine.Seconds(plan, goal);
                (draft / best).ShouldBeLessThan(1.1, $"{truth.Model.Code}, {goal}");
            }

            copy.From.ShouldBe((0, 0));
            copy.Like.ShouldBe(truth.Model.Name);
            // What stands for things nobody has named is nobody's copy.
            copy.NotSeen.ShouldBe(
                TeardownGraph.Of(copy.Map).Acts.Where(a => a.Target is not ("loose-end" or "not-named")),
                ignoreOrder: true
            );
            copy.Map.Parts.Where(p => copy.NotSeen.Contains(Act.LiftOut(p.Id)))
                .ShouldAllBe(p => p.Shape!.Bounds == truth.Part(p.Id).Shape!.Bounds);
            copy.Map.Specifications.Count.ShouldBe(
                truth.Specifications.Count(s => s.IsOutside || truth.PartInSlot(s.Slot) is not null)
            );

            // What a session of the machine itself met is copied no longer, nor what a person has seen.
            var met = new Draft(truth.Model, [machine.Work(machine.Goals[0], 1, 1)], [], like);
            met.NotSeen.ShouldNotContain(Act.LiftOut(machine.Goals[0]));
            var other = met.NotSeen.First();
            met.With(new Statement.Seen(other.ToString()))
                .NotSeen.ShouldBe(met.NotSeen.Where(a => a != other), ignoreOrder: true);
        }
    }

    [Fact]
    public void A_session_that_does_without_what_was_copied_counts_more()
    {
        // On the machine itself the board comes out with the fan still in.
        var like = new CopiedMap(Sandpiper.Whole);
        var copy = new Draft(Sandpiper.Truth.Model, [], [], like);
        copy.Map.Part(PartId.Of("board")).BlockedBy.ShouldContain(PartId.Of("fan"));
        var board = Sandpiper.Work(PartId.Of("board"), 1, 2);
        string[] of = ["lift-out:fan", "put-in:fan"];
        var without = board with { Acts = [.. board.Acts.Where(a => !of.Contains(a))] };
        new Draft(Sandpiper.Truth.Model, [without], [], like)
            .Map.Part(PartId.Of("board"))
            .BlockedBy.ShouldNotContain(PartId.Of("fan"));
    }

    [Fact]
    public void What_a_machine_of_its_class_asks_for_is_asked_for_from_the_first_day()
    {
        var draft = Of(Sandpiper, Sessions(("board", 1), ("fan", 2)));
        string[] Kept(Draft of, string part) =>
            [
                .. TeardownPlanner
                    .Plan(of.Map, [new Goal.Replace(AssemblyId.Of(part))])
                    .Value.Acts.Where(a => a.Kind is ActKind.Prepare or ActKind.Check)
                    .Select(a => a.Target),
            ];

        var board = Kept(draft, "board");
        string[] asked =
        [
            "note-backup",
            "note-settings",
            "note-tag",
            "shut-down",
            "photo",
            "service-tag",
            "storage-mode",
            "recovery-key",
        ];
        board.ShouldBeSubsetOf([.. asked, .. draft.Map.Checks.Select(c => c.Id.Value)]);
        asked.ShouldBeSubsetOf(board);
        // Set in firmware before the installed system first starts.
        Array.IndexOf(board, "recovery-key").ShouldBeLessThan(Array.IndexOf(board, "charge"));
        Kept(draft, "fan").ShouldNotContain("note-backup");

        var said = draft.With(new Statement.Firmware([FirmwareOffers.BatteryOff]));
        Kept(said, "board").ShouldNotContain("service-tag");
        Kept(said, "board").ShouldContain("battery-off");
        draft.Refuse(new Statement.Firmware(["time-travel"]))!.Reason.ShouldBe(RefusalReason.NotFound);
    }

    [Fact]
    public void Whatever_is_entered_of_a_slot_is_a_map_that_reads_back()
    {
        var draft = Of(Sandpiper, Sessions(("battery", 1)));
        Gen.Select(Gen.Enum<SpecificationKind>(), Gen.Int[0, 1000000])
            .Sample(
                (kind, seed) =>
                {
                    var random = new Random(seed);
                    var values = SlotFacts
                        .Of(kind)
                        .Where(_ => random.Next(3) > 0)
                        .ToDictionary(f => f.Name, f => (string?)Value(f, random));
                    var facts = SlotFacts.Read("battery", kind, values).Value;
                    SlotFacts.Values(facts).Keys.ShouldBe(values.Keys, ignoreOrder: true);
                    var again = SlotFacts.Values(facts).ToDictionary(v => v.Key, v => (string?)v.Value);
                    Text(SlotFacts.Read("battery", kind, again).Value).ShouldBe(Text(facts));
                    var statement = (Statement.Takes)Statement.Parse(new Statement.Takes(facts).ToText());
                    draft.Refuse(statement).ShouldBeNull();
                    var map = draft.With(statement).Map;
                    ServiceMapReader.Read("draft", ServiceMapReader.Write(map)).Findings.ShouldBeEmpty();
                    Text(map.Specifications.Single()).ShouldBe(Text(facts));
                },
                iter: 300
            );
        draft.Refuse(new Statement.Takes(new Specification.Radio { Slot = "gills" }))!.Message.ShouldContain("gills");
        // No part has the charger's slot; any other name is none.
        var charger = new Specification.Charger { Slot = Specification.Charger.Outside, Watts = 65 };
        draft.Refuse(new Statement.Takes(charger with { Slot = "socket" }))!.Message.ShouldContain("socket");
        draft.Refuse(new Statement.Takes(charger)).ShouldBeNull();
        draft.With(new Statement.Takes(charger)).Map.Charger().ShouldBe(charger);
        SlotFacts
            .Read("battery", SpecificationKind.Battery, new Dictionary<string, string?> { ["volts"] = "230" })
            .Refusal!.Message.ShouldContain("between 1 and 30");
        SlotFacts
            .Read("drive", SpecificationKind.Drive, new Dictionary<string, string?> { ["lengthsMm"] = "30,31" })
            .Refusal!.Message.ShouldContain("M.2 lengths");

        static string Text(Specification facts) => new Statement.Takes(facts).ToText();

        static string Value(FormField field, Random random) =>
            field switch
            {
                { Several: true } => string.Join(
                    ',',
                    field.Choices.Select(c => c.Id).Take(random.Next(field.Choices.Count) + 1)
                ),
                { Choices.Count: > 0 } => field.Choices[random.Next(field.Choices.Count)].Id,
                { Least: { } least, Most: { } most, Whole: true } => $"{(random.Next(2) == 0 ? least : most):0}",
                { Least: { } least, Most: { } most } => FormattableString.Invariant(
                    $"{(random.Next(2) == 0 ? least : most):0.#}"
                ),
                { Name: "onlyNumbers" } => "AB-1, CD-2",
                _ => new string('x', random.Next((int)field.Most!) + 1),
            };
    }

    [Fact]
    public void A_drawing_is_placed_moved_and_marked()
    {
        var draft = Of(Sandpiper, Sessions(("fan", 1), ("board", 2)));
        var fan = Act.LiftOut(PartId.Of("fan")).ToString();
        var screws = draft.Map.Fasteners.Single(f => f.Holds == PartId.Of("fan"));
        var undo = Act.Undo(screws.Id).ToString();
        Point[] places = [.. Enumerable.Range(0, screws.Count).Select(i => new Point(30 + (10 * i), 40))];
        draft.Refuse(new Statement.Moved([fan], 5, 5))!.Message.ShouldContain("not placed yet");
        draft.Refuse(new Statement.Moved([], 5, 5))!.Message.ShouldContain("Tick");
        var placed = draft
            .With(new Statement.Lies(fan, new Shape.Circle(60, 60, 20), null))
            .With(new Statement.Lies(undo, null, places));
        placed.Refuse(new Statement.Moved([fan], 900, 0))!.Message.ShouldContain("outside the drawing");
        var moved = placed.With(new Statement.Moved([fan, undo], 5, -2)).With(new Statement.Moved([fan], 1, 0)).Map;
        moved.Part(PartId.Of("fan")).Shape.ShouldBe(new Shape.Circle(66, 58, 20));
        moved.Fastener(screws.Id).Positions.ShouldBe(places.Select(p => new Point(p.X + 5, p.Y - 2)));
        // Placed anew, what moved it before counts no longer.
        placed
            .With(new Statement.Moved([fan], 5, 5))
            .With(new Statement.Lies(fan, new Shape.Circle(60, 60, 20), null))
            .Map.Part(PartId.Of("fan"))
            .Shape.ShouldBe(new Shape.Circle(60, 60, 20));

        var more = placed
            .With(new Statement.Lies("open:fan-plug", null, [new Point(90, 40)]))
            .With(new Statement.Runs("fan-plug", [new Point(70, 60)]))
            .With(new Statement.Drawn("fan", 77))
            .With(new Statement.Stays("Hinge screw", DecoyKind.Screw, [new Point(12, 12)], "It holds the hinge."));
        more.Map.Joint(JointId.Of("fan-plug")).Route.ShouldBe([new Point(70, 60), new Point(90, 40)]);
        more.Map.Part(PartId.Of("fan")).Layer.ShouldBe(77);
        more.Map.Decoys.ShouldHaveSingleItem().Id.ShouldBe("hinge-screw");
        ServiceMapReader.Read("draft", ServiceMapReader.Write(more.Map)).Findings.ShouldBeEmpty();
        more.With(new Statement.Stays("hinge screw", DecoyKind.Screw, [], "None.")).Map.Decoys.ShouldBeEmpty();
        draft
            .Refuse(new Statement.Stays("Drain", DecoyKind.Drain, [new Point(5, 5)], " "))!
            .Message.ShouldContain("why");
        draft.Refuse(new Statement.Drawn("fan", 100))!.Message.ShouldContain("1");
        draft
            .Refuse(new Statement.Runs("fan-plug", [.. Enumerable.Range(0, 61).Select(i => new Point(i, 5))]))!
            .Message.ShouldContain("too many");
    }

    /// <summary>Against System.Numerics: the same turn, scale and shift put together from its own matrices.</summary>
    [Fact]
    public void A_photograph_lies_so_that_both_its_points_are_where_they_were_said_to_be()
    {
        Gen.Select(Gen.Double[-180, 180], Gen.Double[0.05, 0.4], Gen.Double[-200, 200], Gen.Double[-200, 200])
            .Sample(
                (turn, scale, right, down) =>
                {
                    var truth =
                        Matrix3x2.CreateRotation((float)(turn * Math.PI / 180))
                        * Matrix3x2.CreateScale((float)scale)
                        * Matrix3x2.CreateTranslation((float)right, (float)down);
                    Point Lies(double u, double v) =>
                        Vector2.Transform(new Vector2((float)u, (float)v), truth) is var at
                            ? new Point(at.X, at.Y)
                            : default;
                    var laid = new Underlay(
                        Guid.Empty,
                        1600,
                        1200,
                        new Point(104, 88),
                        Lies(104, 88),
                        new Point(1502, 91),
                        Lies(1502, 91)
                    );
                    laid.Refuse().ShouldBeNull();
                    var m = laid.Matrix;
                    foreach (var (u, v) in new[] { (104.0, 88.0), (1502, 91), (0, 1200), (800, 600) })
                    {
                        ((m.A * u) + (m.C * v) + m.E).ShouldBe(Lies(u, v).X, 0.01);
                        ((m.B * u) + (m.D * v) + m.F).ShouldBe(Lies(u, v).Y, 0.01);
                    }
                },
                iter: 500
            );
        var spot = new Underlay(
            Guid.Empty,
            1600,
            1200,
            new Point(5, 5),
            new Point(0, 0),
            new Point(6, 5),
            new Point(320, 0)
        );
        spot.Refuse()!.Message.ShouldContain("one spot");
        (spot with { Second = new Point(1500, 5), SecondMm = new Point(1, 1) })
            .Refuse()!
            .Message.ShouldContain("one spot");
        (spot with { Second = new Point(1700, 5) }).Refuse()!.Message.ShouldContain("on the photograph");
        (spot with { Width = 0 }).Refuse()!.Message.ShouldContain("size");
    }
}
