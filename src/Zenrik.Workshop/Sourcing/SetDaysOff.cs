using System.Globalization;
using Ical.Net;
using Ical.Net.DataTypes;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;

namespace Zenrik.Workshop.Sourcing;

/// <summary>Takes a supplier's days off from a calendar file (iCalendar, RFC 5545): every day an event of it covers.</summary>
public sealed class SetDaysOff(WorkshopDb db, TimeProvider clock)
{
    /// <summary>Largest calendar read, in characters.</summary>
    public const int MaxLength = 512 * 1024;

    private const int MostDays = 400;

    /// <summary>The suppliers by name, with the days off that are known.</summary>
    public async Task<IReadOnlyList<Supplier>> Suppliers(CancellationToken stop = default) =>
        await db.Suppliers.AsNoTracking().OrderBy(s => s.Name).ToListAsync(stop);

    /// <param name="calendar">The file's text; empty: no days off any more.</param>
    /// <returns>How many days are kept, as a sentence.</returns>
    public async Task<Outcome<string>> Run(Guid supplierId, string? calendar, CancellationToken stop = default)
    {
        if (await db.Suppliers.SingleOrDefaultAsync(s => s.Id == supplierId, stop) is not { } supplier)
        {
            return new Refusal(RefusalReason.NotFound, "There is no such supplier.");
        }

        if (!Read(calendar).Try(out var days, out var unreadable))
        {
            return unreadable;
        }

        supplier.DaysOff = [.. days];
        await db.SaveChangesAsync(stop);
        return days.Count == 0
            ? $"{supplier.Name} has no days off from a calendar."
            : $"{supplier.Name} has {days.Count} days off, the first on {days[0].ToString("d MMM yyyy", CultureInfo.InvariantCulture)}.";
    }

    private Outcome<IReadOnlyList<DateOnly>> Read(string? calendar)
    {
        if (string.IsNullOrWhiteSpace(calendar))
        {
            return new List<DateOnly>();
        }

        if (calendar.Length > MaxLength)
        {
            return Refuse("That calendar is far larger than a list of holidays. Export fewer years.");
        }

        var today = DateOnly.FromDateTime(clock.GetLocalNow().DateTime);
        var until = today.AddYears(2);
        try
        {
            if (Ical.Net.Calendar.Load(calendar) is not { } read || read.Events.Count == 0)
            {
                return Refuse("No event is in that calendar file.");
            }

            var days = new SortedSet<DateOnly>();
            var begin = new CalDateTime(today.ToDateTime(TimeOnly.MinValue).AddDays(-31));
            foreach (
                var occurrence in read.GetOccurrences(begin)
                    .TakeWhile(o => DateOnly.FromDateTime(o.Period.StartTime.Value) <= until)
                    .Take(MostDays)
            )
            {
                var first = DateOnly.FromDateTime(occurrence.Period.StartTime.Value);
                var end = occurrence.Period.EffectiveEndTime?.Value ?? occurrence.Period.StartTime.Value.AddDays(1);
                // An end at midnight is the day after the last one.
                var last = DateOnly.FromDateTime(end > end.Date ? end : end.AddDays(-1));
                for (
                    var day = first;
                    day <= (last < first ? first : last) && days.Count < MostDays;
                    day = day.AddDays(1)
                )
                {
                    if (day >= today && day <= until)
                    {
                        days.Add(day);
                    }
                }
            }

            return days.Count == 0
                ? Refuse("The calendar has no day off within the next two years. Nothing was changed.")
                : days.ToList();
        }
        catch (Exception e) when (e is not OutOfMemoryException)
        {
            return Refuse("That is no calendar file (iCalendar, .ics). Nothing was changed.");
        }
    }

    private static Refusal Refuse(string message) => new(RefusalReason.Invalid, message);
}
