using Zenrik.Core.Fit;
using Zenrik.Core.Practice;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Tests.Practice;

public sealed class QuizTests
{
    private static readonly ServiceMap[] Shipped =
    [
        .. Maps.ShippedFiles.Select(f => Maps.Shipped(Path.GetFileName(f).Replace(".map.json", ""))),
    ];

    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public void Every_joint_opens_by_its_motion_drawn_either_way_round_and_by_no_other(bool mirrored)
    {
        foreach (var kind in Enum.GetValues<JointKind>())
        {
            PracticeQuestion[] asked = [new PracticeQuestion.Open("Open it.", Topics.Of(kind), kind, mirrored)];
            var motion = JointMotion.Of(kind);
            motion[^1].Moment.ShouldBe(2, "a joint ends open");
            var way = motion.Select(s => Drawn(s.Ways[0])).ToList();

            var opened = Quiz.After(asked, way);

            (opened.Finished, opened.Points).ShouldBe((true, 100), kind.ToString());
            opened.Trained.ShouldBe(new Dictionary<string, bool> { [Topics.Of(kind)] = true });
            for (var i = 0; i < motion.Count; i++)
            {
                foreach (var wrong in Enum.GetValues<Direction>().Where(d => !motion[i].Ways.Contains(d)).Select(Drawn))
                {
                    var torn = Quiz.After(asked, [.. way.Take(i), wrong]);

                    (torn.Finished, torn.Points).ShouldBe((true, 0), $"{kind}, stroke {i}, {wrong}");
                    torn.Answers[0].Why.ShouldEndWith(kind.Handling().Opens);
                }
            }
        }

        string Drawn(Direction d) => (mirrored ? d.Mirrored() : d).ToString().ToLowerInvariant();
    }

    [Fact]
    public void A_hidden_screw_is_asked_for_where_a_map_has_one_and_is_at_no_other_place()
    {
        var asked = Shipped.SelectMany(m =>
            Questions.HiddenScrews(new Random(7), m).Select(q => (Map: m, Question: q))
        );
        var found = new List<string>();
        foreach (var (map, question) in asked)
        {
            var choose = question.ShouldBeOfType<PracticeQuestion.Choose>();
            var right = choose.Choices.Single(c => c.Right);
            var group = map.Fasteners.First(f =>
                f.Under.Contains(PartId.Of(right.Id)) && choose.Asked.Contains(map.Part(f.Holds).Name)
            );
            group.Under.ShouldNotContain(p => choose.Choices.Any(c => !c.Right && c.Id == p.Value));
            found.Add($"{map.Model.Code}: {right.Text}");
        }

        // What the files say, read by hand.
        found.ShouldBe(
            ["grebe-15: Optical drive", "grebe-15: Drive carrier", "sandpiper-14: Memory bracket"],
            ignoreOrder: true
        );
    }

    [Fact]
    public void One_of_three_numbers_fits_and_what_cannot_be_told_from_the_facts_is_not_asked()
    {
        var fits = Judged("A", new FitReason(FitWeight.For, "as the slot", Evidence.Specification));
        NumberToJudge[] others =
        [
            Judged("B", new FitReason(FitWeight.Against, "too long", Evidence.Standard)),
            Judged("C", new FitReason(FitWeight.Against, "another notch", Evidence.Specification)),
        ];

        var asked = (PracticeQuestion.Choose)Questions.Fit(new Random(1), "the drive", [], [fits, .. others])!;

        asked
            .Choices.Select(c => (c.Id, c.Right, c.Why))
            .ShouldBe(
                [("A", true, "As the slot."), ("B", false, "Too long."), ("C", false, "Another notch.")],
                ignoreOrder: true
            );
        var quiz = Quiz.After([asked], ["nothing of the kind", "B", "A"]);
        (quiz.Points, quiz.Answers.Single().Why).ShouldBe((0, "Too long."), "only the first answer counts");
        Questions.Fit(new Random(1), "the drive", [], others).ShouldBeNull();
        var byRecord = Judged("A", new FitReason(FitWeight.For, "fitted twice", Evidence.Record));
        Questions.Fit(new Random(1), "the drive", [], [byRecord, .. others]).ShouldBeNull();

        static NumberToJudge Judged(string number, FitReason reason) => new(number, "", new FitAnswer([reason]));
    }

    [Fact]
    public void Labels_wear_with_what_is_read_right_and_recover_with_what_is_not()
    {
        var (right, wrong) = (new LabelRead("A", "A", ""), new LabelRead("A", "B", "B for A"));
        LabelReading.Degree([]).ShouldBe(1);
        LabelReading.Degree([right, right]).ShouldBe(3);
        LabelReading.Degree([right, right, wrong]).ShouldBe(1);
        LabelReading.Degree([wrong]).ShouldBe(0);
        LabelReading.Degree(Enumerable.Repeat(right, 10)).ShouldBe(LabelReading.Degrees - 1);
    }
}
