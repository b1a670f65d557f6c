namespace Zenrik.Workshop;

/// <summary>Days of the house as moments, in the zone the clock keeps.</summary>
public static class LocalTime
{
    /// <summary>The day it is here.</summary>
    public static DateOnly Today(this TimeProvider clock) => DateOnly.FromDateTime(clock.GetLocalNow().DateTime);

    /// <summary>The day on which a moment falls here.</summary>
    public static DateOnly DayOf(this TimeProvider clock, DateTimeOffset moment) =>
        DateOnly.FromDateTime(TimeZoneInfo.ConvertTime(moment, clock.LocalTimeZone).DateTime);

    /// <summary>When an hour of a day is here, as the database takes it.</summary>
    public static DateTimeOffset MomentOf(this TimeProvider clock, DateOnly day, int hour = 0)
    {
        var local = day.ToDateTime(new TimeOnly(hour, 0));
        return new DateTimeOffset(local, clock.LocalTimeZone.GetUtcOffset(local)).ToUniversalTime();
    }
}
