using CsCheck;
using Zenrik.Core.Repairs;

namespace Zenrik.Core.Tests.Repairs;

public sealed class RepairLifeTests
{
    private static readonly Gen<RepairState> State = Gen.Enum<RepairState>();

    [Fact]
    public void A_repair_goes_only_where_the_table_says_and_never_comes_back_from_its_end() =>
        Gen.Select(State, State)
            .Sample(
                (from, to) =>
                {
                    var may = RepairLife.May("R-1", from, to) is null;
                    may.ShouldBe(to != RepairState.Closed && RepairLife.Next(from).Contains(to));
                    (may && from is RepairState.Closed or RepairState.Withdrawn && may).ShouldBeFalse();
                }
            );

    [Fact]
    public void It_closes_only_by_an_end_that_fits_where_it_stands() =>
        Gen.Select(State, Gen.Enum<RepairEnd>())
            .Sample(
                (from, end) =>
                {
                    var may = RepairLife.MayEnd("R-1", from, end) is null;
                    (may && !RepairLife.Next(from).Contains(RepairState.Closed)).ShouldBeFalse();
                    // What was exchanged was on the bench, and what was on the bench is put together, not given up.
                    may.ShouldBe(from == RepairState.OnBench ? end is RepairEnd.Exchanged or RepairEnd.Serviced : may);
                    (may && end == RepairEnd.Exchanged && from != RepairState.OnBench).ShouldBeFalse();
                }
            );

    [Fact]
    public void Every_end_can_be_reached_and_underway_is_what_has_a_next()
    {
        foreach (var end in Enum.GetValues<RepairEnd>())
        {
            RepairLife.Underway.ShouldContain(s => RepairLife.MayEnd("R-1", s, end) == null, $"{end}");
        }

        RepairLife.Underway.ShouldBe([RepairState.Open, RepairState.OnBench, RepairState.Stopped], ignoreOrder: true);
        RepairLife.Underway.ShouldAllBe(s => RepairLife.Next(s).Count > 0);
    }

    [Fact]
    public void Only_what_ended_unopened_is_taken_up_again() =>
        Gen.Select(
                State,
                Gen.OneOf(Gen.Enum<RepairEnd>().Select(e => (RepairEnd?)e), Gen.Const((RepairEnd?)null)),
                Gen.Bool
            )
            .Sample(
                (state, end, opened) =>
                    (RepairLife.MayReopen("R-1", state, end, opened) is null).ShouldBe(
                        state is RepairState.Closed or RepairState.Withdrawn
                            && !opened
                            && end is not (RepairEnd.Exchanged or RepairEnd.Retired)
                    )
            );

    [Fact]
    public void Every_point_of_a_check_up_leads_to_a_symptom_that_triage_knows()
    {
        var points = RepairPurposes.CheckUp;
        points.Select(p => p.Id).ShouldBeUnique();
        points.Select(p => p.Symptom).ShouldBeUnique();
        points.ShouldAllBe(p => Triage.Knowledge.Shipped.Symptom(p.Symptom) != null);
        // What may be dangerous is looked at before anything is switched on.
        Triage.Knowledge.Shipped.Symptom(points[0].Symptom)!.Stop.ShouldNotBeNull();
    }

    [Fact]
    public void What_was_set_apart_goes_on_where_it_was()
    {
        foreach (var wasOpened in new[] { true, false })
        {
            RepairLife.May("R-1", RepairState.Stopped, RepairLife.Released(wasOpened)).ShouldBeNull();
        }

        RepairLife.Released(wasOpened: true).ShouldBe(RepairState.OnBench);
        // Nor is it handed back as it is, or opened for its parts.
        RepairLife.May("R-7", RepairState.Stopped, RepairState.Withdrawn).ShouldNotBeNull();
        RepairLife
            .MayBecomeDonor("R-7", RepairState.Stopped)!
            .Message.ShouldContain("a donor is opened. First a lead says");
        RepairLife.MayBecomeDonor("R-7", RepairState.Open).ShouldBeNull();
        RepairLife.MayEnd("R-7", RepairState.Stopped, RepairEnd.Retired).ShouldBeNull();
        RepairLife
            .May("R-7", RepairState.OnBench, RepairState.Withdrawn)!
            .Message.ShouldBe("R-7 is on the bench; from there it does not become withdrawn.");
    }
}
