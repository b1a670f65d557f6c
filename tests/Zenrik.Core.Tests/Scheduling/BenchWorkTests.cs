using CsCheck;
using Zenrik.Core.Scheduling;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.Tests.Scheduling;

public sealed class BenchWorkTests
{
    internal static readonly DateTimeOffset Start = new(2026, 11, 23, 8, 0, 0, TimeSpan.Zero);

    internal static BenchJob Job(
        string id,
        int minutes,
        int weight = 1,
        int ready = 0,
        int due = 0,
        string? model = null
    ) =>
        new(
            id,
            model ?? id,
            new Minutes(minutes, minutes, minutes),
            weight,
            Start.AddMinutes(ready),
            Start.AddMinutes(due),
            true
        );

    internal static BenchHand Hand(string name, int minutes = 10_000, int from = 0) =>
        new(
            new Guid(name[0], 0, 0, new byte[8]),
            name,
            Shifts.Of([new Shift(Start.AddMinutes(from), Start.AddMinutes(from + minutes))])
        );

    /// <summary>
    /// Jobs all due at once are done by weight ÷ minutes (W. E. Smith, Naval Research Logistics Quarterly 3 (1956) 59): 17 ÷ 4
    /// before 18 ÷ 12 and 12 ÷ 8, which are alike, before 8 ÷ 6.
    /// </summary>
    [Fact]
    public void On_one_bench_without_due_times_the_rule_is_Smiths()
    {
        BenchJob[] jobs = [Job("a", 12, 18), Job("b", 8, 12), Job("c", 6, 8), Job("d", 4, 17)];
        var (work, _) = BenchWork.Of(jobs, [Hand("x")], 0);
        var order = Dispatch.Lay(work)[0];
        order.Select(j => jobs[j].Id).First().ShouldBe("d");
        order.Select(j => jobs[j].Id).Last().ShouldBe("c");
        // 4·17 + then a, b in either order, (4 + 12)·18 + (4 + 20)·12, then 30·8.
        work.Cost([order])!.Value.Late.ShouldBe(68 + 288 + 288 + 240);
    }

    /// <summary>
    /// No schedule keeps more promises than the rule of J. M. Moore and T. J. Hodgson (Management Science 15 (1968) 102) says:
    /// by due time, and whenever one is late the longest so far is given up. Theirs of six jobs: two are late.
    /// </summary>
    [Fact]
    public void On_one_bench_no_more_promises_are_kept_than_can_be()
    {
        (int Minutes, int Due)[] theirs = [(10, 15), (3, 6), (4, 9), (8, 23), (10, 20), (6, 30)];
        LeastLate(theirs).ShouldBe(2);
        Gen.Select(Gen.Int[1, 30], Gen.Int[5, 120])
            .List[1, 9]
            .Sample(jobs =>
            {
                var (work, _) = BenchWork.Of(
                    jobs.Select((j, i) => Job($"j{i}", j.Item1, 1, 0, j.Item2)),
                    [Hand("x")],
                    0
                );
                work.Placed(Dispatch.Lay(work))
                    .Count(p => p.MinutesLate > 0)
                    .ShouldBeGreaterThanOrEqualTo(LeastLate(jobs));
            });

        static int LeastLate(IEnumerable<(int Minutes, int Due)> jobs)
        {
            var kept = new List<int>();
            var late = 0;
            foreach (var (minutes, due) in jobs.OrderBy(j => j.Due))
            {
                kept.Add(minutes);
                if (kept.Sum() > due)
                {
                    kept.Remove(kept.Max());
                    late++;
                }
            }

            return late;
        }
    }

    /// <summary>Against every order of every job on every hand.</summary>
    [Fact]
    public void The_instant_answer_can_be_is_never_better_than_the_best_and_mostly_is_the_best()
    {
        var (best, all) = (0, 0);
        Few()
            .Sample(
                work =>
                {
                    var laid = Dispatch.Lay(work);
                    laid.SelectMany(o => o).Order().ShouldBe(Enumerable.Range(0, work.Jobs.Count));
                    var cost = work.Cost(laid)!.Value;
                    var least = EveryOrder.Least(work);
                    cost.Late.ShouldBeGreaterThanOrEqualTo(least);
                    (best, all) = (best + (cost.Late == least ? 1 : 0), all + 1);
                },
                iter: 300,
                threads: 1
            );
        (best / (double)all).ShouldBeGreaterThan(0.8);
    }

    [Fact]
    public void No_job_begins_before_it_is_ready_or_goes_on_while_nobody_works_and_one_model_is_set_up_once() =>
        Few()
            .Sample(work =>
            {
                foreach (var hand in work.Placed(Dispatch.Lay(work)).GroupBy(p => p.Hand.Id))
                {
                    PlacedJob? before = null;
                    foreach (var p in hand.OrderBy(p => p.Begins))
                    {
                        p.Begins.ShouldBeGreaterThanOrEqualTo(p.Job.Ready);
                        p.SetUp.ShouldBe(work.SetUpMinutes > 0 && before?.Job.Model != p.Job.Model);
                        if (before is not null)
                        {
                            p.Begins.ShouldBeGreaterThanOrEqualTo(before.Ends);
                        }

                        var worked = p.Hand.Shifts.Before(p.Ends) - p.Hand.Shifts.Before(p.Begins);
                        worked.ShouldBe(p.Takes + (p.SetUp ? work.SetUpMinutes : 0));
                        before = p;
                    }
                }
            });

    [Fact]
    public void A_job_that_is_pinned_begins_as_early_as_if_there_were_nothing_else()
    {
        BenchJob[] jobs =
        [
            Job("a", 30, 100, due: 30),
            Job("b", 30, 100, due: 60),
            Job("p", 20, 1, ready: 10, due: 9000) with
            {
                Only = Hand("x").Id,
                Pin = 0,
            },
            Job("s", 8, 1, due: 9000),
        ];
        var (work, _) = BenchWork.Of(jobs, [Hand("x")], 0);
        var placed = work.Placed(Dispatch.Lay(work));
        placed.Single(p => p.Job.Id == "p").Begins.ShouldBe(Start.AddMinutes(10));
        // The gap before it is filled by what fits.
        placed[0].Job.Id.ShouldBe("s");
    }

    [Fact]
    public void A_day_on_which_only_others_work_makes_a_job_late_and_a_night_does_not()
    {
        var night = new BenchHand(
            new Guid('n', 0, 0, new byte[8]),
            "n",
            Shifts.Of([new(Start, Start.AddMinutes(60)), new(Start.AddDays(1), Start.AddDays(1).AddMinutes(60))])
        );
        Late([Job("a", 70, due: 60)], [night]).ShouldBe(10);
        Late([Job("a", 70, due: 60) with { Only = night.Id }], [night, Hand("x", 480)]).ShouldBe(420 + 10);

        static int Late(BenchJob[] jobs, BenchHand[] hands)
        {
            var (work, _) = BenchWork.Of(jobs, hands, 0);
            return work.Placed(Dispatch.Lay(work)).Single().MinutesLate;
        }
    }

    [Fact]
    public void What_cannot_be_laid_is_said_and_nothing_else_suffers()
    {
        var absent = Hand("y", 0);
        BenchJob[] jobs = [Job("long", 600), Job("theirs", 10) with { Only = absent.Id }, Job("fits", 50)];
        var (work, not) = BenchWork.Of(jobs, [Hand("x", 100), absent], 4);
        work.Jobs.Single().Id.ShouldBe("fits");
        not.Select(n => (n.Job.Id, n.Why))
            .ShouldBe([
                ("long", "It takes 600 minutes; nobody has so many from when it can begin."),
                ("theirs", "y has no hours at the bench."),
            ]);
        BenchWork.Of(jobs, [], 4).Unplaced.ShouldAllBe(n => n.Why == "Nobody has hours at the bench.");
        Dispatch.Lay(BenchWork.Of([], [], 4).Work).ShouldBeEmpty();
    }

    [Fact]
    public void More_pinned_than_somebody_has_time_for_is_said_of_what_has_no_room()
    {
        var hand = Hand("x", 100);
        var jobs = Enumerable
            .Range(0, 4)
            .Select(i => Job($"p{i}", 30, model: "m") with { Only = hand.Id, Pin = i })
            .Append(Job("free", 5));
        var (work, not) = BenchWork.Of(jobs, [hand], 4);
        not.Single().Job.Id.ShouldBe("p3");
        not.Single().Why.ShouldContain("behind what is pinned x has not so many");
        work.Placed(Dispatch.Lay(work))
            .Select(p => p.Job.Id)
            .ShouldBe(["p0", "p1", "p2"], "and for the free one there is none left");
    }

    [Fact]
    public void A_promise_at_risk_is_kept_by_going_first_or_to_another_and_who_suffers_is_said()
    {
        BenchJob[] jobs = [Job("a", 60, 9, due: 60), Job("b", 60, 1, due: 90)];
        var (work, _) = BenchWork.Of(jobs, [Hand("x"), Hand("y", from: 600)], 0);
        IReadOnlyList<IReadOnlyList<int>> orders =
        [
            [0, 1],
            [],
        ];
        work.Placed(orders).Single(p => p.AtRisk).Job.Id.ShouldBe("b");
        var way = Rescue.Of(work, orders, "b").ShouldHaveSingleItem();
        (way.Hand.Name, way.Behind, way.Harmed.Single().Job.Id).ShouldBe(("x", null, "a"));

        // Nobody can help a job whose part comes too late.
        var (late, _) = BenchWork.Of([Job("c", 60, due: 60, ready: 50)], [Hand("x")], 0);
        Rescue.Of(late, Dispatch.Lay(late), "c").ShouldBeEmpty();
    }

    /// <summary>The sum of two lengths that vary by 10 and 10 minutes varies by √200: late by more than its slack in 16 of 100.</summary>
    [Fact]
    public void The_chance_to_be_late_follows_from_how_far_the_jobs_before_vary()
    {
        var wide = new Minutes(60, 60 - 12.816, 60 + 12.816);
        BenchJob[] jobs =
        [
            Job("a", 60, 9, due: 500) with
            {
                Minutes = wide,
            },
            Job("b", 60, due: 120) with
            {
                Minutes = wide,
            },
        ];
        var (work, _) = BenchWork.Of(jobs, [Hand("x")], 0);
        work.Placed([
                [0, 1],
            ])[1]
            .ChanceLate.ShouldBe(0.486, 0.001); // 1 − Φ(0.5 / 14.142)
        work.Placed([
                [0, 1],
            ])[0]
            .ChanceLate.ShouldBe(0, 1e-9);
    }

    [Fact]
    public void Who_leaves_a_part_to_others_gets_no_job_with_it_unless_a_person_chose_them()
    {
        var learner = Hand("y") with { Leaves = new LeftToOthers(["m2"], ["memory"]) };
        var board = Job("a", 10, model: "m1") with { Slots = ["drive", "memory-b"] };
        var chosen = board with { Id = "b", Only = learner.Id };
        var model = Job("c", 10, model: "m2");
        var (work, unplaced) = BenchWork.Of([board, chosen, model], [learner, Hand("z")], 0);
        unplaced.ShouldBeEmpty();
        work.Placed(Dispatch.Lay(work))
            .Select(p => (p.Job.Id, p.Hand.Name))
            .ShouldBe([("a", "z"), ("c", "z"), ("b", "y")], ignoreOrder: true);
        BenchWork
            .Of([board, chosen, model], [learner], 0)
            .Unplaced.Select(n => (n.Job.Id, n.Why))
            .ShouldBe([("a", "y leaves such work to others."), ("c", "y leaves such work to others.")]);
        var known = new Dictionary<string, string> { ["m1"] = "Model One", ["m2"] = "Model Two" };
        string[] slots = ["drive", "memory-a", "memory-b"];
        var read = LeftToOthers.Read(" model two,M1,,m1", "Memory, drive", known, slots).Value;
        (string.Join(' ', read.Models), string.Join(' ', read.Parts)).ShouldBe(("m1 m2", "drive memory"));
        LeftToOthers.Read(" , ", null, known, slots).Value.IsNothing.ShouldBeTrue();
        LeftToOthers.Read("m3", null, known, slots).Refusal!.Message.ShouldContain("no model \"m3\"");
        LeftToOthers.Read(null, "mem", known, slots).Refusal!.Message.ShouldEndWith("drive, memory-a, memory-b.");
        // A slot is not another whose name merely begins alike.
        LeftToOthers.Stands("board", "boards").ShouldBeFalse();
    }

    /// <summary>A quarter longer, as the second doubling of an 80 % learning curve has it.</summary>
    [Fact]
    public void Whoever_has_practised_a_model_gets_it_where_time_is_short_and_a_first_time_takes_longer()
    {
        var learner = Hand("a") with { Unpractised = new HashSet<string> { "m1" } };
        BenchJob[] jobs = [Job("p", 100, due: 110, model: "m1"), Job("q", 100, due: 110, model: "m2")];
        var (work, _) = BenchWork.Of(jobs, [learner, Hand("b")], 0);
        var placed = work.Placed(Dispatch.Lay(work));
        placed
            .Select(p => (p.Job.Id, p.Hand.Name, p.Takes, p.Unpractised, p.MinutesLate))
            .ShouldBe([("q", "a", 100, false, 0), ("p", "b", 100, false, 0)], ignoreOrder: true);

        // Alone, the learner does both, and the promise is reckoned with the longer time.
        var (alone, _) = BenchWork.Of([jobs[0]], [learner], 0);
        var first = alone.Placed(Dispatch.Lay(alone)).ShouldHaveSingleItem();
        (first.Takes, first.Unpractised, first.MinutesLate).ShouldBe((125, true, 15));
        BenchWork
            .Of([Job("r", 100, model: "m1")], [Hand("a", 110) with { Unpractised = learner.Unpractised }], 0)
            .Unplaced.ShouldHaveSingleItem()
            .Why.ShouldBe("It takes 125 minutes; nobody has so many from when it can begin.");
    }

    internal static Gen<BenchWork> Few() =>
        Gen.Select(
            Gen.Select(Gen.Int[1, 40], Gen.Int[1, 5], Gen.Int[0, 60], Gen.Int[10, 160], Gen.Int[0, 2]).List[1, 5],
            Gen.Int[1, 2],
            Gen.Int[0, 5],
            Gen.Int[0, 80],
            Gen.Int[0, 5],
            (jobs, hands, setUp, gap, left) =>
                BenchWork
                    .Of(
                        jobs.Select((j, i) => Job($"j{i}", j.Item1, j.Item2, j.Item3, j.Item4, model: $"m{j.Item5}")),
                        new[]
                        {
                            Hand("x", 2000),
                            new BenchHand(
                                new Guid('y', 0, 0, new byte[8]),
                                "y",
                                Shifts.Of(
                                    [new(Start, Start.AddMinutes(2000))],
                                    [new(Start.AddMinutes(gap), Start.AddMinutes(gap + 50))]
                                ),
                                new LeftToOthers([$"m{left}"], [])
                            )
                            {
                                Unpractised = new HashSet<string> { $"m{5 - left}" },
                            },
                        }.Take(hands),
                        setUp
                    )
                    .Work
        );
}
