using CsCheck;
using Zenrik.Core.Reliability;
using Zenrik.Core.Repairs;

namespace Zenrik.Core.Tests.Reliability;

public sealed class WatchTests
{
    private static readonly DateOnly Today = new(2026, 11, 27);

    /// <summary>Lives of one kind, by lot; seeded, so that every run sees the same fleet.</summary>
    private static List<WatchedLife> Fleet(int seed, double badScale)
    {
        var random = new Random(seed);
        var lives = new List<WatchedLife>();
        foreach (var (lot, count, scale) in new[] { ("A", 120, 5000.0), ("B", 40, badScale), ("C", 90, 5000.0) })
        {
            for (var i = 0; i < count; i++)
            {
                var began = Today.AddDays(-random.Next(200, 900));
                var age = (int)(scale * Math.Pow(-Math.Log(1 - random.NextDouble()), 1 / 1.2));
                var ends = began.AddDays(Math.Max(1, age));
                var life = new Lifetime(began, ends < Today ? ends : Today, ends < Today);
                lives.Add(
                    new WatchedLife(life, "thimble-11", "keyboard-deck", lot, "N-1", i % 2 == 0 ? "North" : "South")
                );
            }
        }

        return lives;
    }

    [Fact]
    public void Groups_of_a_kind_are_expected_to_fail_as_often_as_all_of_it_did_and_two_differ_by_as_much_as_each_other() =>
        (
            from size in Gen.Int[1, 60]
            from days in Gen.Int[1, 30].Array[size]
            from failed in Gen.Bool.Array[size]
            from groups in Gen.Int[0, 2].Array[size]
            select Enumerable
                .Range(0, size)
                .Select(i => (Life: new Lifetime(Today.AddDays(-days[i]), Today, failed[i]), Group: groups[i]))
                .ToList()
        ).Sample(
            lives =>
            {
                var all = RiskTable.Of(Of(0, 1, 2));
                Enumerable
                    .Range(0, 3)
                    .Sum(g => all.Compare(Of(g)).Expected)
                    .ShouldBe(lives.Count(l => l.Life.Failed), 1e-9);
                LogRank.Of(Of(0), Of(1, 2)).ChiSquare.ShouldBe(LogRank.Of(Of(1, 2), Of(0)).ChiSquare, 1e-9);

                List<Lifetime> Of(params int[] groups) =>
                    [.. lives.Where(l => groups.Contains(l.Group)).Select(l => l.Life)];
            },
            iter: 1000
        );

    [Fact]
    public void A_lot_that_fails_early_is_found_with_when_and_how_many_are_left()
    {
        var found = Watch.Find(Fleet(7, 900));
        var lot = found.ShouldHaveSingleItem();
        (lot.By, lot.Value, lot.Parts).ShouldBe((WatchBy.Lot, "B", 40));
        lot.InService.ShouldBe(40 - lot.Test.Failed);
        lot.Rate.Low.ShouldBeGreaterThan(1);
        lot.Since.ShouldBeLessThan(Today);
        lot.Suspected.ShouldBeFalse();
        // As it was known the day before, nothing was more than suspected yet.
        Watch
            .Find([
                .. Fleet(7, 900)
                    .Select(l => l.Life.On(lot.Since.AddDays(-1)) is { } life ? l with { Life = life } : null)
                    .OfType<WatchedLife>(),
            ])
            .ShouldAllBe(f => f.Suspected);
    }

    [Fact]
    public void Four_of_five_lots_that_fail_three_times_as_often_are_listed_within_half_a_year_and_one_slot_in_twenty_by_chance()
    {
        // One slot with the bad lot of forty, one where all lots are alike; three in ten parts fail in a year.
        var (found, alarms, fleets) = (0, 0, 1500);
        for (var seed = 1; seed <= fleets; seed++)
        {
            var random = new Random(seed);
            List<WatchedLife> lives = [.. Slot("board", 3), .. Slot("fan", 1)];
            var listed = Watch.Find(lives);
            found += listed.Any(f => (f.Slot, f.Value) == ("board", "B")) ? 1 : 0;
            alarms += listed.Count(f => f.Slot == "fan");

            IEnumerable<WatchedLife> Slot(string slot, double times) =>
                [.. Lot(slot, "A", 60, 1), .. Lot(slot, "B", 40, times), .. Lot(slot, "C", 60, 1)];

            IEnumerable<WatchedLife> Lot(string slot, string lot, int parts, double times) =>
                Enumerable
                    .Range(0, parts)
                    .Select(_ =>
                    {
                        var served = lot == "B" ? 182 : random.Next(182, 900);
                        var life = 365 / (0.3 * times) * Math.Pow(-Math.Log(1 - random.NextDouble()), 1 / 1.1);
                        var began = Today.AddDays(-served);
                        var lived = life <= served ? (int)life : served;
                        return new WatchedLife(
                            new Lifetime(began, began.AddDays(lived), life <= served),
                            "thimble-11",
                            slot,
                            lot,
                            null,
                            null
                        );
                    });
        }

        (100.0 * found / fleets).ShouldBeGreaterThanOrEqualTo(80);
        (100.0 * alarms / fleets).ShouldBeInRange(3, 6, "a bound that nothing ever reaches finds less");
    }

    [Fact]
    public void A_school_that_got_the_bad_lot_is_not_bad_itself()
    {
        var fleet = Fleet(7, 300).ConvertAll(l => l with { Site = l.Lot == "B" ? "North" : l.Site });
        LogRank.Of([.. At("North")], [.. At("South")]).Worse.ShouldBeLessThan(0.001);
        Watch.Find(fleet).ShouldHaveSingleItem().By.ShouldBe(WatchBy.Lot);

        IEnumerable<Lifetime> At(string site) => fleet.Where(l => l.Site == site).Select(l => l.Life);
    }

    [Fact]
    public void A_supplier_whose_parts_fail_early_is_found_whatever_lots_they_are_of()
    {
        // The bad ones came in many lots, of which none is large enough to stand out.
        var fleet = Fleet(7, 900)
            .Select(
                (l, i) =>
                    l.Lot == "B"
                        ? l with
                        {
                            Lot = $"B{i % 12}",
                            Supplier = "the trader, unbranded",
                        }
                        : l with
                        {
                            Supplier = "the mainland, compatible",
                        }
            )
            .ToList();
        var found = Watch.Find(fleet).ShouldHaveSingleItem();
        (found.By, found.Value, found.Parts).ShouldBe((WatchBy.Supplier, "the trader, unbranded", 40));
    }

    [Fact]
    public void Noise_is_not_found()
    {
        var alarms = Enumerable.Range(100, 60).SelectMany(seed => Watch.Find(Fleet(seed, 5000))).ToList();
        alarms
            .Count(a => !a.Suspected)
            .ShouldBeLessThanOrEqualTo(10, "one fleet in ten for lots, one in twenty for sites, over sixty of them");
        alarms.Count.ShouldBeLessThanOrEqualTo(12, "one fleet in twenty suspects a lot that is like the others");
    }

    [Fact]
    public void Accidents_and_upgrades_are_no_wear()
    {
        RemovalCauses.Of(RepairPurpose.Fault, [], "keys dead").ShouldBe(RemovalCause.Wear);
        RemovalCauses.Of(RepairPurpose.Fault, ["after-drop"], "keys dead").ShouldBe(RemovalCause.Accident);
        RemovalCauses.Of(RepairPurpose.Fault, [], "picture broken").ShouldBe(RemovalCause.Accident);
        RemovalCauses.Of(RepairPurpose.Upgrade, [], RepairPurposes.ToBeUpgraded).ShouldBe(RemovalCause.Worked);
        RemovalCauses.Of(RepairPurpose.Fault, [], "drive too small").ShouldBe(RemovalCause.Worked);
        RemovalCauses.Of(null, [], null).ShouldBe(RemovalCause.Worked);
    }

    [Fact]
    public void Demand_covers_what_comes_and_holds_its_level()
    {
        // Known truth: wear. The demand of the next 180 days against what then really failed, over many fleets.
        var (inside, enough, fleets) = (0, 0, 120);
        for (var seed = 1; seed <= fleets; seed++)
        {
            var random = new Random(seed);
            var (seen, ages, comes) = (new List<Lifetime>(), new List<double>(), 0);
            for (var i = 0; i < 150; i++)
            {
                var age = random.Next(30, 1500);
                var life = 1250 * Math.Pow(-Math.Log(1 - random.NextDouble()), 1 / 3.2);
                var began = Today.AddDays(-age);
                seen.Add(
                    life < age ? new Lifetime(began, began.AddDays((int)life), true) : new Lifetime(began, Today, false)
                );
                if (life >= age)
                {
                    ages.Add(age);
                    comes += life < age + 180 ? 1 : 0;
                }
            }

            var demand = Demand.Of(seen, ages, 180);
            inside += demand.Quantile(0.1) <= comes && comes <= demand.Quantile(0.9) ? 1 : 0;
            enough += comes <= demand.Quantile(0.95) ? 1 : 0;
        }

        inside.ShouldBeGreaterThan((int)(0.76 * fleets));
        enough.ShouldBeGreaterThan((int)(0.91 * fleets));
    }
}
