namespace Zenrik.Core.Sourcing;

/// <summary>When something leaves and arrives.</summary>
/// <param name="Sails">Days of the week it leaves on.</param>
/// <param name="TransitDays">Days from leaving to the workshop's door; not negative.</param>
/// <param name="NoSailing">Days it does not leave although the week says so.</param>
/// <param name="CutOff">What is ordered later in the day is begun on the next; null: no such hour.</param>
public sealed record Carrier(
    string Name,
    IReadOnlyList<DayOfWeek> Sails,
    int TransitDays,
    IReadOnlyList<DateOnly>? NoSailing = null,
    TimeOnly? CutOff = null
)
{
    /// <summary>How far ahead a sailing is looked for.</summary>
    private const int Horizon = 366;

    /// <summary>The first day it leaves, on or after a day.</summary>
    public Outcome<DateOnly> Leaves(DateOnly ready)
    {
        if (TransitDays < 0)
        {
            return new Refusal(RefusalReason.Invalid, $"{Name} cannot arrive before it leaves.");
        }

        for (var i = 0; i < Horizon; i++)
        {
            var day = ready.AddDays(i);
            if (Sails.Contains(day.DayOfWeek) && NoSailing?.Contains(day) != true)
            {
                return day;
            }
        }

        return new Refusal(
            RefusalReason.Conflict,
            $"{Name} has no sailing within a year of {ready:yyyy-MM-dd}: put the days it leaves on into its calendar."
        );
    }

    /// <summary>The day something arrives that is ready to leave on a day.</summary>
    public Outcome<DateOnly> Arrives(DateOnly ready) =>
        Leaves(ready).Try(out var leaves, out var never) ? leaves.AddDays(TransitDays) : never;
}
