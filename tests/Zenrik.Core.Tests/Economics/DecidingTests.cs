using CsCheck;
using Zenrik.Core.Economics;

namespace Zenrik.Core.Tests.Economics;

public sealed class DecidingTests
{
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
    [InlineData(StorageKind.SolidState, DataHeld.Confidential, true, true, ErasureMethod.Purge)]
    [InlineData(StorageKind.SolidState, DataHeld.Internal, true, true, ErasureMethod.Purge)]
    [InlineData(StorageKind.SolidState, DataHeld.Internal, false, true, ErasureMethod.Clear)]
    [InlineData(StorageKind.Magnetic, DataHeld.Confidential, false, true, ErasureMethod.Purge)]
    [InlineData(StorageKind.EncryptedAlways, DataHeld.Internal, true, true, ErasureMethod.Clear)]
    [InlineData(StorageKind.SolidState, DataHeld.Public, false, false, ErasureMethod.Destroy)]
    public void The_least_method_of_erasing(
        StorageKind kind,
        DataHeld held,
        bool leaves,
        bool answers,
        ErasureMethod least
    )
    {
        var advice = Erasure.Advise(kind, held, leaves, answers);
        advice.Least.ShouldBe(least);
        Erasure.Suffices(ErasureMethod.Destroy, advice).ShouldBeTrue();
        Erasure.Suffices(ErasureMethod.Clear, advice).ShouldBe(least == ErasureMethod.Clear);
    }
}
