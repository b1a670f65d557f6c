using Zenrik.Core.BenchLedger;
using Zenrik.Core.HouseRules;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.Tests.Teardown;

/// <summary>What a plan says about itself, what it learns, and what follows from it on paper.</summary>
public sealed class ExplanationTests
{
    private static Plan PlanFor(string model, string assembly) =>
        TeardownPlanner.Plan(Maps.Shipped(model).Plain(), [new Goal.Replace(AssemblyId.Of(assembly))]).Value;

    [Theory]
    [MemberData(nameof(OptimalityTests.Models), MemberType = typeof(OptimalityTests))]
    public void Every_act_of_the_way_out_says_why_it_is_there(string code)
    {
        var map = Maps.Shipped(code).Plain();
        foreach (var assembly in map.Assemblies.Where(a => map.Parts.Any(p => p.Id == a.Part)))
        {
            var plan = PlanFor(code, assembly.Id.Value);
            var goals = plan.Goals.SelectMany(map.Needs).SelectMany(r => r.AnyOf).ToHashSet();
            foreach (var step in plan.Steps.Where(s => s.Stage == Stage.Out && s.Act.Reverse is not null))
            {
                step.Here.ShouldNotBeEmpty($"{code}: {step.Act}");
                if (step.Act.Kind != ActKind.TurnOver && !goals.Contains(step.Act))
                {
                    goals.ShouldContain(step.Why[^1], $"{code}: {step.Act} leads to no goal");
                }
            }
        }
    }

    [Fact]
    public void A_component_that_cannot_be_had_alone_names_what_contains_it()
    {
        var turn = Maps.Shipped("sandpiper-13-turn").Plain();
        turn.AssembliesWith("touchpad").Select(a => a.Id.Value).ShouldBe(["deck"]);
        turn.ComponentsOf().Single(c => c.Id == "touchpad").Apart.ShouldBeFalse();
        turn.ComponentsOf().Single(c => c.Id == "fan").Apart.ShouldBeTrue();
        TeardownPlanner
            .Plan(Maps.Shipped("cormorant-15").Plain(), [new Goal.Replace(AssemblyId.Of("radio"))])
            .Refusal!.Message.ShouldContain("part of the board");
    }

    [Fact]
    public void The_ways_of_a_choice_stand_side_by_side()
    {
        var plan = PlanFor("sandpiper-14", "keyboard");
        var board = Alternatives.Of(plan).Where(a => a.Part.Id.Value == "board").ToList();
        board.Select(a => (a.Way, a.Taken)).ShouldBe([("with the heatsink on", true), ("heatsink off first", false)]);
        board[1].Plan!.Minutes.Expected.ShouldBeGreaterThan(board[0].Plan!.Minutes.Expected);
    }

    [Fact]
    public void Learned_times_move_from_the_standard_to_the_median_as_sessions_come_in()
    {
        var map = Maps.Sandpiper;
        var act = Act.Parse("lift-out:base-cover"); // Standard: 55 s.
        ActTimes After(params double[] seconds) => ActTimes.From(seconds.Select(s => (act, s)));
        After().Seconds(map, act).ShouldBe(55);
        // By hand, weight n / (n + 6): (1·115 + 6·55) / 7, and (6·115 + 6·55) / 12 for six that agree.
        After(115).Seconds(map, act).ShouldBe(445.0 / 7, 1e-9);
        After(115, 115, 115, 115, 115, 115).Seconds(map, act).ShouldBe(85, 1e-9);
        // One long lunch among five does not count: the median stays 115.
        After(110, 115, 120, 115, 9000).Of(act)!.MedianSeconds.ShouldBe(115);
    }

    [Fact]
    public void Durations_leave_out_pauses_and_what_was_taken_back()
    {
        Act[] acts =
        [
            Act.Parse("undo:base-screws"),
            Act.Parse("lift-out:base-cover"),
            Act.Parse("isolate:battery-plug"),
        ];
        var start = new DateTimeOffset(2026, 5, 4, 9, 0, 0, TimeSpan.Zero);
        DateTimeOffset At(int seconds) => start.AddSeconds(seconds);
        ActDurations
            .Of(
                acts,
                start,
                [
                    (new Entry.Counted(1, 3), At(20)),
                    (new Entry.Done(1), At(50)),
                    (new Entry.Done(2), At(100)),
                    (new Entry.TakenBack(), At(110)),
                    (new Entry.Done(2), At(115)), // After taking back: says nothing.
                    (new Entry.Done(3), At(115 + 3600)), // A pause of an hour.
                ]
            )
            .ShouldBe([(acts[0], 50)], "taken back, after taking back, and around a pause: nothing is known");
        ActDurations
            .Of(
                acts,
                start,
                [
                    (new Entry.Done(1), At(50)),
                    (new Entry.Replanned(2, null, "the plug first", [acts[2], acts[1]]), At(55)),
                    (new Entry.Done(2), At(90)),
                    (new Entry.Done(3), At(120)),
                ]
            )
            .ShouldBe([(acts[0], 50), (acts[2], 40), (acts[1], 30)], "each act by what it was, not by its old place");
        ActDurations
            .Of(acts, start, [(new Entry.Done(1), At(60)), (new Entry.Done(2), At(61)), (new Entry.Done(3), At(90))])
            .ShouldBe(
                [(acts[2], 29)],
                "what was ticked off afterwards says nothing, nor does the act that took its time"
            );
    }

    [Fact]
    public void A_revision_says_what_it_changed()
    {
        var newer = Maps.SandpiperWhole;
        var older = newer with
        {
            Fasteners = [.. newer.Fasteners.Where(f => f.Id.Value != "board-hidden")],
            Parts = [.. newer.Parts.Select(p => p.Id.Value == "fan" ? p with { Seconds = 99 } : p)],
            Checks = [.. newer.Checks, new Check { Id = CheckId.Of("smell"), Title = "No smell" }],
        };
        MapComparison
            .Between(older, newer)
            .ShouldBe([
                new MapChange(ChangeKind.Altered, "part", "fan"),
                new MapChange(ChangeKind.Added, "screws", "hidden board (1)"),
                new MapChange(ChangeKind.Removed, "check", "No smell"),
            ]);
    }

    [Theory]
    [MemberData(nameof(OptimalityTests.Models), MemberType = typeof(OptimalityTests))]
    public void The_mat_has_every_loose_screw_once_on_the_sheet_and_no_two_fields_touch(string code)
    {
        var loose = AllOut(code, PartsLaid.InTrays).FastenersOut.Where(f => !f.Captive).Select(f => f.Id).ToList();
        Mat(PartsLaid.InTrays).ShouldBe(loose, "in plan order, captive ones only named");
        Mat(PartsLaid.InShape)
            .ShouldBe(loose, ignoreOrder: true, "the same fields, lying as the screws lie in the machine");

        IEnumerable<FastenerId> Mat(PartsLaid way)
        {
            var plan = AllOut(code, way);
            var mat = ScrewMat.Of(plan);
            IsSound(mat, plan);
            return mat.Fields.Select(f => f.Group.Id);
        }
    }

    [Theory]
    [MemberData(nameof(OptimalityTests.Models), MemberType = typeof(OptimalityTests))]
    public void The_drawing_shows_the_side_that_is_up_and_paints_nothing_over_what_is_next(string code)
    {
        var map = Maps.Shipped(code);
        var plan = AllOut(code, PartsLaid.InTrays);
        var up = Side.Deck;
        for (var done = 0; done < plan.Steps.Count; done++)
        {
            var view = MachineView.Of(map, plan.Map, PlanMoment.After(plan, done));
            view.Seen.ShouldBe(map.IsTwoSided ? up : Side.Base);
            if (map.IsTwoSided)
            {
                var behind = up == Side.Base ? Side.Deck : Side.Base;
                view.Things.Where(t => t.Mark != Mark.Next && SideOf(t) == behind && t.Layer > 0).ShouldBeEmpty();
            }

            var next = view.Things.Where(t => t.Mark == Mark.Next && t is not DrawnThing.OfPart).ToList();
            view.Things.TakeLast(next.Count).ShouldBe(next);
            if (plan.Steps[done].Act.Kind == ActKind.TurnOver)
            {
                up = up == Side.Base ? Side.Deck : Side.Base;
            }
        }

        static Side SideOf(DrawnThing thing) =>
            thing switch
            {
                DrawnThing.OfPart p => p.Part.Side,
                DrawnThing.OfScrews s => s.Group.Side,
                DrawnThing.OfJoint j => j.Joint.Side,
                DrawnThing.OfTie t => t.Tie.Side,
                DrawnThing.OfDecoy d => d.Decoy.Side,
                _ => throw new InvalidOperationException(),
            };
    }

    [Theory]
    [MemberData(nameof(OptimalityTests.Models), MemberType = typeof(OptimalityTests))]
    public void In_the_machines_shape_each_part_that_is_out_lies_where_it_sits_and_covers_lie_beside(string code)
    {
        var plan = AllOut(code, PartsLaid.InShape);
        var view = MachineView.Of(Maps.Shipped(code), plan.Map, PlanMoment.After(plan, plan.OutCount));
        view.LaidInShape.ShouldBeTrue();
        foreach (var laid in view.Laid.Where(l => l.Part.Layer < MachineView.CoverLayer))
        {
            var b = laid.Part.Shape!.Bounds;
            laid.At.X.ShouldBe(b.Left * MachineView.InShapeScale, 1e-9);
            laid.At.Y.ShouldBe(view.LaidTopMm + (b.Top * MachineView.InShapeScale), 1e-9);
        }

        foreach (var cover in view.Laid.Where(l => l.Part.Layer >= MachineView.CoverLayer))
        {
            cover.At.X.ShouldBeGreaterThan(view.WidthMm * MachineView.InShapeScale);
            (cover.At.Y + (cover.Part.Shape!.Bounds.Height * cover.Scale)).ShouldBeLessThan(view.TotalHeightMm);
        }

        var out_ = plan.Acts.Take(plan.OutCount).Where(a => a.Kind is ActKind.LiftOut or ActKind.SetAside);
        view.Laid.Select(l => l.Part.Id)
            .ShouldBe(
                out_.Select(a => a.Part).Distinct().Where(p => plan.Map.Part(p).Shape is not null),
                ignoreOrder: true
            );
    }

    private static Plan AllOut(string code, PartsLaid way)
    {
        var map = Maps.Shipped(code).Plain();
        return TeardownPlanner
            .Plan(
                map,
                [.. map.Assemblies.Where(a => map.Parts.Any(p => p.Id == a.Part)).Select(a => new Goal.Replace(a.Id))],
                Basis.Default with
                {
                    Practice = HousePractice.Default.With(RuleBook.PartsLaid, way),
                }
            )
            .Value;
    }

    private static void IsSound(ScrewMat mat, Plan plan)
    {
        mat.Fields.Select(f => plan.MatField(f.Group.Id)).ShouldBe(mat.Fields.Select(f => (int?)f.Number));
        foreach (var field in mat.Fields)
        {
            (field.X + field.Width).ShouldBeLessThanOrEqualTo(ScrewMat.SheetWidth - ScrewMat.Margin + 1e-9);
            (field.Y + field.Height).ShouldBeLessThanOrEqualTo(ScrewMat.SheetHeight - ScrewMat.Margin + 1e-9);
            var box = new Box(field.X, field.Y, field.X + field.Width, field.Y + field.Height);
            mat.Fields.Where(o => o != field && o.Page == field.Page)
                .ShouldAllBe(o => !box.Overlaps(new Box(o.X, o.Y, o.X + o.Width, o.Y + o.Height)));
            for (var i = 0; i < field.Group.Count; i++)
            {
                var at = ScrewMat.Place(field.Group, i);
                (at.X + field.Group.Screw.Thread.HeadMm() / 2).ShouldBeLessThanOrEqualTo(field.Width);
                (at.Y + field.Group.Screw.Thread.HeadMm() / 2 + field.Group.Screw.LengthMm).ShouldBeLessThanOrEqualTo(
                    field.Height
                );
            }
        }
    }
}
