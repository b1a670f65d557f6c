using CsCheck;
using Zenrik.Core.Practice;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.Tests.Practice;

public sealed class RefereeTests
{
    private static readonly ServiceMap[] Shipped =
    [
        .. Maps.ShippedFiles.Select(f => Maps.Shipped(Path.GetFileName(f).Replace(".map.json", "")).Plain()),
    ];

    private static PracticeTask TaskOf(ServiceMap map, PracticeLevel level, params Goal[] goals) =>
        new(map, TeardownPlanner.Plan(map, goals).Value, level);

    private static PracticeTask Battery(PracticeLevel level) =>
        TaskOf(Maps.Sandpiper, level, new Goal.Replace(AssemblyId.Of("battery")));

    /// <summary>An act done as it should be: the tool that fits, screws counted and laid by themselves.</summary>
    private static Move Right(Referee run, Act act) =>
        act.Kind switch
        {
            ActKind.Undo => new Move(act, Tool: run.ToolFor(act), Field: run.FreeField, Count: Counted(run, act)),
            ActKind.Fasten => new Move(
                act,
                Tool: run.ToolFor(act),
                Field: run.Fields.TryGetValue(act.Fastener, out var field) ? field : null
            ),
            _ => new Move(act, Tool: run.ToolFor(act)),
        };

    private static int? Counted(Referee run, Act act) =>
        run.Task.Map.Fasteners.FirstOrDefault(f => f.Id.Value == act.Target)?.Count;

    private static Referee Played(PracticeTask task, IEnumerable<string> acts)
    {
        var run = new Referee(task);
        foreach (var act in acts.Select(Act.Parse))
        {
            run.Judge(Right(run, act)).Slip.ShouldBeNull(act.ToString());
        }

        return run;
    }

    private static PracticeScore Score(Referee run) => PracticeScore.Of(run, new Dictionary<PartId, HarmFigure>(), 30);

    [Fact]
    public void Whoever_plays_the_computed_plan_scores_100_at_every_level()
    {
        var level = 0;
        foreach (var map in Shipped)
        {
            foreach (var goal in map.Assemblies.Select(a => new Goal.Replace(a.Id)))
            {
                if (!TeardownPlanner.Plan(map, [goal]).Try(out var plan, out _))
                {
                    continue;
                }

                var run = new Referee(TaskOf(map, (PracticeLevel)(level++ % 4), goal));
                foreach (var act in plan.Acts)
                {
                    // Whatever the plan does, a learner can choose: it is in sight, or done to the whole machine.
                    Sight
                        .Of(run)
                        .SelectMany(t => t.Acts)
                        .Concat(Sight.Whole(run))
                        .Select(a => Offered(a))
                        .ShouldContain(Offered(act), $"{map.Model.Code} {goal}: {act}");
                    var judged = run.Judge(Right(run, act));
                    judged.Slip.ShouldBeNull($"{map.Model.Code} {goal}: {act}");
                    judged.Carried.ShouldBeTrue();
                }

                run.Judge(Move.Finish).Carried.ShouldBeTrue();
                run.Slips.ShouldBeEmpty($"{map.Model.Code} {goal}");
                Score(run).Points.ShouldBe(100, $"{map.Model.Code} {goal}: {string.Join(", ", Score(run).Acts)}");
            }
        }

        level.ShouldBeGreaterThan(60);
    }

    /// <summary>What goes back goes back the way it came: it is offered without saying how.</summary>
    private static Act Offered(Act act) => act.Kind is ActKind.PutIn or ActKind.PutBack ? act with { Way = null } : act;

    [Fact]
    public void It_carries_out_what_the_simulator_allows_and_names_a_true_reason_for_the_rest()
    {
        var wrong = 0;
        Gen.Select(Gen.Int[0, Shipped.Length + 3], Gen.Int[0, int.MaxValue - 1], Maps.Generated)
            .Sample(
                (which, seed, generated) =>
                {
                    var random = new Random(seed);
                    var map = which < Shipped.Length ? Shipped[which] : generated;
                    var acts = Everything(map);
                    var run = new Referee(
                        TaskOf(map, (PracticeLevel)random.Next(4), new Goal.LiftOut(map.Parts.First(p => !p.Fixed).Id))
                    );
                    foreach (var preparation in map.Preparations)
                    {
                        run.Judge(new Move(Act.Prepare(preparation)));
                    }

                    for (var i = 0; i < 60; i++)
                    {
                        // Half of the time something that can be done, so that the machine comes apart.
                        var possible = random.Next(2) == 0 ? acts.Where(a => run.Machine.Do(a) is null).ToList() : [];
                        var act =
                            possible.Count > 0 ? possible[random.Next(possible.Count)] : acts[random.Next(acts.Count)];
                        var objection = run.Machine.Attempt(act);
                        var before = run.Done.ToList();
                        var judged = run.Judge(Right(run, act));
                        judged.Carried.ShouldBe(
                            objection is null,
                            $"{act}: {judged.Slip?.Sentence ?? objection?.Sentence}"
                        );
                        if (objection is not null)
                        {
                            Interlocked.Increment(ref wrong);
                            judged.Slip.ShouldNotBeNull().Sentence.ShouldNotBeNullOrWhiteSpace();
                            TrueObjection
                                .Is(map, before, act, objection)
                                .ShouldBeTrue($"{act} after {string.Join(' ', before)}: {objection}");
                        }
                    }
                },
                iter: 400,
                threads: 1
            );
        wrong.ShouldBeGreaterThanOrEqualTo(10_000);
    }

    private static List<Act> Everything(ServiceMap map)
    {
        List<Act> off =
        [
            .. map.Fasteners.Select(f => Act.Undo(f.Id)),
            .. map.Joints.Select(j => j.Id == map.Isolation ? Act.Isolate(j.Id) : Act.Open(j.Id)),
            .. map.Ties.Select(t => Act.Free(t.Id)),
            .. map
                .Parts.Where(p => !p.Fixed)
                .SelectMany(p =>
                    p.Ways.Select(w => Act.Remove(p.Id, w))
                        .Concat(p.Ways.All(w => w.SetsAside) ? [Act.LiftOut(p.Id)] : Array.Empty<Act>())
                ),
        ];
        return
        [
            .. off,
            .. off.Select(a => a.Reverse!.Value).Distinct(),
            Act.TurnOver,
            .. map.Parts.Where(p => p.Thermal is not null).Select(p => Act.CleanAndPaste(p.Id)),
        ];
    }

    private static readonly string[] ToTheInside =
    [
        "prepare:shut-down",
        "prepare:photo",
        "lift-out:sim-tray",
        "turn-over:",
        "undo:base-screws",
        "lift-out:base-cover",
    ];

    [Fact]
    public void A_wire_still_taped_to_what_is_lifted_tears()
    {
        var run = Played(
            Battery(PracticeLevel.Drawing),
            [.. ToTheInside, "isolate:battery-plug", "undo:battery-screws"]
        );

        var slip = run.Judge(new Move(Act.Parse("lift-out:battery"))).Slip!;

        slip.Sentence.ShouldBe("The speaker wire tape still holds it: the cable tears.");
        slip.Kind.ShouldBe(SlipKind.Broken);
        slip.Topic.ShouldBe("tie:Tape");
        slip.Breaks.ShouldBe(Maps.Sandpiper.Ties.Single(t => t.Id.Value == slip.Thing).Of);
        run.Done.Count.ShouldBe(8);
    }

    [Fact]
    public void Where_names_are_hidden_so_is_what_still_holds()
    {
        var run = Played(
            Battery(PracticeLevel.Nameless),
            [.. ToTheInside, "isolate:battery-plug", "undo:battery-screws"]
        );

        run.Judge(new Move(Act.Parse("lift-out:battery"))).Slip!.Sentence.ShouldNotContain("speaker", Case.Insensitive);
        Sight.Of(run).ShouldAllBe(s => !s.Name.Contains("battery plug", StringComparison.OrdinalIgnoreCase));
    }

    [Fact]
    public void What_lies_under_something_is_not_in_sight()
    {
        var closed = Played(Battery(PracticeLevel.Drawing), ToTheInside[..5]);
        Sight.Of(closed).ShouldNotContain(s => s.Id == "battery-plug");

        Sight.Of(Played(Battery(PracticeLevel.Drawing), ToTheInside)).ShouldContain(s => s.Id == "battery-plug");
    }

    [Fact]
    public void A_driver_that_does_not_fit_rounds_the_head()
    {
        var run = Played(Battery(PracticeLevel.Drawing), ToTheInside[..4]);
        var undo = Act.Parse("undo:base-screws");
        var other = run.ToolFor(undo) == Tool.T5 ? Tool.PH0 : Tool.T5;

        var judged = run.Judge(new Move(undo, Tool: other));

        judged.Carried.ShouldBeFalse();
        judged.Slip!.Kind.ShouldBe(SlipKind.WrongTool);
        judged.Slip.Minutes.ShouldBe(10);
        run.Judge(new Move(undo, Tool: Tool.Fingers)).Slip!.Minutes.ShouldBeLessThan(1);
    }

    [Fact]
    public void Screws_of_two_kinds_in_one_field_are_a_slip_and_a_long_one_does_not_go_into_a_short_hole()
    {
        string[] opened = [.. ToTheInside, "isolate:battery-plug"];
        var (upper, lower) = (Act.Parse("undo:frame-upper"), Act.Parse("undo:frame-lower"));
        var run = Played(Battery(PracticeLevel.Nameless), opened);
        run.Judge(new Move(upper, Tool: Tool.PH0, Field: 4)).Slip.ShouldBeNull();

        var mixed = run.Judge(new Move(lower, Tool: Tool.PH0, Field: 4));

        mixed.Carried.ShouldBeTrue();
        mixed.Slip!.Sentence.ShouldBe(
            "Two kinds in field 4: M2 × 4 and M2 × 3. On the way back nobody knows which is which."
        );

        run = Played(Battery(PracticeLevel.Nameless), [.. opened, "undo:frame-upper", "undo:frame-lower"]);
        var held = lower.Reverse!.Value;
        var wrong = run.Judge(new Move(held, Tool: Tool.PH0, Field: run.Fields[upper.Fastener]));
        wrong.Carried.ShouldBeFalse();
        wrong.Slip!.Sentence.ShouldBe(
            "M2 × 4 where M2 × 3 belongs: it comes through, and what lies beneath is pierced."
        );
        run.Judge(new Move(held, Tool: Tool.PH0, Field: 29)).Slip!.Sentence.ShouldBe("Nothing lies in field 29.");
        var right = run.Judge(Right(run, held));
        right.Carried.ShouldBeTrue(right.Slip?.Sentence);
    }

    [Fact]
    public void Counted_wrong_is_said_and_goes_on()
    {
        var run = Played(Battery(PracticeLevel.Uncounted), ToTheInside[..4]);
        var undo = Act.Parse("undo:base-screws");

        var judged = run.Judge(new Move(undo, Tool: run.ToolFor(undo), Count: Counted(run, undo) - 1));

        judged.Carried.ShouldBeTrue();
        judged.Slip!.Kind.ShouldBe(SlipKind.Count);
    }

    [Fact]
    public void What_was_not_needed_costs_its_minutes_and_another_valid_order_costs_nothing()
    {
        var task = Battery(PracticeLevel.Guided);
        var plan = TeardownPlanner.Plan(Maps.Sandpiper, task.Goals).Value;
        var fan = TeardownPlanner.Plan(Maps.Sandpiper, [new Goal.LiftOut(PartId.Of("fan")), .. task.Goals]).Value;
        var run = new Referee(task);
        foreach (var act in fan.Acts)
        {
            run.Judge(Right(run, act)).Slip.ShouldBeNull();
        }

        run.Judge(Move.Finish).Carried.ShouldBeTrue();
        var score = Score(run);

        score.Acts.ShouldContain(Act.Parse("lift-out:fan"));
        score.Unneeded.ShouldBeGreaterThan(0);
        score.Points.ShouldBeInRange(1, 99);
        // What is left is what the plan for the battery alone takes, but for what was taken off with the fan.
        score.Needed.ShouldBe(
            plan.Steps.Where(s => s.Act.Kind != ActKind.TurnOver).Sum(s => task.Basis.Times.Seconds(task.Map, s.Act))
                / 60,
            tolerance: 4
        );
    }

    [Fact]
    public void The_end_waits_for_a_whole_machine_and_names_what_was_forgotten()
    {
        var task = Battery(PracticeLevel.Guided);
        var plan = TeardownPlanner.Plan(Maps.Sandpiper, task.Goals).Value;
        var run = new Referee(task);
        run.Judge(Move.Finish).Slip!.Sentence.ShouldBe("Closed, and not done yet: exchange the battery.");
        foreach (var act in plan.Acts.TakeWhile(a => a.Kind != ActKind.Fasten))
        {
            run.Judge(Right(run, act));
        }

        run.Judge(Move.Finish).Slip!.Sentence.ShouldStartWith("Not yet: ");
        run.Finished.ShouldBeFalse();
        foreach (var act in plan.Acts.SkipWhile(a => a.Kind != ActKind.Fasten).Where(a => a.Kind != ActKind.Check))
        {
            run.Judge(Right(run, act));
        }

        run.Judge(Move.Finish).Carried.ShouldBeTrue();
        run.Slips.Where(s => s.Kind == SlipKind.Forgotten)
            .Select(s => s.Sentence)
            .ShouldContain(s => s.StartsWith("Forgotten: ", StringComparison.Ordinal));
        run.Judge(new Move(Act.TurnOver)).Slip!.Sentence.ShouldBe("It is finished.");
    }

    [Fact]
    public void What_is_broken_counts_once_by_what_exchanging_it_costs_here()
    {
        var run = Played(
            Battery(PracticeLevel.Drawing),
            [.. ToTheInside, "isolate:battery-plug", "undo:battery-screws"]
        );
        var torn = run.Judge(new Move(Act.Parse("lift-out:battery"))).Slip!.Breaks!.Value;
        run.Judge(new Move(Act.Parse("lift-out:battery")));

        var score = PracticeScore.Of(
            run,
            new Dictionary<PartId, HarmFigure> { [torn] = new("speakers", 25, 15) },
            labourPerHour: 30
        );

        score.Broken.ShouldHaveSingleItem().Name.ShouldBe("speakers");
        (score.HarmMinutes, score.HarmPrice).ShouldBe((25, 15m));
        score.Points.ShouldBeLessThan(30);
    }

    [Fact]
    public void What_the_model_does_not_have_is_said_at_every_level_and_of_every_kind_of_act()
    {
        foreach (var level in Enum.GetValues<PracticeLevel>())
        {
            var run = Played(Battery(level), ToTheInside);
            foreach (var kind in Enum.GetValues<ActKind>().Except([ActKind.TurnOver, ActKind.PowerTest]))
            {
                run.Judge(new Move(new Act(kind, "nothing", "no-way"), Tool: Tool.PH0))
                    .Slip!.Sentence.ShouldBe("This model has nothing called \"nothing\" to do that with.");
                _ = run.Judge(new Move(new Act(kind, "battery", "no-way"), Tool: Tool.T5)).Slip.ShouldNotBeNull();
            }

            run.Judge(new Move(null, "no-decoy")).Carried.ShouldBeFalse();
            Sight.At(run, "nothing").ShouldBeNull();
        }
    }

    [Theory]
    [InlineData("undo:base-screws tool=T5 field=2 count=8")]
    [InlineData("set-aside:radio/leads-on")]
    [InlineData("decoy:hinge-screws")]
    [InlineData("finish")]
    public void A_move_is_read_as_it_was_written(string text) => Move.Parse(text)!.ToString().ShouldBe(text);

    [Theory]
    [InlineData(null)]
    [InlineData("")]
    [InlineData("undo")]
    [InlineData("undo:base-screws tool=hammer")]
    [InlineData("undo:base-screws tool=99")]
    [InlineData("undo:base-screws field=0")]
    [InlineData("undo:base-screws count=-1")]
    [InlineData("jump:over")]
    public void What_is_no_move_is_none(string? text) => Move.Parse(text).ShouldBeNull();
}
