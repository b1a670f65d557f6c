using CsCheck;
using Zenrik.Core.Practice;

namespace Zenrik.Core.Tests.Practice;

public sealed class TrainingTests
{
    [Fact]
    public void Nine_in_ten_remember_when_the_stability_has_gone()
    {
        var recall = Recall.After([(0, true)])!;

        recall.Chance(0).ShouldBe(1);
        recall.Chance(recall.Stability).ShouldBe(0.9, 1e-12);
        // The curve of version 4.5 is the square root's: what stays falls to a half after 12.8 times as long, from memory.
        recall.Chance(recall.Stability * 243 / 19).ShouldBe(0.5, 1e-12);
    }

    [Fact]
    public void What_goes_right_lasts_longer_and_what_goes_wrong_shorter() =>
        Gen.Select(Gen.Bool.List[1, 12], Gen.Double[0.1, 60])
            .Sample(
                (answers, gap) =>
                {
                    var days = answers.Select((right, i) => (i * gap, right)).ToList();
                    var before = Recall.After(days)!;
                    var now = (answers.Count * gap) + 1;
                    Recall.After([.. days, (now, true)])!.Stability.ShouldBeGreaterThan(before.Stability);
                    Recall.After([.. days, (now, false)])!.Stability.ShouldBeLessThanOrEqualTo(before.Stability);
                    before.Difficulty.ShouldBeInRange(1, 10);
                    before.Chance(now).ShouldBeInRange(0, 1);
                }
            );

    [Fact]
    public void Waiting_until_it_is_nearly_forgotten_teaches_more()
    {
        var soon = Recall.After([(0, true), (1, true)])!;
        var late = Recall.After([(0, true), (5, true)])!;

        late.Stability.ShouldBeGreaterThan(soon.Stability);
    }

    [Fact]
    public void What_went_wrong_here_and_was_not_trained_comes_first()
    {
        var weights = new Dictionary<string, double>
        {
            ["screws"] = 1,
            ["power"] = 1,
            ["joint:CoaxSnap"] = 4,
        };

        var next = Training.Of(weights, new Learner([("screws", 0, true), ("power", 0, false)]), today: 2);

        next.Select(t => t.Topic).ShouldBe(["joint:CoaxSnap", "power", "screws"]);
        next[0].Chance.ShouldBe(Training.Untrained);
        next[2].Times.ShouldBe(1);
    }

    [Fact]
    public void Ready_is_who_did_it_right_and_still_would()
    {
        new Learner([]).IsReady("power", 0).ShouldBeFalse();
        new Learner([("power", 0, true)]).IsReady("power", 1).ShouldBeTrue();
        new Learner([("power", 0, true)]).IsReady("screws", 1).ShouldBeFalse();
        new Learner([("power", 0, true)]).IsReady("power", 60).ShouldBeFalse();
        new Learner([("power", 0, true), ("power", 1, false)]).IsReady("power", 1).ShouldBeFalse();
    }

    [Fact]
    public void Whoever_forgets_quickly_is_known_by_it_and_what_they_trained_lasts_less()
    {
        var fast = new Learner(Trained(right: false));
        var slow = new Learner(Trained(right: true));

        new Learner([]).Pace.ShouldBe(1, 1e-9);
        fast.Pace.ShouldBeLessThan(0.8);
        slow.Pace.ShouldBeGreaterThan(1.2);
        // Of what both trained once, and both got right.
        fast.Chance("labels", 35)!.Value.ShouldBeLessThan(slow.Chance("labels", 35)!.Value - 0.05);

        static IEnumerable<(string, double, bool)> Trained(bool right) =>
            Enumerable
                .Range(0, 8)
                .SelectMany(i => new[] { ($"topic {i}", i, true), ($"topic {i}", i + 10.0, right) })
                .Append(("labels", 20, true));
    }

    [Fact]
    public void Ten_labels_are_read_by_what_is_printed_and_look_alikes_are_named()
    {
        var labels = Enumerable.Range(0, LabelReading.Labels).Select(i => LabelReading.Of(7, i)).ToList();

        labels.ShouldBeUnique();
        labels.ShouldBe(Enumerable.Range(0, LabelReading.Labels).Select(i => LabelReading.Of(7, i)));
        LabelReading.Judge("DK4-8B5S", "dk4 8b5s").IsRight.ShouldBeTrue();
        LabelReading.Judge("DK4-8B5S", "0K4-8B55").Why.ShouldBe("0 for D, 5 for S");
        LabelReading.Judge("DK4-8B5S", "DK48B5").Why.ShouldBe("a character is missing");
        LabelReading.Judge("DK4-8B5S", "").Why.ShouldBe("nothing was read");
    }
}
