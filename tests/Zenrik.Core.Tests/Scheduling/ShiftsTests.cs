using CsCheck;
using Zenrik.Core.Scheduling;

namespace Zenrik.Core.Tests.Scheduling;

public sealed class ShiftsTests
{
    private static readonly DateTimeOffset Start = new(2026, 11, 23, 0, 0, 0, TimeSpan.Zero);

    private static readonly Gen<Shift> AnyShift = Gen.Select(
        Gen.Int[0, 2000],
        Gen.Int[0, 400],
        (from, minutes) => new Shift(Start.AddMinutes(from), Start.AddMinutes(from + minutes))
    );

    /// <summary>Against counting minute by minute.</summary>
    [Fact]
    public void A_minute_is_worked_when_it_is_in_a_shift_and_in_no_absence_however_they_overlap() =>
        Gen.Select(AnyShift.List[0, 6], AnyShift.List[0, 4])
            .Sample(
                (worked, away) =>
                {
                    var shifts = Shifts.Of(worked, away);
                    bool Works(DateTimeOffset m) =>
                        worked.Exists(s => s.From <= m && m < s.Until) && !away.Exists(s => s.From <= m && m < s.Until);
                    var minutes = Enumerable.Range(0, 2400).Select(i => Start.AddMinutes(i)).Where(Works).ToList();
                    shifts.Minutes.ShouldBe(minutes.Count);
                    for (var i = 0; i < minutes.Count; i += 7)
                    {
                        shifts.Begins(i).ShouldBe(minutes[i]);
                        shifts.Ends(i + 1).ShouldBe(minutes[i].AddMinutes(1));
                        shifts.Before(minutes[i]).ShouldBe(i);
                    }

                    shifts.Before(Start.AddDays(9)).ShouldBe(minutes.Count);
                }
            );

    [Theory]
    [InlineData("8:30-12:00, 13-16.30", "08:30-12:00, 13:00-16:30")]
    [InlineData("13:00 – 16:00; 9 to 12", "09:00-12:00, 13:00-16:00")]
    [InlineData("", "")]
    public void A_day_is_read_as_people_write_it(string written, string kept) =>
        WeekHours.Read([written, null, null, null, null, null, null]).Value.Days[0].ShouldBe(kept);

    [Theory]
    [InlineData("mornings", "“mornings” is no time of a day")]
    [InlineData("25-26", "is no time of a day")]
    [InlineData("12:00-8:30", "ends before it begins")]
    [InlineData("8-12, 11-15", "overlap")]
    [InlineData("1-2,3-4,5-6,7-8,9-10", "4 times at most")]
    public void What_is_no_day_is_refused_and_the_day_named(string written, string says)
    {
        var refusal = WeekHours.Read([null, null, written, null, null, null, null]).Refusal;
        refusal!.Message.ShouldStartWith("Wednesday");
        refusal.Message.ShouldContain(says);
    }

    /// <summary>The clocks of Lisbon: an hour less on 29 March 2026, one more on 25 October 2026 (IANA time zone database).</summary>
    [Theory]
    [InlineData(2026, 3, 29, 180)]
    [InlineData(2026, 10, 25, 300)]
    [InlineData(2026, 6, 7, 240)]
    public void On_the_day_the_clocks_change_a_shift_is_as_long_as_it_is(int year, int month, int day, int minutes)
    {
        var week = WeekHours.Read([null, null, null, null, null, null, "0:30-4:30"]).Value;
        var shift = week.Shifts(
            new DateOnly(year, month, day),
            1,
            TimeZoneInfo.FindSystemTimeZoneById("Europe/Lisbon")
        );
        shift.Single().Minutes.ShouldBe(minutes);
    }
}
