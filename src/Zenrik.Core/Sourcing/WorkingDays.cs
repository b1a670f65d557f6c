namespace Zenrik.Core.Sourcing;

/// <summary>Days on which somebody packs: Monday to Friday without the holidays of whoever packs.</summary>
public static class WorkingDays
{
    public static bool IsOne(DateOnly day, IReadOnlyCollection<DateOnly>? holidays) =>
        day.DayOfWeek is not (DayOfWeek.Saturday or DayOfWeek.Sunday) && holidays?.Contains(day) != true;

    /// <summary>The day something is ready that takes so many working days.</summary>
    /// <param name="from">The day it is begun; on a day off it begins on the next working day.</param>
    /// <param name="days">Working days; 0: ready on the day it is begun.</param>
    /// <param name="holidays">Days off besides the weekend.</param>
    public static DateOnly After(DateOnly from, int days, IReadOnlyCollection<DateOnly>? holidays = null)
    {
        var day = from;
        while (!IsOne(day, holidays))
        {
            day = day.AddDays(1);
        }

        for (var left = days; left > 0; )
        {
            day = day.AddDays(1);
            left -= IsOne(day, holidays) ? 1 : 0;
        }

        return day;
    }
}
