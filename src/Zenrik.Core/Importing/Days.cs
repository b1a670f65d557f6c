using System.Globalization;

namespace Zenrik.Core.Importing;

/// <summary>How a column writes its days.</summary>
public enum DayOrder
{
    /// <summary>3/9/2026 is the third of September.</summary>
    DayFirst,

    /// <summary>3/9/2026 is the ninth of March.</summary>
    MonthFirst,
}

/// <summary>Reads days as spreadsheets write them. One column is taken to write all of its days alike.</summary>
public static class Days
{
    /// <summary>Days counted from 30 December 1899, as spreadsheets keep them; these are the years 1982 to 2064.</summary>
    private const int FirstSerial = 30_000;

    private const int LastSerial = 60_000;

    private static readonly string[] Unmistakable =
    [
        "yyyy-M-d",
        "yyyy/M/d",
        "yyyy.M.d",
        "yyyyMMdd",
        "d MMM yyyy",
        "d MMMM yyyy",
        "d-MMM-yyyy",
        "d-MMM-yy",
        "MMM d, yyyy",
        "MMMM d, yyyy",
        // Where points stand between, the day is first wherever such days are written (common practice, no published source).
        "d.M.yyyy",
        "d.M.yy",
    ];

    private static readonly string[] DayFirst = ["d/M/yyyy", "d-M-yyyy", "d/M/yy", "d-M-yy"];

    private static readonly string[] MonthFirst = ["M/d/yyyy", "M-d-yyyy", "M/d/yy", "M-d-yy"];

    /// <summary>No day anything here is about is before: no machine was bought then.</summary>
    public static readonly DateOnly First = new(1980, 1, 1);

    /// <summary>No plan for a machine reaches further.</summary>
    public static readonly DateOnly Last = new(2099, 12, 31);

    /// <summary>True for days that anything here may be about.</summary>
    public static bool InReach(DateOnly day) => day >= First && day <= Last;

    /// <summary>Which order a column writes in, as far as its cells tell.</summary>
    /// <returns>
    /// The order, or null where every day can be read both ways or none needs an order; refused where some can only be
    /// read one way and some only the other.
    /// </returns>
    public static Outcome<DayOrder?> OrderOf(IEnumerable<string> cells)
    {
        string? onlyDay = null,
            onlyMonth = null;
        foreach (var cell in cells)
        {
            var text = WithoutTime(cell);
            var (day, month) = (Exact(text, DayFirst), Exact(text, MonthFirst));
            onlyDay ??= day is not null && month is null ? text : null;
            onlyMonth ??= month is not null && day is null ? text : null;
            if (onlyDay is not null && onlyMonth is not null)
            {
                return new Refusal(
                    RefusalReason.Invalid,
                    $"Days are written in two ways: {onlyDay} has the day first, {onlyMonth} the month. Write them as 2026-09-03."
                );
            }
        }

        return onlyDay is not null ? DayOrder.DayFirst
            : onlyMonth is not null ? DayOrder.MonthFirst
            : (DayOrder?)null;
    }

    /// <summary>True when a cell can be read as two different days.</summary>
    public static bool IsAmbiguous(string cell)
    {
        var text = WithoutTime(cell);
        return Exact(text, DayFirst) is { } day && Exact(text, MonthFirst) is { } month && day != month;
    }

    public static Outcome<DateOnly> Read(string cell, DayOrder order)
    {
        var text = WithoutTime(cell);
        var read =
            Exact(text, Unmistakable)
            ?? Exact(text, order == DayOrder.DayFirst ? DayFirst : MonthFirst)
            ?? Serial(text);
        return read is { } day
            ? day
            : new Refusal(RefusalReason.Invalid, $"“{Short(cell)}” is no day. Write it as 2026-09-03.");
    }

    /// <summary>Whether a cell looks like a day in any of the ways that are read.</summary>
    public static bool Looks(string cell) =>
        WithoutTime(cell) is var text
        && (Exact(text, Unmistakable) ?? Exact(text, DayFirst) ?? Exact(text, MonthFirst)) is not null;

    private static DateOnly? Exact(string text, string[] formats) =>
        DateOnly.TryParseExact(text, formats, CultureInfo.InvariantCulture, DateTimeStyles.None, out var day)
        && InReach(day)
            ? day
            : null;

    private static DateOnly? Serial(string text) =>
        double.TryParse(text, NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var serial)
        && serial is >= FirstSerial and <= LastSerial
            ? DateOnly.FromDateTime(DateTime.FromOADate(serial))
            : null;

    private static string WithoutTime(string cell)
    {
        var text = cell.Trim();
        var at = text.IndexOfAny(['T', ' ']);
        return at > 0 && at + 1 < text.Length && char.IsAsciiDigit(text[at + 1]) && text.IndexOf(':', at) > at
            ? text[..at]
            : text;
    }

    private static string Short(string cell) => cell.Length > 30 ? $"{cell[..30]}…" : cell;
}
