using CsCheck;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Economics;
using Zenrik.Core.Fleet;
using Zenrik.Core.Scheduling;
using Zenrik.Workshop.Economics;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.Scheduling;

namespace Zenrik.Workshop.Tests.Economics;

public sealed class HarvestTests(TemplateDatabase databases)
{
    private static readonly Gen<HarvestProblem> Small = Gen.Select(
        Gen.Int[0, 25].List[1, 3],
        Gen.Select(Gen.Int[0, 2], Gen.Int[0, 3], Gen.Int[0, 9]).List[0, 5],
        Gen.Select(Gen.Int[0, 15], Gen.Int[0, 40]).List[0, 4],
        (donors, parts, wants) =>
            new HarvestProblem(
                [.. donors.Select((opens, i) => new HarvestDonor($"d{i}", "m", opens))],
                [
                    .. parts.Select(
                        (p, i) => new HarvestPart(p.Item1 % donors.Count, $"s{i}", $"s{i}", $"n{p.Item2}", p.Item3, 0.5)
                    ),
                ],
                [
                    .. wants.Select(
                        (w, i) =>
                            new HarvestWant(
                                $"w{i}",
                                $"w{i}",
                                Enumerable
                                    .Range(0, 4)
                                    .Where(n => (w.Item1 >> n & 1) == 1)
                                    .Select(n => $"n{n}")
                                    .ToHashSet(),
                                w.Item2,
                                true
                            )
                    ),
                ]
            )
    );

    /// <summary>Against every way to give parts to wants; and never worse than stripping for one at a time.</summary>
    [Fact]
    public void The_harvest_gives_as_much_as_the_best_of_all()
    {
        Small.Sample(
            problem =>
            {
                var (taken, proved) = SolveHarvest.Run(problem);
                proved.ShouldBeTrue();
                taken.Select(t => t.Part).Distinct().Count().ShouldBe(taken.Count);
                taken.Select(t => t.Want).Distinct().Count().ShouldBe(taken.Count);
                taken.ShouldAllBe(t => problem.Serves(t.Part, t.Want));
                problem.Value(taken).ShouldBe(Best(problem), 1e-6);
                problem.Value(taken).ShouldBeGreaterThanOrEqualTo(problem.AsNeeded().Value - 1e-6);
            },
            iter: 60,
            threads: 1
        );

        static double Best(HarvestProblem problem)
        {
            var taken = new List<Taken>();
            return Try(0);

            double Try(int want)
            {
                if (want == problem.Wants.Count)
                {
                    return problem.Value(taken);
                }

                var best = Try(want + 1);
                for (var p = 0; p < problem.Parts.Count; p++)
                {
                    if (problem.Serves(p, want) && !taken.Exists(t => t.Part == p))
                    {
                        taken.Add(new Taken(p, want));
                        best = Math.Max(best, Try(want + 1));
                        taken.RemoveAt(taken.Count - 1);
                    }
                }

                return best;
            }
        }
    }

    [Fact]
    public async Task A_repair_that_waits_gets_its_part_out_of_a_donor_and_another_donor_has_a_price()
    {
        await using var book = await databases.NewBook();
        var stop = TestContext.Current.CancellationToken;
        // A deck nobody sells and no shelf has, in a donor of the model.
        var donor = await book.Ask(db =>
            db.Items.Where(i =>
                    i.Unit!.State == UnitState.Donor && i.Slot == "keyboard-deck" && i.Unit.ModelCode == "thimble-11"
                )
                .OrderBy(i => i.Unit!.Tag)
                .Select(i => new
                {
                    i.Unit!.Tag,
                    i.Number.Number,
                    i.NumberId,
                })
                .FirstAsync(stop)
        );
        (
            await book.Sql(
                $"UPDATE items SET bin_id = (SELECT id FROM bins WHERE kind = 'Quarantine' LIMIT 1), bin_kind = 'Quarantine' WHERE bin_id IN (SELECT id FROM bins WHERE kind = 'Shelf') AND number_id IN (SELECT number_id FROM catalogue_fits WHERE model_code = 'thimble-11' AND slot = 'keyboard-deck') AND id NOT IN (SELECT item_id FROM reservations WHERE item_id IS NOT NULL)"
            )
        ).ShouldBeNull();
        var bo = await book.Person("bo");
        var repair = await book.Opened(bo, "deck", "keys dead", await book.Idle("thimble-11"));
        var view = await book.Do<PlanHarvest, HarvestView>(h => h.Run(stop));
        var mine = view.Strip.SelectMany(d => d.Take).Where(t => t.For.Id == Repair.CodeOf(repair)).ToList();
        var waits = (await book.Do<ViewCounter, CounterView>(c => c.Run(stop))).Waiting.Single(r =>
            r.Repair.Number == repair
        );
        waits.Lacking.Count.ShouldBe(1);
        mine.ShouldHaveSingleItem().Part.Slot.ShouldBe("keyboard-deck");
        view.Proved.ShouldBeTrue();
        view.Value.ShouldBeGreaterThanOrEqualTo(view.AsNeeded - 1e-6);
        view.Strip.ShouldAllBe(d => d.Worth > d.Minutes);

        // No donors at all: what waits says so, and what one would be worth.
        var from = view.Strip.Single(d => d.Take.Any(t => t.For.Id == Repair.CodeOf(repair))).Donor.Tag;
        (await book.Sql("UPDATE units SET state = 'InUse' WHERE state = 'Donor'")).ShouldBeNull();
        var none = await book.Do<PlanHarvest, HarvestView>(h => h.Run(stop));
        (none.Strip.Count, none.Leave.Count).ShouldBe((0, 0));
        none.Open.Select(w => w.Id).ShouldContain(Repair.CodeOf(repair));
        none.OneMore.Select(m => m.Model).ShouldContain("Thimble 11");
        (await book.Sql($"UPDATE units SET state = 'Donor' WHERE tag = '{from}'")).ShouldBeNull();

        // It becomes a job: the waiting repair is promised, so the part is due by then; what is out is asked for no more.
        var day = DateOnly.FromDateTime(book.Clock.GetLocalNow().DateTime).AddDays(3);
        _ = (
            await book.Do<CorrectRepair, Outcome<string>>(c =>
                c.Run(Guid.CreateVersion7(), repair, Priority.Normal, day, null, bo, stop)
            )
        ).Value;
        var asked = Guid.CreateVersion7();
        (await Ask(asked, from, ["keyboard-deck", "battery"], [Repair.CodeOf(repair)])).Value.ShouldContain(
            $"Stripping {from} of keyboard deck, battery is on the bench calendar"
        );
        (await Ask(asked, from, ["keyboard-deck", "battery"], [Repair.CodeOf(repair)])).Refusal.ShouldBeNull();
        var job = (await Strips()).ShouldHaveSingleItem();
        (job.Task.What, job.Task.Unit.Tag, job.Pinned).ShouldBe(("strip: keyboard deck, battery", from, false));
        job.Placed.Job.Due.ShouldBe(book.Clock.MomentOf(day));
        job.Placed.Job.Weight.ShouldBe(BenchCustom.Weight(promised: true, 0));
        job.Placed.Job.Minutes.Expected.ShouldBeInRange(3, 60);
        // It has its place among what is somebody's as a repair has.
        (await Pin(job.Task.Code, null)).Value.ShouldBe($"Strip {from} is the first thing {bo.Name} does.");
        var first = (await Calendar()).Jobs.First(j => j.Placed.Hand.Id == bo.Id && !j.Underway);
        (first.Task.Code, first.Pinned).ShouldBe((job.Task.Code, true));
        var before = await book.Opened(bo, "fan", "fan noisy", await book.Idle("sandpiper-14"));
        (await Pin(Repair.CodeOf(before), job.Task.Code)).Value.ShouldContain($"right after {job.Task.Code}");
        (await Pin(job.Task.Code, Repair.CodeOf(before))).Value.ShouldContain($"right after {Repair.CodeOf(before)}");
        (await Calendar())
            .Jobs.Where(j => j.Placed.Hand.Id == bo.Id && j.Pinned)
            .Select(j => j.Task.Code)
            .ShouldBe([Repair.CodeOf(before), job.Task.Code]);
        (await Pin(job.Task.Code, job.Task.Code)).Refusal!.Message.ShouldContain("cannot come behind itself");
        (await Pin("strip nothing", null)).Refusal.ShouldNotBeNull();
        (await Pin($"strip {await book.Idle("thimble-11")}", null)).Refusal!.Message.ShouldContain("not a donor");
        (await Pin("", null)).Refusal!.Message.ShouldContain("as R-1001");
        (await book.Do<PinJob, Outcome<string>>(p => p.Unpin(job.Task.Code, bo, stop))).Refusal.ShouldBeNull();
        (await Strips()).ShouldHaveSingleItem().Pinned.ShouldBeFalse();
        (await Strip(from, new Stripped("battery", null, true))).Refusal.ShouldBeNull();
        (await Strips()).ShouldHaveSingleItem().Task.What.ShouldBe("strip: keyboard deck");
        (await Strip(from, new Stripped("keyboard-deck", null, true))).Refusal.ShouldBeNull();
        (await Strips()).ShouldBeEmpty();

        // Wrong: what is out, what never was, a repair that does not wait, no donor; and called off, twice.
        (await Ask(New(), from, ["battery"], [])).Refusal!.Message.ShouldContain("no battery in");
        (await Ask(New(), from, ["sails"], [])).Refusal!.Message.ShouldContain("has no slot “sails”");
        (await Ask(New(), from, [], [])).Refusal!.Message.ShouldContain("Tick at least one");
        (await Ask(New(), from, ["fan"], ["R-9999"])).Refusal!.Message.ShouldContain("does not wait any more");
        (await Ask(New(), await book.Idle("thimble-11"), ["fan"], [])).Refusal!.Message.ShouldContain("not a donor");
        (await Ask(New(), from, ["fan"], [])).Refusal.ShouldBeNull();
        (await CallOff(from)).Value.ShouldContain("stays a donor");
        (await CallOff(from)).Refusal!.Message.ShouldContain("Nobody asked");

        // A donor no more: what was asked of it is asked no more either.
        (await Ask(New(), from, ["fan"], [])).Refusal.ShouldBeNull();
        (
            await book.Do<EndDonor, Outcome<string>>(e =>
                e.Retire(New(), from, [new Erased("drive", DataHeld.Internal, ErasureMethod.Destroy, true)], bo, stop)
            )
        ).Refusal.ShouldBeNull();
        (await book.Ask(db => db.StripJobs.CountAsync(stop))).ShouldBe(0);

        static Guid New() => Guid.CreateVersion7();
        Task<Outcome<string>> Ask(Guid request, string tag, string[] slots, string[] repairs) =>
            book.Do<AskForStrip, Outcome<string>>(a => a.Run(request, tag, slots, repairs, bo, stop));
        Task<Outcome<string>> CallOff(string tag) =>
            book.Do<AskForStrip, Outcome<string>>(a => a.CallOff(New(), tag, bo, stop));
        Task<Outcome<string>> Strip(string tag, Stripped part) =>
            book.Do<StripDonor, Outcome<string>>(s => s.Run(New(), tag, [part], "c-01", bo, stop));
        Task<Outcome<string>> Pin(string code, string? behind) =>
            book.Do<PinJob, Outcome<string>>(p => p.Pin(code, bo.Id, behind, bo, stop));
        Task<BenchCalendar> Calendar() => book.Do<ViewCalendar, BenchCalendar>(c => c.Run(stop));
        async Task<IReadOnlyList<CalendarJob>> Strips() =>
            [.. (await Calendar()).Jobs.Where(j => j.Task.Strip is not null)];
    }
}
