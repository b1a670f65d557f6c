using CsCheck;
using Zenrik.Core.Scheduling;

namespace Zenrik.Core.Tests.Scheduling;

public class CampaignWavesTests
{
    private static readonly DateOnly Monday = new(2026, 3, 2);

    private static List<BenchDay> Weekdays(int days, double minutes) =>
        [
            .. Enumerable
                .Range(0, days)
                .Select(Monday.AddDays)
                .Where(d => d.DayOfWeek is not (DayOfWeek.Saturday or DayOfWeek.Sunday))
                .Select(d => new BenchDay(d, minutes)),
        ];

    private sealed record Case(List<SiteUnits> Sites, List<BenchDay> Bench, int Carry);

    private static Gen<Case> Cases(int mostSites, int mostUnits) =>
        from sites in (
            from units in Gen.Int[0, mostUnits]
            from here in Gen.Frequency((3, Gen.Const(0)), (1, Gen.Int[0, mostUnits]))
            from minutes in Gen.Double[10, 90]
            from spare in Gen.Int[1, 6]
            select new SiteUnits("", units, Math.Min(here, units), minutes, spare)
        ).List[1, mostSites]
        from minutes in Gen.Double[60, 400]
        from carry in Gen.Int[0, 3]
        select new Case([.. sites.Select((s, i) => s with { Site = $"site {i}" })], Weekdays(900, minutes), carry);

    [Fact]
    public void Six_units_two_at_a_time_a_day_on_the_way()
    {
        // By hand: an hour each, two hours a day; Saturday and Sunday nobody works or hands anything over.
        var waves = CampaignWaves.Of([new SiteUnits("Tidewell", 6, 0, 60, 2)], Weekdays(60, 120), Monday, 1);

        waves
            .Waves.Select(w => (w.Units, w.Leaves.Day, w.Begins.Day, w.Ready.Day, w.Back.Day))
            .ShouldBe([(2, 2, 3, 3, 4), (2, 4, 5, 5, 6), (2, 6, 9, 9, 10)]);
        (waves.Done, waves.Soonest, waves.UnitDays).ShouldBe((Monday.AddDays(8), Monday.AddDays(8), 2 * (2 + 2 + 4)));
    }

    [Fact]
    public void A_unit_waits_for_its_part_and_one_goes_without()
    {
        // By hand: three parts are there, one more can be fitted from Wednesday of the week after on; five units take one.
        var waves = CampaignWaves.Of(
            [new SiteUnits("Tidewell", 6, 0, 60, 2, [0, 0, -1, 0, 0, 0])],
            Weekdays(60, 120),
            Monday,
            1,
            [PartSupply.Of(3, [(Monday.AddDays(8), 1)], Monday)]
        );

        waves
            .Waves.Select(w => (w.Units, w.Leaves.Day, w.Begins.Day, w.Back.Day))
            .ShouldBe([(2, 2, 3, 4), (2, 4, 5, 6), (1, 10, 11, 12)]);
        (waves.Without, waves.Unplaced).ShouldBe((1, 0));
        // What should have come last week may come today.
        PartSupply.Of(0, [(Monday.AddDays(-7), 2)], Monday).For(2).ShouldBe(Monday.AddDays(1));
        CampaignWaves
            .DoneBy(
                Monday.AddDays(30),
                [new SiteUnits("Tidewell", 2, 0, 60, 2, [0, 0])],
                Weekdays(60, 120),
                50,
                Monday,
                1,
                [new PartSupply([(DateOnly.MinValue, 1)])]
            )
            .ShouldBeEmpty();
    }

    [Fact]
    public void No_wave_begins_before_its_parts_are_there_and_none_waits_in_vain() =>
        (
            from c in Cases(mostSites: 4, mostUnits: 20)
            from parts in Gen.Int[-1, 1].Array[80]
            from comes in Gen.Select(Gen.Int[0, 60], Gen.Int[0, 15]).Array[2, 6]
            select (c, parts, comes)
        ).Sample(
            (c, parts, comes) =>
            {
                var (i, sites) = (0, new List<SiteUnits>());
                foreach (var site in c.Sites)
                {
                    sites.Add(site with { Parts = parts[i..(i + site.Units)] });
                    i += site.Units;
                }

                // Every other delivery is of the other kind.
                List<PartSupply> supplies =
                [
                    .. new[] { 0, 1 }.Select(kind => new PartSupply([
                        .. comes
                            .Where((_, n) => n % 2 == kind)
                            .Select(d => (Monday.AddDays(d.Item1), d.Item2))
                            .OrderBy(d => d.Item1),
                    ])),
                ];
                var plan = CampaignWaves.Of(sites, c.Bench, Monday, c.Carry, supplies);

                plan.Unplaced.ShouldBe(0);
                var wanted = sites.SelectMany(s => s.Parts!).CountBy(p => p).ToDictionary();
                plan.Without.ShouldBe(
                    new[] { 0, 1 }.Sum(kind => Math.Max(0, wanted.GetValueOrDefault(kind) - supplies[kind].Pieces))
                );
                plan.Waves.Sum(w => w.Units).ShouldBe(sites.Sum(s => s.Units) - plan.Without);
                // On any day no more is begun than there is, whichever of a site's units are left out for want of a part.
                foreach (var begun in plan.Waves.Select(w => w.Begins).Distinct())
                {
                    var units = plan.Waves.Where(w => w.Begins <= begun).Sum(w => w.Units);
                    var there = supplies.Sum(s => s.Comes.Where(d => d.From <= begun).Sum(d => d.Pieces));
                    units.ShouldBeLessThanOrEqualTo(there + wanted.GetValueOrDefault(-1));
                }

                // With all of it on the shelf nothing changes.
                var plenty = CampaignWaves.Of(
                    sites,
                    c.Bench,
                    Monday,
                    c.Carry,
                    [.. supplies.Select(_ => new PartSupply([(DateOnly.MinValue, 1000)]))]
                );
                plenty.Waves.ShouldBe(CampaignWaves.Of(c.Sites, c.Bench, Monday, c.Carry).Waves);
                (plan.Without > 0 || plan.Done is null || plan.Done >= plenty.Soonest).ShouldBeTrue();
            },
            iter: 1000
        );

    [Fact]
    public void Nobody_is_without_more_than_can_be_spared_and_the_bench_does_one_after_the_other() =>
        Cases(mostSites: 5, mostUnits: 25)
            .Sample(
                c =>
                {
                    var plan = CampaignWaves.Of(c.Sites, c.Bench, Monday, c.Carry);

                    plan.Unplaced.ShouldBe(0);
                    foreach (var site in c.Sites)
                    {
                        var own = plan.Waves.Where(w => w.Site == site.Site).ToList();
                        own.Sum(w => w.Units).ShouldBe(site.Units);
                        own.Where(w => w.Here).Sum(w => w.Units).ShouldBe(site.Here);
                        foreach (var day in own.Select(w => w.Leaves))
                        {
                            own.Where(w => w.Leaves == day || (w.Leaves < day && day < w.Back))
                                .Sum(w => w.Units)
                                .ShouldBeLessThanOrEqualTo(Math.Max(site.Spare, site.Here));
                        }
                    }

                    var minutes = c.Sites.ToDictionary(s => s.Site, s => s.Minutes);
                    var (done, before) = (0.0, Monday);
                    foreach (var wave in plan.Waves)
                    {
                        wave.Begins.ShouldBeGreaterThanOrEqualTo(before);
                        wave.Back.ShouldBeGreaterThanOrEqualTo(wave.Ready.AddDays(c.Carry));
                        (wave.Here || wave.Leaves.AddDays(c.Carry) <= wave.Begins).ShouldBeTrue();
                        wave.Leaves.ShouldBeGreaterThanOrEqualTo(Monday);
                        wave.Leaves.DayOfWeek.ShouldNotBe(DayOfWeek.Sunday);
                        done += wave.Units * minutes[wave.Site];
                        c.Bench.Where(d => d.Day <= wave.Ready).Sum(d => d.Minutes).ShouldBeGreaterThan(done - 1e-6);
                        c.Bench.Where(d => d.Day >= wave.Begins && d.Day <= wave.Ready)
                            .Sum(d => d.Minutes)
                            .ShouldBeGreaterThan((wave.Units * minutes[wave.Site]) - 1e-6);
                        before = wave.Ready;
                    }
                },
                iter: 2000
            );

    [Fact]
    public void The_order_is_nearly_always_the_best_there_is_and_never_better_than_the_bound()
    {
        var (cases, best) = (0, 0);
        Cases(mostSites: 3, mostUnits: 7)
            .Where(c => c.Sites.Sum(s => s.Units) is > 0 and < 14 && c.Sites.All(s => s.Here == 0))
            .Sample(
                c =>
                {
                    var plan = CampaignWaves.Of(c.Sites, c.Bench, Monday, c.Carry);
                    var least = EveryOrderOfWaves(c).Min();

                    least.ShouldBeGreaterThanOrEqualTo(plan.Soonest!.Value);
                    plan.Done!.Value.ShouldBeGreaterThanOrEqualTo(least);
                    Interlocked.Increment(ref cases);
                    Interlocked.Add(ref best, plan.Done == least ? 1 : 0);
                },
                iter: 400
            );
        best.ShouldBeGreaterThan(cases * 95 / 100);
    }

    [Fact]
    public void What_would_have_it_done_in_time_is_the_least_that_does() =>
        Cases(mostSites: 3, mostUnits: 15)
            .Where(c => c.Sites.Sum(s => s.Units) > 0)
            .Sample(
                c =>
                {
                    var now = CampaignWaves.Of(c.Sites, CampaignWaves.Share(c.Bench, 30), Monday, c.Carry);
                    var day = now.Done!.Value.AddDays(-3);
                    foreach (var way in CampaignWaves.DoneBy(day, c.Sites, c.Bench, 30, Monday, c.Carry))
                    {
                        way.Done.ShouldBeLessThanOrEqualTo(day);
                        With(way.Share, way.More).ShouldBe(way.Done);
                        if (way.More == 0)
                        {
                            With(way.Share - 10, 0).ShouldBeGreaterThan(day);
                        }
                        else if (way.More < 10)
                        {
                            With(way.Share, way.More - 1).ShouldBeGreaterThan(day);
                        }
                    }

                    DateOnly With(int share, int more) =>
                        CampaignWaves
                            .Of(
                                [.. c.Sites.Select(s => s with { Spare = s.Spare + more })],
                                CampaignWaves.Share(c.Bench, share),
                                Monday,
                                c.Carry
                            )
                            .Done!.Value;
                },
                iter: 200
            );

    [Fact]
    public void Days_that_are_not_enough_and_nothing_to_do_are_said()
    {
        var tooFew = CampaignWaves.Of([new SiteUnits("Tidewell", 6, 0, 60, 2)], Weekdays(4, 120), Monday, 1);
        (tooFew.Done, tooFew.Soonest, tooFew.Unplaced).ShouldBe((null, null, 2));
        var none = CampaignWaves.Of([new SiteUnits("Tidewell", 0, 0, 60, 2)], [], Monday, 1);
        (none.Done, none.Waves.Count, none.Unplaced).ShouldBe((null, 0, 0));
        Should.Throw<ArgumentException>(() =>
            CampaignWaves.Of([new SiteUnits("Tidewell", 1, 0, 60, 0)], Weekdays(4, 120), Monday, 1)
        );
    }

    /// <summary>The day everything is back in every order of waves, minute by minute of the days worked, from the definitions.</summary>
    private static IEnumerable<DateOnly> EveryOrderOfWaves(Case c)
    {
        var sizes = c.Sites.ConvertAll(s =>
        {
            var waves = (s.Units + s.Spare - 1) / s.Spare;
            return Enumerable.Range(0, waves).Select(i => (s.Units / waves) + (i < s.Units % waves ? 1 : 0)).ToList();
        });
        return Go(
            [.. sizes.Select(_ => 0)],
            [.. sizes.Select(_ => Worked(Monday).AddDays(c.Carry))],
            Monday,
            0,
            Monday
        );

        DateOnly Worked(DateOnly day) => c.Bench.First(d => d.Day >= day).Day;

        IEnumerable<DateOnly> Go(int[] next, DateOnly[] at, DateOnly day, double used, DateOnly last)
        {
            var open = Enumerable.Range(0, next.Length).Where(s => next[s] < sizes[s].Count).ToList();
            if (open.Count == 0)
            {
                return [last];
            }

            return open.SelectMany(s =>
            {
                var (now, spent) = at[s] > day ? (Worked(at[s]), 0.0) : (day, used);
                (now, spent) = c.Bench[0].Minutes - spent < 1e-9 ? (Worked(now.AddDays(1)), 0.0) : (Worked(now), spent);
                var need = sizes[s][next[s]] * c.Sites[s].Minutes;
                while (need > c.Bench[0].Minutes - spent + 1e-9)
                {
                    need -= c.Bench[0].Minutes - spent;
                    (now, spent) = (Worked(now.AddDays(1)), 0.0);
                }

                var back = Worked(now.AddDays(c.Carry));
                int[] then = [.. next];
                DateOnly[] arrives = [.. at];
                then[s]++;
                arrives[s] = c.Carry == 0 ? now.AddDays(1) : back.AddDays(c.Carry);
                return Go(then, arrives, now, spent + need, back > last ? back : last);
            });
        }
    }
}
