using Zenrik.Core.Repairs;

namespace Zenrik.Workshop.Tests.Repairs;

public sealed class UnderwayTests
{
    [Theory]
    [InlineData(RepairState.Open)]
    [InlineData(RepairState.OnBench)]
    [InlineData(RepairState.Stopped)]
    [InlineData(RepairState.Closed)]
    [InlineData(RepairState.Withdrawn)]
    public void The_query_and_the_rule_say_the_same(RepairState state)
    {
        var repair = new Repair
        {
            Id = default,
            UnitId = default,
            State = state,
            OpenedAt = default,
            OpenedById = default,
        };
        Repair.Underway.Compile()(repair).ShouldBe(RepairLife.Underway.Contains(state));
        repair.IsUnderway.ShouldBe(RepairLife.Underway.Contains(state));
    }

    [Fact]
    public void A_step_there_is_not_is_never_taken()
    {
        var repair = new Repair
        {
            Id = default,
            UnitId = default,
            State = RepairState.OnBench,
            OpenedAt = default,
            OpenedById = default,
        };
        Should.Throw<InvalidOperationException>(() => repair.Go(RepairState.Withdrawn));
        repair.State.ShouldBe(RepairState.OnBench);
    }
}
