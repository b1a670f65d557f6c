using System.Globalization;
using System.Text.RegularExpressions;

namespace Zenrik.Core.Scheduling;

/// <summary>The hours somebody keeps at the bench each week.</summary>
public sealed record WeekHours
{
    /// <summary>Most times a day is cut into.</summary>
    public const int MostADay = 4;

    private static readonly TimeSpan Patience = TimeSpan.FromMilliseconds(100);

    private readonly IReadOnlyList<IReadOnlyList<(TimeOnly From, TimeOnly Until)>> days;

    private WeekHours(IReadOnlyList<IReadOnlyList<(TimeOnly, TimeOnly)>> days) => this.days = days;

    /// <summary>Monday first, as they are written: "08:30-12:00, 13:00-16:30"; empty: not at the bench.</summary>
    public IReadOnlyList<string> Days => [.. days.Select(Written)];

    /// <summary>Minutes in a week.</summary>
    public int Minutes => (int)days.SelectMany(d => d).Sum(t => (t.Until - t.From).TotalMinutes);

    /// <summary>Reads seven days, Monday first.</summary>
    public static Outcome<WeekHours> Read(IReadOnlyList<string?> days)
    {
        if (days.Count != 7)
        {
            return new Refusal(RefusalReason.Invalid, "A week has seven days.");
        }

        var read = new List<IReadOnlyList<(TimeOnly, TimeOnly)>>();
        foreach (var (i, day) in days.Index())
        {
            if (!ReadDay(day ?? "").Try(out var times, out var wrong))
            {
                return wrong with { Message = $"{Name(i)}: {wrong.Message}" };
            }

            read.Add(times);
        }

        return new WeekHours(read);
    }

    /// <summary>The shifts of some days, in a time zone.</summary>
    /// <remarks>A time that a change of the clock leaves out is the moment the clock jumps to; one that it gives twice, the first.</remarks>
    public IEnumerable<Shift> Shifts(DateOnly first, int count, TimeZoneInfo zone) =>
        Enumerable
            .Range(0, count)
            .Select(first.AddDays)
            .SelectMany(day =>
                days[((int)day.DayOfWeek + 6) % 7]
                    .Select(t => new Shift(Moment(day, t.From, zone), Moment(day, t.Until, zone)))
            )
            .Where(s => s.Until > s.From);

    private static DateTimeOffset Moment(DateOnly day, TimeOnly time, TimeZoneInfo zone)
    {
        var local = day.ToDateTime(time);
        while (zone.IsInvalidTime(local))
        {
            local = local.AddMinutes(1);
        }

        var offset = zone.IsAmbiguousTime(local) ? zone.GetAmbiguousTimeOffsets(local).Max() : zone.GetUtcOffset(local);
        return new DateTimeOffset(local, offset);
    }

    private static Outcome<IReadOnlyList<(TimeOnly, TimeOnly)>> ReadDay(string text)
    {
        var times = new List<(TimeOnly From, TimeOnly Until)>();
        var parts = text.Split([',', ';', '+'], StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries);
        foreach (var part in parts)
        {
            var ends = Regex.Match(
                part,
                @"^(?<h1>\d{1,2})(?:[:.](?<m1>\d{2}))?\s*(?:-|–|to)\s*(?<h2>\d{1,2})(?:[:.](?<m2>\d{2}))?$",
                RegexOptions.ExplicitCapture,
                Patience
            );
            if (!ends.Success || Time(ends, "1") is not { } from || Time(ends, "2") is not { } until)
            {
                return new Refusal(
                    RefusalReason.Invalid,
                    $"“{part}” is no time of a day. Write it like 8:30-12:00, 13:00-16:30."
                );
            }

            if (until <= from)
            {
                return new Refusal(RefusalReason.Invalid, $"“{part}” ends before it begins.");
            }

            times.Add((from, until));
        }

        times.Sort();
        return times.Count > MostADay
                ? new Refusal(RefusalReason.Invalid, $"A day is cut into {MostADay} times at most.")
            : times.Zip(times.Skip(1)).Any(t => t.Second.From < t.First.Until)
                ? new Refusal(RefusalReason.Invalid, "Two of its times overlap.")
            : times;
    }

    private static TimeOnly? Time(Match match, string end)
    {
        var hour = int.Parse(match.Groups[$"h{end}"].ValueSpan, CultureInfo.InvariantCulture);
        var minute = match.Groups[$"m{end}"] is { Success: true } m
            ? int.Parse(m.ValueSpan, CultureInfo.InvariantCulture)
            : 0;
        return hour < 24 && minute < 60 ? new TimeOnly(hour, minute) : null;
    }

    private static string Written(IReadOnlyList<(TimeOnly From, TimeOnly Until)> day) =>
        string.Join(
            ", ",
            day.Select(t => string.Create(CultureInfo.InvariantCulture, $"{t.From:HH\\:mm}-{t.Until:HH\\:mm}"))
        );

    private static string Name(int day) =>
        CultureInfo.InvariantCulture.DateTimeFormat.GetDayName((DayOfWeek)((day + 1) % 7));
}
