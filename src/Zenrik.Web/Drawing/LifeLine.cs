using Zenrik.Workshop.Fleet;

namespace Zenrik.Web.Drawing;

/// <summary>A unit's life as a line: bought, its repairs, today, and when its maker's support ends.</summary>
public sealed record LifeLine(DateOnly Bought, DateOnly Today, DateOnly? SupportEnds, IReadOnlyList<DateOnly> Repairs)
{
    public const double Width = 190;

    /// <summary>Years the line is long, the same for every unit so that lines can be compared.</summary>
    private const double Years = 9;

    public static LifeLine Of(UnitRow unit, DateOnly today) =>
        new(
            unit.BoughtOn,
            today,
            unit.SupportEnds,
            [.. unit.Repairs.Select(r => DateOnly.FromDateTime(r.LocalDateTime))]
        );

    /// <summary>Across the line, 0 when bought; what is beyond its ends stands at them.</summary>
    public double X(DateOnly day) =>
        4 + ((Width - 8) * Math.Clamp((day.DayNumber - Bought.DayNumber) / (365.25 * Years), 0, 1));
}
