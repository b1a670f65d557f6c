using Ical.Net.CalendarComponents;
using Ical.Net.DataTypes;
using Zenrik.Core;

namespace Zenrik.Workshop;

/// <summary>An event of a calendar, each time it takes place.</summary>
/// <param name="Ends">Null: it says no end, and is a whole day.</param>
/// <param name="Busy">False where it is marked as time that is free (TRANSP:TRANSPARENT).</param>
internal sealed record CalendarEntry(CalDateTime Begins, CalDateTime? Ends, bool Busy);

/// <summary>Calendars as people export them (iCalendar, RFC 5545), read with Ical.Net.</summary>
internal static class CalendarFile
{
    /// <summary>Largest one read, in characters.</summary>
    public const int MaxLength = 512 * 1024;

    /// <summary>An event that began so long ago may still go on.</summary>
    private const int DaysBack = 31;

    /// <summary>What takes place until a day, from its beginning in time.</summary>
    /// <param name="most">Events read at most.</param>
    public static Outcome<IReadOnlyList<CalendarEntry>> Read(string text, DateOnly today, DateOnly until, int most)
    {
        try
        {
            if (Ical.Net.Calendar.Load(text) is not { } calendar || calendar.Events.Count == 0)
            {
                return new Refusal(RefusalReason.Invalid, "No event is in that calendar file. Nothing was changed.");
            }

            return calendar
                .GetOccurrences(new CalDateTime(today.AddDays(-DaysBack).ToDateTime(TimeOnly.MinValue)))
                .TakeWhile(o => DateOnly.FromDateTime(o.Period.StartTime.Value) <= until)
                .Take(most)
                .Select(o => new CalendarEntry(
                    o.Period.StartTime,
                    o.Period.EffectiveEndTime,
                    o.Source is not CalendarEvent { Transparency: "TRANSPARENT" }
                ))
                .ToList();
        }
        catch (Exception e) when (e is not OutOfMemoryException)
        {
            return new Refusal(
                RefusalReason.Invalid,
                "That is no calendar file (iCalendar, .ics). Nothing was changed."
            );
        }
    }
}
