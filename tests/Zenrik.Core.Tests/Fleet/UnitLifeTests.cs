using Zenrik.Core.Fleet;

namespace Zenrik.Core.Tests.Fleet;

public sealed class UnitLifeTests
{
    [Theory]
    [InlineData(UnitState.InUse, UnitState.AtCounter, true)]
    [InlineData(UnitState.InUse, UnitState.OnBench, false)]
    [InlineData(UnitState.AtCounter, UnitState.OnBench, true)]
    [InlineData(UnitState.OnBench, UnitState.Retired, false)]
    [InlineData(UnitState.OnBench, UnitState.Donor, false)]
    [InlineData(UnitState.Loaned, UnitState.InUse, true)]
    [InlineData(UnitState.Loaned, UnitState.Retired, false)]
    [InlineData(UnitState.Donor, UnitState.AtCounter, false)]
    [InlineData(UnitState.Retired, UnitState.InUse, false)]
    public void An_open_machine_is_not_given_away_and_the_end_is_the_end(UnitState from, UnitState to, bool may) =>
        (UnitLife.May("SK-00001", from, to) is null).ShouldBe(may);

    [Fact]
    public void A_donor_serves_again_only_whole()
    {
        UnitLife.MayServeAgain("SK-00001", []).ShouldBeNull();
        var refusal = UnitLife.MayServeAgain("SK-00001", ["battery", "fan"]).ShouldNotBeNull();
        refusal.Reason.ShouldBe(RefusalReason.Conflict);
        UnitLife
            .MayServeAgain("SK-00001", [], withoutPower: "R-7")!
            .Message.ShouldContain("given up in R-7 while it must not");
        refusal.Message.ShouldContain("SK-00001 lacks what was taken out of it: battery, fan");
    }

    [Fact]
    public void Every_life_can_come_to_its_end()
    {
        foreach (var start in Enum.GetValues<UnitState>())
        {
            var reached = new HashSet<UnitState> { start };
            while (reached.Count < reached.Union(reached.SelectMany(UnitLife.Next)).Count())
            {
                reached.UnionWith(reached.SelectMany(UnitLife.Next).ToList());
            }

            reached.ShouldContain(UnitState.Retired);
        }

        UnitLife.Next(UnitState.Retired).ShouldBeEmpty();
    }
}
