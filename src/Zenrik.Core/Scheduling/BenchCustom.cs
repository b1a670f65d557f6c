namespace Zenrik.Core.Scheduling;

/// <summary>How jobs at the bench are weighed and timed where nobody says otherwise. Common practice, no published source.</summary>
public static class BenchCustom
{
    /// <summary>Minutes to lay out tools, mat and drawing for another model.</summary>
    public const int SetUpMinutes = 4;

    /// <summary>Within how many days the house would have done what is promised for no day.</summary>
    public const int UsualDays = 10;

    /// <summary>The hour of the day from which on a part that is due can be counted on.</summary>
    public const int PostHour = 12;

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
