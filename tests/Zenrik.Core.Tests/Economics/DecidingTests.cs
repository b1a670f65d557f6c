using CsCheck;
using Zenrik.Core.Economics;
using Zenrik.Core.Repairs;
using Zenrik.Core.Tests.Triage;
using Zenrik.Core.Triage;

namespace Zenrik.Core.Tests.Economics;

public sealed class DecidingTests
{
    /// <summary>Common practice, no published source: in time and by itself.</summary>
    [Theory]
    [InlineData(0, RepairPurpose.Fault, "will-not-start", "", "", true)]
    [InlineData(-1, RepairPurpose.Fault, "will-not-start", "", "", false)]
    [InlineData(null, RepairPurpose.Fault, "will-not-start", "", "", false)]
    [InlineData(9, RepairPurpose.Fault, "", "", "fan noisy", true)]
    [InlineData(9, RepairPurpose.Fault, "", "", "screen cracked", false)]
    [InlineData(9, RepairPurpose.Fault, "", "", "battery worn", false)]
    [InlineData(9, RepairPurpose.Fault, "will-not-start", "after-drop", "", false)]
    [InlineData(9, RepairPurpose.Fault, "liquid", "", "", false)]
    [InlineData(9, RepairPurpose.Upgrade, "", "", "to be upgraded", false)]
    [InlineData(9, RepairPurpose.Cleaning, "", "", "", false)]
    public void The_makers_warranty_covers_what_failed_by_itself_in_time(
        int? daysLeft,
        RepairPurpose purpose,
        string symptom,
        string circumstance,
        string fault,
        bool covered
    )
    {
        static string[] One(string text) => text.Length == 0 ? [] : [text];
        var today = new DateOnly(2026, 11, 30);
        MakersWarranty
            .MayCover(
                daysLeft is { } days ? today.AddDays(days) : null,
                today,
                purpose,
                One(symptom),
                One(circumstance),
                One(fault)
            )
            .ShouldBe(covered);
    }

    private static readonly Rates Rates = new(30, 2);
    private static readonly WayOut Retire = new(Way.Retire, "retire", 480, 30, 3, 1, 60);

    [Fact]
    public void Costs_a_month_by_hand()
    {
        // Board: 180 + 60 min × 30/h + 6 days × 2 = 222; works 9 times in 10; retiring costs 480 + 15 + 6 = 501 for 60 months.
        // Expected 222 + 0.1 × 501 = 272.10 over 0.9 × 24 + 0.1 × 60 = 27.6 months: 9.86 a month. Retiring: 8.35.
        var decision = Deciding.Weigh([new(Way.Part, "new board", 180, 60, 6, 0.9, 24), Retire], Rates).Value;
        decision.Best.Option.ShouldBe(Retire);
        decision.Best.PerMonth.ShouldBe(8.35m);
        decision.Ways[1].Cost.ShouldBe(272.10m);
        decision.Ways[1].PerMonth.ShouldBe(9.86m);
        decision
            .Turns.First(t => t.What == "the months of use left")
            .Sentence.ShouldContain("“new board” would be the better way");
    }

    [Fact]
    public void A_turning_point_is_where_the_two_ways_cost_the_same() =>
        (
            from parts in Gen.Int[10, 400]
            from months in Gen.Int[2, 48]
            from p in Gen.Int[50, 100]
            select new WayOut(Way.Part, "part", parts, 40, 4, p / 100.0, months)
        ).Sample(way =>
        {
            var decision = Deciding.Weigh([way, Retire], Rates).Value;
            var turn = decision.Turns.First(t => t.What == "the months of use left");
            if (turn.Turns is { } at)
            {
                var there = Deciding.Order([way with { Months = at }, Retire], Rates);
                Math.Abs(there[0].PerMonth - there[1].PerMonth).ShouldBeLessThanOrEqualTo(0.02m);
            }
        });

    [Fact]
    public void A_way_is_worth_it_from_the_months_on_at_which_it_costs_as_little_as_retiring() =>
        (
            from parts in Gen.Int[10, 400]
            from minutes in Gen.Int[2, 200]
            from p in Gen.Int[50, 100]
            select new WayOut(Way.Part, "part", parts, minutes, 2, p / 100.0, 1)
        ).Sample(way =>
        {
            var from = Deciding.WorthFrom(way, Retire, Rates);
            Deciding.Order([way with { Months = from * 1.001 }, Retire], Rates)[0].Option.Way.ShouldBe(Way.Part);
            Deciding.Order([way with { Months = from * 0.999 }, Retire], Rates)[0].Option.Way.ShouldBe(Way.Retire);
        });

    [Fact]
    public void A_unit_without_months_left_is_retired()
    {
        var decision = Deciding.Weigh([new(Way.Part, "part", 1, 1, 0, 1, 0), Retire], Rates).Value;
        decision.Ways.ShouldHaveSingleItem().Option.ShouldBe(Retire);
    }

    [Theory]
    [InlineData(-1, 10, 1, 10, "not negative")]
    [InlineData(10, 10, 0, 10, "chance to work")]
    [InlineData(10, 10, 1.2, 10, "chance to work")]
    public void Figures_that_cannot_be_are_refused(
        double parts,
        double minutes,
        double chance,
        double months,
        string words
    ) =>
        Deciding
            .Weigh([new(Way.Part, "part", (decimal)parts, minutes, 1, chance, months), Retire], Rates)
            .Refusal!.Message.ShouldContain(words);

    [Fact]
    public void Without_retiring_there_is_nothing_to_measure_against() =>
        Deciding.Weigh([new(Way.Part, "part", 1, 1, 1, 1, 1)], Rates).Refusal.ShouldNotBeNull();

    [Fact]
    public void The_shortest_of_age_support_and_battery_ends_a_unit()
    {
        var (bought, today) = (new DateOnly(2023, 11, 25), new DateOnly(2026, 11, 25));
        MonthsLeft.Of(bought, today, 72, null, null).ShouldBe(new MonthsLeft(1096 / (365.25 / 12), "age"));
        MonthsLeft.Of(bought, today, 72, new DateOnly(2027, 6, 1), null).EndedBy.ShouldBe("support ends");
        MonthsLeft.Of(bought, today, 72, null, 4).ShouldBe(new MonthsLeft(4, "the battery"));
        MonthsLeft.Of(new DateOnly(2015, 1, 1), today, 72, null, null).Months.ShouldBe(0);
    }

    // Decision flow of NIST SP 800-88 Revision 1, figure 4-1, from memory.
    [Theory]
    [InlineData(DataHeld.Public, false, true, ErasureMethod.Clear)]
    [InlineData(DataHeld.Public, true, true, ErasureMethod.Purge)]
    [InlineData(DataHeld.Internal, false, true, ErasureMethod.Clear)]
    [InlineData(DataHeld.Internal, true, true, ErasureMethod.Purge)]
    [InlineData(DataHeld.Internal, false, false, ErasureMethod.Destroy)]
    [InlineData(DataHeld.Confidential, false, true, ErasureMethod.Purge)]
    [InlineData(DataHeld.Confidential, true, true, ErasureMethod.Destroy)]
    [InlineData(DataHeld.Confidential, false, false, ErasureMethod.Destroy)]
    public void The_least_method_of_erasing(DataHeld held, bool leaves, bool reused, ErasureMethod least)
    {
        foreach (var kind in Enum.GetValues<StorageKind>())
        {
            var advice = Erasure.Advise(kind, held, leaves, answers: true, reused);
            advice.Least.ShouldBe(least);
            Erasure.Suffices(ErasureMethod.Destroy, advice).ShouldBeTrue();
            Erasure.Suffices(ErasureMethod.Clear, advice).ShouldBe(least == ErasureMethod.Clear);
            Erasure.Advise(kind, held, leaves, answers: false, reused).Least.ShouldBe(ErasureMethod.Destroy);
        }
    }

    /// <summary>Every turning point against trying a thousand values on each side of it.</summary>
    [Fact]
    public void What_would_change_the_answer_is_what_trying_every_value_finds() =>
        (
            from parts in Gen.Int[5, 300]
            from minutes in Gen.Int[5, 120]
            from chance in Gen.Int[30, 100]
            from months in Gen.Int[2, 40]
            from days in Gen.Int[0, 20]
            select (parts, minutes, chance, months, days)
        ).Sample(
            x =>
            {
                var part = new WayOut(Way.Part, "exchange it", x.parts, x.minutes, x.days, x.chance / 100.0, x.months);
                var donor = part with
                {
                    Way = Way.Donor,
                    Name = "take it",
                    Parts = 0,
                    Minutes = x.minutes * 1.6,
                    Chance = 0.6,
                };
                WayOut[] ways = [part, donor, Retire];
                var decision = Deciding.Weigh(ways, Rates).Value;
                var best = decision.Best.Option;
                var price = decision.Turns.Single(t => t.What == "the price of a new unit");
                bool Turned(double v) =>
                    Deciding.Order([part, donor, Retire with { Parts = (decimal)v }], Rates)[0].Option.Way != best.Way;
                var turning = Enumerable
                    .Range(0, 20001)
                    .Where(v => Turned(v))
                    .Select(v => (double?)v)
                    .MinBy(v => Math.Abs(v!.Value - price.Now));
                if (price.Turns is { } at)
                {
                    turning.ShouldNotBeNull();
                    // Costs a month are whole coins, so a turning point is known to about their width.
                    Math.Abs(turning.Value - at).ShouldBeLessThan(Math.Max(3, 0.03 * at));
                }
                else
                {
                    turning.ShouldBeNull();
                }
            },
            iter: 30
        );

    /// <summary>The Decide page and triage must not differ about the specialist: one asks what the other's files say.</summary>
    [Fact]
    public void The_specialist_s_chance_is_the_files_own_where_they_know_it()
    {
        var all = Knowledge.Shipped;
        var specialist = all.Remedies.Single(r => r.Ends == RemedyEnd.BeyondBench);
        foreach (var fault in all.Faults)
        {
            var known = TriageKnowledge.CureChance(specialist, fault);
            var alone = SendingAway.Chance(specialist, fault, onlyWay: true);
            var besides = SendingAway.Chance(specialist, fault, onlyWay: false);
            if (known > 0)
            {
                (alone, besides).ShouldBe((known, known), fault.Id);
            }
            else if (fault.Nature != FaultNature.Unknown)
            {
                besides.ShouldBeNull(fault.Id);
                (alone is null).ShouldBe(fault.Component is null, fault.Id);
            }
        }
    }

    [Fact]
    public void A_way_that_gives_no_month_is_named_and_not_weighed()
    {
        var spent = new WayOut(Way.Part, "exchange the fan", 20, 30, 1, 0.9, 0);
        var decision = Deciding.Weigh([spent, Retire], Rates).Value;
        decision.Ways.ShouldHaveSingleItem().Option.Way.ShouldBe(Way.Retire);
        decision.Useless.ShouldBe(["exchange the fan"]);
    }

    [Fact]
    public void A_job_is_done_from_the_shelf_by_order_or_from_a_donor_and_not_at_all_when_a_part_cannot_be_had()
    {
        var shelf = new Supply(SupplyKind.Shelf, "", 60, 1, 0.97);
        var order = new Supply(SupplyKind.Order, "Nordkap Parts", 80, 6, 0.9);
        var donor = new Supply(SupplyKind.Donor, "HF-90001", 5, 1, 0.8);
        var deck = new NeededPart("keyboard", false, [order, donor]);
        var battery = new NeededPart("battery", false, [shelf, order]);

        var ways = WaysOut.Of(new Job([deck, battery], 50), 24).ToList();
        ways.Count.ShouldBe(2);
        ways[0].Way.ShouldBe(Way.Part);
        ways[0].Name.ShouldBe("order a keyboard from Nordkap Parts and exchange the battery from the shelf");
        (ways[0].Parts, ways[0].Minutes, ways[0].DaysOut).ShouldBe((140m, 50, 6), "both are exchanged in one opening");
        ways[0].Chance.ShouldBe(0.9 * 0.97, 1e-12);
        ways[1].Way.ShouldBe(Way.Donor);
        ways[1].Minutes.ShouldBe(50 * 1.3, 1e-9, "taking one of two parts out of a donor");

        WaysOut.Of(new Job([deck, new NeededPart("fan", false, [])], 50), 24).ShouldBeEmpty();
        WaysOut.Of(new Job([], 50), 24).ShouldBeEmpty();
        WaysOut.Of(new Job([deck with { Larger = true }], 50), 24).First().Way.ShouldBe(Way.Assembly);
    }
}
