namespace Zenrik.Core.Economics;

/// <summary>How much longer a unit is of use, and what ends it.</summary>
/// <param name="Months">Not negative.</param>
/// <param name="EndedBy">"support ends", "age", "the battery".</param>
public sealed record MonthsLeft(double Months, string EndedBy)
{
    private const double DaysAMonth = 365.25 / 12;

    public double Days => Months * DaysAMonth;

    /// <summary>The shortest of what support, age and the battery still allow.</summary>
    /// <param name="boughtOn">When the unit was bought.</param>
    /// <param name="today">The day it is asked.</param>
    /// <param name="lifeMonths">How long the house uses such units.</param>
    /// <param name="supportEnds">When updates end; null when not known.</param>
    /// <param name="batteryMonths">Until the battery is worn to the house's limit; null when not known or when it is exchanged.</param>
    public static MonthsLeft Of(
        DateOnly boughtOn,
        DateOnly today,
        int lifeMonths,
        DateOnly? supportEnds,
        double? batteryMonths
    )
    {
        double Until(DateOnly day) => Math.Max(0, (day.DayNumber - today.DayNumber) / DaysAMonth);
        var ends = new List<MonthsLeft> { new(Until(boughtOn.AddMonths(lifeMonths)), "age") };
        if (supportEnds is { } end)
        {
            ends.Add(new(Until(end), "support ends"));
        }

        if (batteryMonths is { } battery)
        {
            ends.Add(new(Math.Max(0, battery), "the battery"));
        }

        return ends.MinBy(e => e.Months)!;
    }
}
