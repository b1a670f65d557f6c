namespace Zenrik.Core.Scheduling;

/// <summary>How jobs at the bench are weighed and timed where nobody says otherwise. Common practice, no published source.</summary>
public static class BenchCustom
{
    /// <summary>Minutes to lay out tools, mat and drawing for another model.</summary>
    public const int SetUpMinutes = 4;

    /// <summary>Minutes counted for a unit whose work cannot be planned: a look, or a machine nobody has a map of.</summary>
    public const int UnplannedMinutes = 20;

    /// <summary>Within how many days the house would have done what is promised for no day.</summary>
    public const int UsualDays = 10;

    /// <summary>The hour of the day from which on a part that is due can be counted on.</summary>
    public const int PostHour = 12;

    /// <summary>
    /// By when a donor should be stripped, and what a minute too late counts: before the day that was promised to whoever
    /// waits for its parts; where nobody was promised one, as soon as the house would have anything done, and what is only
    /// expected to be wanted can wait.
    /// </summary>
    /// <param name="promised">The first day promised to a repair that waits for it.</param>
    /// <param name="waits">True where a repair waits for it at all.</param>
    /// <returns>The day it must be done before.</returns>
    public static (DateOnly Before, int Weight) OfStrip(DateOnly? promised, bool waits, DateOnly asked) =>
        (promised ?? asked.AddDays(UsualDays + 1), Weight(promised is not null, waits ? 0 : -1));

    /// <summary>What a minute too late counts.</summary>
    /// <param name="promised">True when somebody was told a day: three times what the house only wishes for itself.</param>
    /// <param name="urgency">1 for urgent, 0 for usual, −1 for what can wait: twice or half.</param>
    public static int Weight(bool promised, int urgency) =>
        (promised ? 3 : 1)
        * urgency switch
        {
            > 0 => 4,
            0 => 2,
            _ => 1,
        };
}
