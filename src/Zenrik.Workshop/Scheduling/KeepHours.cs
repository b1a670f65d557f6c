using System.Globalization;
using Ical.Net.DataTypes;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Scheduling;
using Zenrik.Workshop.People;

namespace Zenrik.Workshop.Scheduling;

/// <summary>Somebody's hours at the bench and when they are away.</summary>
/// <param name="Days">Monday first; null: they have no hours.</param>
/// <param name="Away">From now on, the next first.</param>
/// <param name="Leaves">What they leave to others.</param>
public sealed record HoursOf(Actor Who, IReadOnlyList<string>? Days, IReadOnlyList<Absence> Away, LeftToOthers Leaves);

/// <summary>Keeps the hours of those who work at the bench, and their absences.</summary>
public sealed class KeepHours(WorkshopDb db, KeepPeople people, TimeProvider clock)
{
    /// <summary>Largest calendar read, in characters.</summary>
    public const int MaxCalendar = CalendarFile.MaxLength;

    private const int MostAbsences = 400;
    private const int DaysAhead = 400;

    public async Task<IReadOnlyList<HoursOf>> List(CancellationToken stop = default)
    {
        var now = clock.GetUtcNow();
        var hands = await people
            .BenchPeople.LeftJoin(
                db.BenchHours,
                p => p.Id,
                h => h.TechnicianId,
                (p, h) =>
                    new
                    {
                        p.Id,
                        p.Name,
                        h!.Days,
                    }
            )
            .LeftJoin(
                db.LeftWork,
                h => h.Id,
                l => l.TechnicianId,
                (h, l) =>
                    new
                    {
                        h.Id,
                        h.Name,
                        h.Days,
                        l!.Models,
                        l.Parts,
                    }
            )
            .OrderBy(h => h.Name)
            .ToListAsync(stop);
        var away = (
            await db.Absences.AsNoTracking().Where(a => a.Until > now).OrderBy(a => a.From).ToListAsync(stop)
        ).ToLookup(a => a.TechnicianId);
        return
        [
            .. hands.Select(h => new HoursOf(
                new Actor(h.Id, h.Name),
                h.Days,
                [.. away[h.Id]],
                new LeftToOthers(h.Models ?? [], h.Parts ?? [])
            )),
        ];
    }

    /// <summary>By code what a model is called.</summary>
    public async Task<IReadOnlyDictionary<string, string>> ModelNames(CancellationToken stop = default) =>
        await db.Models.AsNoTracking().ToDictionaryAsync(m => m.Code, m => m.Name, stop);

    /// <summary>When somebody is at the bench from a moment on, for some days: their hours without their absences.</summary>
    internal Shifts ShiftsOf(HoursOf hand, DateTimeOffset now, int days) =>
        Shifts.Of(
            hand.Days is { } week ? WeekHours.Read(week).Value.Shifts(clock.DayOf(now), days, clock.LocalTimeZone) : [],
            // What is past of today is past.
            hand.Away.Select(a => new Shift(a.From, a.Until)).Append(new Shift(now.AddDays(-2), now))
        );

    /// <param name="days">Monday first: "8:30-12:00, 13:00-16:30"; empty: not at the bench.</param>
    public Task<Outcome<string>> Set(Guid who, IReadOnlyList<string?> days, Actor by, CancellationToken stop = default)
    {
        return db.Write(by, $"{who}", clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await Person(who, stop)).Try(out var person, out var nobody))
            {
                return nobody;
            }

            if (!WeekHours.Read(days).Try(out var week, out var wrong))
            {
                return wrong;
            }

            var had = await db.BenchHours.SingleOrDefaultAsync(h => h.TechnicianId == who, stop);
            if (week.Minutes == 0)
            {
                db.BenchHours.RemoveRange(had is null ? [] : [had]);
                return $"{person.Name} has no hours at the bench.";
            }

            if (had is null)
            {
                db.Add(new BenchHours { TechnicianId = who, Days = [.. week.Days] });
            }
            else
            {
                had.Days = [.. week.Days];
            }

            return string.Create(
                CultureInfo.InvariantCulture,
                $"{person.Name} is at the bench {week.Minutes / 60.0:0.#} hours a week."
            );
        }
    }

    /// <param name="until">The last day.</param>
    public Task<Outcome<string>> Away(
        Guid who,
        DateOnly from,
        DateOnly until,
        Actor by,
        CancellationToken stop = default
    )
    {
        return db.Write(by, $"{who}", clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await Person(who, stop)).Try(out var person, out var nobody))
            {
                return nobody;
            }

            var today = clock.Today();
            if (until < from || until < today || until > today.AddDays(DaysAhead) || from < today.AddDays(-DaysAhead))
            {
                return new Refusal(
                    RefusalReason.Invalid,
                    "The last day away is not before the first, is not over, and is within a year."
                );
            }

            db.Add(
                new Absence
                {
                    Id = Guid.CreateVersion7(),
                    TechnicianId = who,
                    From = clock.MomentOf(from),
                    Until = clock.MomentOf(until.AddDays(1)),
                    FromCalendar = false,
                }
            );
            return $"{person.Name} is away {Said(from, until)}.";
        }
    }

    /// <summary>Says what somebody leaves to others, in place of what was said before.</summary>
    /// <param name="models">Names or codes of models with commas between them; blank: none.</param>
    /// <param name="parts">Slots with commas between them, each for all that begin with it; blank: none.</param>
    public Task<Outcome<string>> Leave(
        Guid who,
        string? models,
        string? parts,
        Actor by,
        CancellationToken stop = default
    )
    {
        return db.Write(by, $"{who}", clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await Person(who, stop)).Try(out var person, out var nobody))
            {
                return nobody;
            }

            var known = await ModelNames(stop);
            var slots = await db.CatalogueFits.Select(f => f.Slot).Distinct().ToListAsync(stop);
            if (!LeftToOthers.Read(models, parts, known, slots).Try(out var left, out var unknown))
            {
                return unknown;
            }

            var had = await db.LeftWork.SingleOrDefaultAsync(l => l.TechnicianId == who, stop);
            if (had is not null && left.IsNothing)
            {
                db.Remove(had);
            }
            else if (had is not null)
            {
                (had.Models, had.Parts) = ([.. left.Models], [.. left.Parts]);
            }
            else if (!left.IsNothing)
            {
                db.Add(
                    new LeftWork
                    {
                        TechnicianId = who,
                        Models = [.. left.Models],
                        Parts = [.. left.Parts],
                    }
                );
            }

            return left.IsNothing
                ? $"{person.Name} does whatever comes."
                : $"{person.Name} leaves to others: {string.Join(", ", left.Models.Select(m => known[m]).Order().Concat(left.Parts))}.";
        }
    }

    public Task<Outcome<string>> Back(Guid absence, Actor by, CancellationToken stop = default)
    {
        return db.Write(by, $"{absence}", clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (
                await db.Absences.Include(a => a.Technician).SingleOrDefaultAsync(a => a.Id == absence, stop)
                is not { } gone
            )
            {
                return new Refusal(RefusalReason.NotFound, "That absence is not there any more.");
            }

            db.Remove(gone);
            return $"{gone.Technician.Name} is there after all.";
        }
    }

    /// <summary>Takes somebody's absences from a calendar file (iCalendar, RFC 5545) in place of those taken before.</summary>
    /// <remarks>Times alone are kept; what an event is about is nobody's business here. What is marked as free (TRANSP:TRANSPARENT) is left out.</remarks>
    public Task<Outcome<string>> TakeCalendar(Guid who, string? calendar, Actor by, CancellationToken stop = default)
    {
        return db.Write(by, $"{who}", clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await Person(who, stop)).Try(out var person, out var nobody))
            {
                return nobody;
            }

            if (!Read(calendar).Try(out var times, out var unreadable))
            {
                return unreadable;
            }

            db.Absences.RemoveRange(
                await db.Absences.Where(a => a.TechnicianId == who && a.FromCalendar).ToListAsync(stop)
            );
            db.AddRange(
                times.Select(t => new Absence
                {
                    Id = Guid.CreateVersion7(),
                    TechnicianId = who,
                    From = t.From,
                    Until = t.Until,
                    FromCalendar = true,
                })
            );
            return times.Count == 0
                ? $"{person.Name} is never away by that calendar."
                : $"{person.Name} is away {times.Count} {(times.Count == 1 ? "time" : "times")} by that calendar, first on {times[0].From.ToString("d MMM yyyy", CultureInfo.InvariantCulture)}.";
        }
    }

    private async Task<Outcome<Actor>> Person(Guid who, CancellationToken stop) =>
        (await people.AtBench(stop)).FirstOrDefault(p => p.Id == who) is { } person
            ? person
            : new Refusal(RefusalReason.NotFound, "Choose somebody who works at the bench.");

    private Outcome<IReadOnlyList<Shift>> Read(string? calendar)
    {
        if (string.IsNullOrWhiteSpace(calendar) || calendar.Length > CalendarFile.MaxLength)
        {
            return Refuse("Choose a calendar file (.ics) of half a megabyte at most.");
        }

        var (now, today) = (clock.GetUtcNow(), clock.Today());
        // Free time is read and left out, so more is read than is kept.
        if (
            !CalendarFile
                .Read(calendar, today, today.AddDays(DaysAhead), MostAbsences * 4)
                .Try(out var entries, out var unreadable)
        )
        {
            return unreadable;
        }

        var times = entries
            .Where(e => e.Busy)
            .Select(e => (From: Moment(e.Begins), Ends: e.Ends))
            .Select(e => new Shift(e.From, e.Ends is { } end ? Moment(end) : e.From.AddDays(1)))
            .Where(t => t.Until > now && t.Until > t.From)
            .ToList();
        return times.Count > MostAbsences
            ? Refuse($"That is more than {MostAbsences} times away within a year: hardly one person's calendar.")
            : times;

        // A time without a zone is the house's.
        DateTimeOffset Moment(CalDateTime at) =>
            at.IsUtc || at.TzId is not null
                ? new DateTimeOffset(at.AsUtc, TimeSpan.Zero)
                : new DateTimeOffset(
                    DateTime.SpecifyKind(at.Value, DateTimeKind.Unspecified),
                    clock.LocalTimeZone.GetUtcOffset(at.Value)
                ).ToUniversalTime();

        static Refusal Refuse(string message) => new(RefusalReason.Invalid, message);
    }

    private static string Said(DateOnly from, DateOnly until) =>
        from == until
            ? $"on {from.ToString("d MMM", CultureInfo.InvariantCulture)}"
            : $"from {from.ToString("d MMM", CultureInfo.InvariantCulture)} until {until.ToString("d MMM", CultureInfo.InvariantCulture)}";
}
