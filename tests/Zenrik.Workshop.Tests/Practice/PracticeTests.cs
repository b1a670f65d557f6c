using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fit;
using Zenrik.Core.Practice;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.HouseRules;
using Zenrik.Workshop.Practice;
using Zenrik.Workshop.Scheduling;

namespace Zenrik.Workshop.Tests.Practice;

public sealed class PracticeTests(TemplateDatabase databases)
{
    private static CancellationToken Stop => TestContext.Current.CancellationToken;

    [Fact]
    public async Task A_run_is_resumed_where_it_stood_and_ends_with_what_was_learned()
    {
        await using var book = await databases.NewBook();
        var bo = await book.Person("bo");
        var id = await Begun(book, bo, PracticeLevel.Drawing);
        var view = await Look(book, id);
        foreach (var act in view.Referee!.Task.Plan.Acts)
        {
            // Each move is made by another instance of the use case, which knows nothing but the rows.
            view = (await Make(book, id, view.Sequence, Right(view.Referee!, act), bo)).Value;
            view.Referee!.Moves[^1].Slip.ShouldBeNull(act.ToString());
        }

        (await Look(book, id)).Referee!.Done.ShouldBe(view.Referee!.Done);
        view = (await Make(book, id, view.Sequence, "finish", bo)).Value;

        (view.IsOver, view.Points).ShouldBe((true, 100));
        (await book.Ask(db => db.PracticeRuns.SingleAsync(r => r.Id == id, Stop))).Points.ShouldBe(100);
        var topics = await book.Ask(db => db.PracticeTopics.Where(t => t.RunId == id).ToListAsync(Stop));
        topics.ShouldAllBe(t => t.Right);
        topics.Select(t => t.Topic).ShouldContain("model:sandpiper-14");
        var room = await book.Do<ViewPractice, PracticeRoom>(p => p.Run(bo, Stop));
        room.Learners.Single(l => l.Name == bo.Name).Models["sandpiper-14"]!.Value.ShouldBe(1, 0.01);
        room.Next.Single(t => t.Topic == "model:sandpiper-14").Times.ShouldBe(1);
        room.Runs[0].Points.ShouldBe(100);
        // Nothing of it is in the fleet's history.
        (await book.Ask(db => db.BenchEntries.CountAsync(e => e.At >= view.Run.StartedAt, Stop))).ShouldBe(0);
        (await Make(book, id, view.Sequence, "turn-over:", bo)).Refusal!.Message.ShouldBe(
            "This run is over. Begin another."
        );
    }

    [Fact]
    public async Task What_is_torn_costs_what_exchanging_it_costs_here()
    {
        await using var book = await databases.NewBook();
        var bo = await book.Person("bo");
        var id = await Begun(book, bo, PracticeLevel.Guided);
        string[] before =
        [
            "prepare:shut-down",
            "prepare:photo",
            "lift-out:sim-tray",
            "turn-over:",
            "undo:base-screws",
            "lift-out:base-cover",
            "isolate:battery-plug",
            "undo:battery-screws",
            "lift-out:battery",
        ];
        foreach (var (i, move) in before.Index())
        {
            (await Make(book, id, i, move, bo)).Refusal.ShouldBeNull();
        }

        var run = await Look(book, id);

        run.Harm["speakers"].Minutes.ShouldBeGreaterThan(5);
        run.Moves[^1].InTheWay.ShouldBeNull();
    }

    [Fact]
    public async Task Two_windows_a_move_sent_twice_and_somebody_elses_run()
    {
        await using var book = await databases.NewBook();
        var (bo, aled) = (await book.Person("bo"), await book.Person("aled"));
        var request = Guid.NewGuid();
        var start = await book.Do<StartPractice, Outcome<Guid>>(s => s.Labels(request, null, bo, Stop));
        (await book.Do<StartPractice, Outcome<Guid>>(s => s.Labels(request, null, bo, Stop))).Value.ShouldBe(
            start.Value
        );
        (
            await book.Do<StartPractice, Outcome<Guid>>(s => s.Labels(request, null, aled, Stop))
        ).Refusal.ShouldNotBeNull();
        var (id, move) = (start.Value, Guid.NewGuid());
        (await Make(book, id, 0, "8B5S", bo, move)).Value.Sequence.ShouldBe(1);
        (await Make(book, id, 0, "8B5S", bo, move)).Value.Sequence.ShouldBe(1);
        (await Make(book, id, 0, "8B5S", bo)).Refusal!.Reason.ShouldBe(RefusalReason.Stale);
        (await Make(book, id, 1, "8B5S", aled)).Refusal!.Message.ShouldContain($"is {bo.Name}'s");
        (await Make(book, id, 1, "   ", bo)).Refusal!.Message.ShouldContain("Type what you can read");
        (await Make(book, id, 1, new string('8', 300), bo)).Refusal!.Reason.ShouldBe(RefusalReason.Invalid);

        // A thousand clicks at once: one is taken.
        var clicks = await Task.WhenAll(Enumerable.Range(0, 40).Select(_ => Make(book, id, 1, "B8S5", bo)));
        clicks.Count(c => c.Refusal is null).ShouldBe(1);
        clicks.Where(c => c.Refusal is not null).ShouldAllBe(c => c.Refusal!.Reason == RefusalReason.Stale);

        for (var i = 2; i < LabelReading.Labels; i++)
        {
            var seed = (await Look(book, id)).Run.Seed;
            (await Make(book, id, i, LabelReading.Of(seed, i), bo)).Refusal.ShouldBeNull();
        }

        var over = await Look(book, id);
        (over.IsOver, over.Points).ShouldBe((true, 80));
        (await book.Ask(db => db.PracticeTopics.SingleAsync(t => t.RunId == id, Stop))).Right.ShouldBeFalse();
    }

    [Fact]
    public async Task A_diagnosis_is_gone_through_to_its_end_and_a_guest_leaves_no_standing()
    {
        await using var book = await databases.NewBook();
        var bo = await book.Person("bo");
        var begun = await book.Do<StartPractice, Outcome<Guid>>(s =>
            s.Diagnosis(Guid.NewGuid(), "thimble-11", "will-not-start", " A guest ", bo, Stop)
        );
        var view = await Look(book, begun.Value);
        view.Learner.ShouldBe("A guest");
        (await Make(book, begun.Value, 0, "no-such-test", bo)).Refusal!.Reason.ShouldBe(RefusalReason.Invalid);
        while (!view.IsOver)
        {
            view = (await Make(book, begun.Value, view.Sequence, view.Diagnosis!.Advice.Best!.Id, bo)).Value;
        }

        view.Points.ShouldBe(100);
        var room = await book.Do<ViewPractice, PracticeRoom>(p => p.Run(bo, Stop));
        room.Learners.ShouldNotContain(l => l.Name == bo.Name);
        room.Next.Single(t => t.Topic == Topics.Diagnosis).Times.ShouldBe(0);
    }

    [Fact]
    public async Task What_cannot_be_practised_is_said_in_a_sentence()
    {
        await using var book = await databases.NewBook();
        var bo = await book.Person("bo");
        var without = await book.Ask(db =>
            db.Models.Where(m => !db.ServiceMapRevisions.Any(r => r.ModelCode == m.Code))
                .Select(m => m.Code)
                .FirstAsync(Stop)
        );
        (await Start("sandpiper-14", "replace:engine")).ShouldContain("engine");
        (await Start("sandpiper-14", "rubbish")).ShouldContain("is no goal");
        (await Start(without, "replace:battery")).ShouldContain("there is no map");
        (await Start("no-such-model", "replace:battery")).ShouldContain("Choose one of the models");
        (await Start("sandpiper-14", "replace:battery", new string('x', 200))).ShouldContain("at most 80 characters");
        (
            await book.Do<StartPractice, Outcome<Guid>>(s =>
                s.Diagnosis(Guid.NewGuid(), "thimble-11", "swollen", null, bo, Stop)
            )
        ).Refusal!.Message.ShouldContain("Choose what");
        (await book.Do<PracticeOf, Outcome<PracticeView>>(p => p.Run(Guid.NewGuid(), Stop))).Refusal!.Reason.ShouldBe(
            RefusalReason.NotFound
        );

        async Task<string> Start(string model, string goal, string? guest = null) =>
            (
                await book.Do<StartPractice, Outcome<Guid>>(s =>
                    s.Apart(Guid.NewGuid(), model, goal, PracticeLevel.Drawing, guest, bo, Stop)
                )
            )
                .Refusal!
                .Message;
    }

    [Fact]
    public async Task The_job_of_a_repair_is_run_through_as_this_unit_is_and_many_who_try_the_same_first_are_heard()
    {
        await using var book = await databases.NewBook();
        var lead = book.Lead;
        var repair = await book.Opened(lead, "battery", "battery worn", await book.Idle("sandpiper-14"));
        foreach (var name in new[] { "bo", "aled", "ines" })
        {
            var who = await book.Person(name);
            var id = (
                await book.Do<StartPractice, Outcome<Guid>>(s =>
                    s.Before(Guid.NewGuid(), repair, PracticeLevel.Drawing, who, Stop)
                )
            ).Value;
            var view = await Look(book, id);
            view.Run.Goals.ShouldBe(["replace:battery"]);
            foreach (var preparation in view.Referee!.Task.Map.Preparations)
            {
                view = (await Make(book, id, view.Sequence, Act.Prepare(preparation).ToString(), who)).Value;
            }

            (await Make(book, id, view.Sequence, "isolate:battery-plug tool=PryTool", who))
                .Value.Referee!.Moves[^1]
                .Slip!.Sentence.ShouldContain("It lies under the base cover");
        }

        var room = await book.Do<ViewPractice, PracticeRoom>(p => p.Run(lead, Stop));
        var doubt = room.Doubts.ShouldHaveSingleItem();
        (doubt.Act, doubt.Thing, doubt.Learners).ShouldBe(("Isolate: open the battery plug", "the base cover", 3));
    }

    [Fact]
    public async Task Where_the_house_asks_it_is_said_before_the_bench_that_a_model_was_not_practised()
    {
        await using var book = await databases.NewBook();
        var bo = await book.Person("bo");
        var model = await book.Ask(db => db.Models.AsNoTracking().SingleAsync(m => m.Code == "sandpiper-14", Stop));
        (await Caution()).ShouldBeNull();
        await book.Opened(bo, "fan", "fan noisy", await book.Idle("sandpiper-14"));
        (await Unpractised()).ShouldBeEmpty();
        _ = (await book.Do<SetHouseRule, Outcome<string>>(d => d.Run("readiness", "asked", book.Lead, Stop))).Value;
        (await Caution()).ShouldBe("You have not practised the Sandpiper 14 yet: run through it in the drawing first.");

        // With the plan before one's eyes nothing is shown; without it, it is.
        await Play(PracticeLevel.Guided);
        (await Caution())!.ShouldContain("not practised");
        (await Unpractised()).ShouldContain("sandpiper-14");
        await Play(PracticeLevel.Drawing);
        (await Caution()).ShouldBeNull();
        (await Unpractised()).ShouldNotContain("sandpiper-14");
        book.Clock.Ahead = TimeSpan.FromDays(90);
        (await Caution())!.ShouldContain("some time ago");

        // What the calendar lays longer when it lays it on them.
        async Task<IReadOnlySet<string>> Unpractised() =>
            (await book.Do<ViewCalendar, BenchCalendar>(c => c.Run(Stop))).Hands.Single(h => h.Id == bo.Id).Unpractised;

        Task<string?> Caution() => book.Do<ReadyFor, string?>(r => r.Caution(bo, model, Stop));

        async Task Play(PracticeLevel level)
        {
            var id = await Begun(book, bo, level);
            var view = await Look(book, id);
            foreach (var act in view.Referee!.Task.Plan.Acts)
            {
                view = (await Make(book, id, view.Sequence, Right(view.Referee!, act), bo)).Value;
            }

            _ = (await Make(book, id, view.Sequence, "finish", bo)).Value;
        }
    }

    [Fact]
    public async Task Questions_about_our_own_units_stay_what_they_were_and_train_what_they_ask()
    {
        await using var book = await databases.NewBook();
        var bo = await book.Person("bo");
        var request = Guid.NewGuid();
        var id = (await book.Do<AskQuestions, Outcome<Guid>>(a => a.Fit(request, null, bo, Stop))).Value;
        (await book.Do<AskQuestions, Outcome<Guid>>(a => a.Fit(request, null, bo, Stop))).Value.ShouldBe(id);
        var view = await Look(book, id);
        view.Quiz!.Count.ShouldBeGreaterThan(3);
        (await Make(book, id, 0, "up", bo)).Refusal!.Message.ShouldBe("Choose one of the answers.");
        // A number that leaves the catalogue, or is described anew, changes no question that was asked.
        await book.Ask(db =>
            db.CatalogueNumbers.ExecuteUpdateAsync(
                n => n.SetProperty(x => x.Specification, (ItemSpecification?)null),
                Stop
            )
        );

        while (!view.IsOver)
        {
            var choose = (PracticeQuestion.Choose)view.Quiz!.Asked!;
            choose.Choices.Count(c => c.Right).ShouldBe(1);
            var answer = choose.Choices.First(c => c.Right == (view.Sequence > 0)).Id;
            view = (await Make(book, id, view.Sequence, answer, bo)).Value;
        }

        view.Points.ShouldBe(100 * (view.Sequence - 1) / view.Sequence);
        (await Look(book, id)).Quiz!.Answers.Select(a => a.IsRight).ShouldBe(view.Quiz!.Answers.Select(a => a.IsRight));
        (await book.Ask(db => db.PracticeTopics.SingleAsync(t => t.RunId == id, Stop))).Right.ShouldBeFalse();

        // Joints: what was wrong comes first the next time.
        var opening = (
            await book.Do<AskQuestions, Outcome<Guid>>(a => a.Opening(Guid.NewGuid(), null, bo, Stop))
        ).Value;
        var joints = await Look(book, opening);
        (await Make(book, opening, 0, "sideways", bo)).Refusal!.Message.ShouldContain("up, down, left or right");
        while (joints.Quiz!.Asked is PracticeQuestion.Open open)
        {
            var ways = JointMotion.Of(open.Joint)[joints.Quiz.Strokes].Ways[0];
            var way =
                open.Joint == JointKind.CoaxSnap ? Direction.Down
                : open.Mirrored ? ways.Mirrored()
                : ways;
            joints = (await Make(book, opening, joints.Sequence, way.ToString().ToLowerInvariant(), bo)).Value;
        }

        while (!joints.IsOver)
        {
            var right = ((PracticeQuestion.Choose)joints.Quiz!.Asked!).Choices.First(c => c.Right).Id;
            joints = (await Make(book, opening, joints.Sequence, right, bo)).Value;
        }

        book.Clock.Ahead = TimeSpan.FromDays(1);
        var again = (await book.Do<AskQuestions, Outcome<Guid>>(a => a.Opening(Guid.NewGuid(), null, bo, Stop))).Value;
        (await Look(book, again))
            .Quiz!.Asked.ShouldBeOfType<PracticeQuestion.Open>()
            .Joint.ShouldBe(JointKind.CoaxSnap);
    }

    private static string Right(Referee run, Act act) =>
        new Move(
            act,
            Tool: run.ToolFor(act),
            Field: act.Kind == ActKind.Fasten && run.Fields.TryGetValue(act.Fastener, out var field) ? field : null
        ).ToString();

    private static async Task<Guid> Begun(Book book, Actor by, PracticeLevel level) =>
        (
            await book.Do<StartPractice, Outcome<Guid>>(s =>
                s.Apart(Guid.NewGuid(), "sandpiper-14", "replace:battery", level, null, by, Stop)
            )
        ).Value;

    private static async Task<PracticeView> Look(Book book, Guid id) =>
        (await book.Do<PracticeOf, Outcome<PracticeView>>(p => p.Run(id, Stop))).Value;

    private static Task<Outcome<PracticeView>> Make(
        Book book,
        Guid id,
        int seen,
        string move,
        Actor by,
        Guid? request = null
    ) => book.Do<MakeMove, Outcome<PracticeView>>(m => m.Run(id, request ?? Guid.NewGuid(), seen, move, by, Stop));
}
