using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;

namespace Zenrik.Workshop.Sourcing;

/// <summary>Whose calendar it is, with the days off that are known.</summary>
/// <param name="Supplier">Null for a carrier.</param>
public sealed record KnownDaysOff(Guid? Supplier, string Name, IReadOnlyList<DateOnly> DaysOff);

/// <summary>
/// Takes the days off of a supplier or a carrier from a calendar file (iCalendar, RFC 5545): every day an event of it
/// covers.
/// </summary>
public sealed class SetDaysOff(WorkshopDb db, TimeProvider clock)
{
    /// <summary>Largest calendar read, in characters.</summary>
    public const int MaxLength = CalendarFile.MaxLength;

    private const int MostDays = 400;

    /// <summary>The suppliers by name, then the carriers that stand in their terms.</summary>
    public async Task<IReadOnlyList<KnownDaysOff>> Known(CancellationToken stop = default)
    {
        var suppliers = await db.Suppliers.AsNoTracking().OrderBy(s => s.Name).ToListAsync(stop);
        var carriers = await Carriers(stop);
        var off = await db.CarrierCalendars.AsNoTracking().ToDictionaryAsync(c => c.Carrier, c => c.DaysOff, stop);
        return
        [
            .. suppliers.Select(s => new KnownDaysOff(s.Id, s.Name, s.DaysOff)),
            .. carriers.Select(c => new KnownDaysOff(null, c, off.GetValueOrDefault(c) ?? [])),
        ];
    }

    private Task<List<string>> Carriers(CancellationToken stop) =>
        db
            .Database.SqlQuery<string>(
                $"SELECT DISTINCT f -> 'carrier' ->> 'name' AS \"Value\" FROM stored_offers, jsonb_array_elements(offer -> 'freight') f ORDER BY 1"
            )
            .ToListAsync(stop);

    /// <param name="calendar">The file's text; empty: no days off any more.</param>
    /// <returns>How many days are kept, as a sentence.</returns>
    public async Task<Outcome<string>> Run(
        Guid supplierId,
        string? calendar,
        Actor by,
        CancellationToken stop = default
    )
    {
        return await db.Write(by, $"supplier {supplierId}", clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
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
            return Said(supplier.Name, days);
        }
    }

    /// <param name="carrier">As a supplier's terms name it.</param>
    /// <param name="calendar">The file's text; empty: no days off any more.</param>
    /// <returns>How many days are kept, as a sentence.</returns>
    public async Task<Outcome<string>> ForCarrier(
        string carrier,
        string? calendar,
        Actor by,
        CancellationToken stop = default
    )
    {
        return await db.Write(by, carrier, clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await Carriers(stop)).Contains(carrier))
            {
                return new Refusal(RefusalReason.NotFound, "No supplier sends by such a carrier.");
            }

            if (!Read(calendar).Try(out var days, out var unreadable))
            {
                return unreadable;
            }

            DateOnly[] kept = [.. days];
            db.NoteChange(nameof(CarrierCalendar), carrier, after: $"{days.Count} days");
            await db.Database.ExecuteSqlAsync(
                $"INSERT INTO carrier_calendars (carrier, days_off) VALUES ({carrier}, {kept}) ON CONFLICT (carrier) DO UPDATE SET days_off = EXCLUDED.days_off",
                stop
            );
            return Said(carrier, days);
        }
    }

    private static string Said(string who, IReadOnlyList<DateOnly> days) =>
        days.Count == 0
            ? $"{who} has no days off from a calendar."
            : $"{who} has {days.Count} {(days.Count == 1 ? "day" : "days")} off, the first on {days[0].ToString("d MMM yyyy", CultureInfo.InvariantCulture)}.";

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

        var today = clock.Today();
        var until = today.AddYears(2);
        if (!CalendarFile.Read(calendar, today, until, MostDays).Try(out var entries, out var unreadable))
        {
            return unreadable;
        }

        var days = new SortedSet<DateOnly>();
        foreach (var entry in entries)
        {
            var first = DateOnly.FromDateTime(entry.Begins.Value);
            var end = entry.Ends?.Value ?? entry.Begins.Value.AddDays(1);
            // An end at midnight is the day after the last one.
            var last = DateOnly.FromDateTime(end > end.Date ? end : end.AddDays(-1));
            for (var day = first; day <= (last < first ? first : last) && days.Count < MostDays; day = day.AddDays(1))
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

    private static Refusal Refuse(string message) => new(RefusalReason.Invalid, message);
}
