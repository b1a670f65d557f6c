using CsCheck;
using Zenrik.Core.Economics;
using Zenrik.Core.Repairs;

namespace Zenrik.Core.Tests.Economics;

public sealed class PastCostsTests
{
    /// <summary>Against draws of a compound Poisson process: its mean lies within in four of five.</summary>
    [Fact]
    public void The_interval_covers_what_such_a_year_costs_on_the_average()
    {
        var random = new Random(28);
        var inside = 0;
        const int Years = 2000;
        for (var year = 0; year < Years; year++)
        {
            // Sixty repairs on the average, between 10 and 190 each.
            var count = 0;
            for (var t = -Math.Log(random.NextDouble()); t < 60; t -= Math.Log(random.NextDouble()))
            {
                count++;
            }

            var spent = SpentBetween.Of(
                Enumerable.Range(0, count).Select(_ => 10 + (180 * (decimal)random.NextDouble()))
            );
            inside += spent.Low <= 6000 && 6000 <= spent.High ? 1 : 0;
        }

        (inside / (double)Years).ShouldBeInRange(0.76, 0.84);
        SpentBetween.Of([]).ShouldBe(new SpentBetween(0, 0, 0));
    }

    [Fact]
    public void Every_day_of_a_unit_counts_in_one_year_of_its_age()
    {
        var until = new DateOnly(2026, 11, 28);
        var from = until.AddDays(-365);
        Gen.Select(Gen.Int[-2000, 0], Gen.Int[1, 40])
            .List[0, 6]
            .Sample(fleet =>
            {
                var bought = fleet.Select(f => (Day: until.AddDays(f.Item1), Count: f.Item2)).ToList();
                var shares = AgeShares.Of(bought, from, until);
                shares.Values.ShouldAllBe(s => s > 0);
                shares
                    .Values.Sum()
                    .ShouldBe(
                        bought.Sum(b => b.Count * Math.Min(365, until.DayNumber - b.Day.DayNumber)) / 365.25,
                        1e-9
                    );
            });
        // Bought on a leap day, its birthdays are kept on the 28th.
        AgeShares.YearsAt(new DateOnly(2024, 2, 29), new DateOnly(2026, 2, 28)).ShouldBe(2);
        AgeShares.YearsAt(new DateOnly(2024, 2, 29), new DateOnly(2026, 2, 27)).ShouldBe(1);
    }

    [Theory]
    [InlineData(RepairPurpose.Fault, RepairEnd.Exchanged, "", "battery worn", CostCause.Wear)]
    [InlineData(RepairPurpose.Fault, RepairEnd.Exchanged, "after-liquid", "keys dead", CostCause.Accident)]
    [InlineData(RepairPurpose.Fault, RepairEnd.Exchanged, "", "display cracked", CostCause.Accident)]
    [InlineData(RepairPurpose.Fault, RepairEnd.Cured, "", null, CostCause.WithoutPart)]
    [InlineData(RepairPurpose.Fault, RepairEnd.NoFaultFound, "", null, CostCause.NothingWrong)]
    [InlineData(RepairPurpose.Fault, RepairEnd.Retired, "after-drop", null, CostCause.Accident)]
    [InlineData(RepairPurpose.Fault, RepairEnd.Retired, "", null, CostCause.Wear)]
    [InlineData(RepairPurpose.Upgrade, RepairEnd.Exchanged, "", "to be upgraded", CostCause.Wanted)]
    public void A_closed_repair_tells_why_it_cost_something(
        RepairPurpose purpose,
        RepairEnd end,
        string circumstance,
        string? fault,
        CostCause cause
    ) =>
        CostCauses
            .Of(purpose, end, circumstance.Length == 0 ? [] : [circumstance], fault is null ? [] : [fault])
            .ShouldBe(cause);
}
