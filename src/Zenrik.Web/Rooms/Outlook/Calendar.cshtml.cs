using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Web.Drawing;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Scheduling;

namespace Zenrik.Web.Rooms.Outlook;

/// <summary>Who does what when at the bench.</summary>
[PostingNeeds(Policies.Counter)]
public sealed class CalendarModel(ViewCalendar calendar, PinJob pins, TimeProvider clock) : RoomPage
{
    private const string Here = "/Outlook/Calendar";

    public BenchCalendar View { get; private set; } = null!;

    public DateOnly Today => clock.Today();

    /// <summary>True while nobody has looked for a better one: the page asks for that by itself.</summary>
    public bool CanBeBetter { get; private set; }

    public BenchChart Chart => BenchChart.Of(View, clock.LocalTimeZone);

    public async Task OnGet(CancellationToken stop)
    {
        View = await calendar.Run(stop);
        CanBeBetter = View is { IsBest: false, ReckonedAt: null };
    }

    /// <summary>The same after some seconds of looking for a better one.</summary>
    public async Task<IActionResult> OnGetBetter(CancellationToken stop)
    {
        View = await calendar.Better(stop);
        return Partial("_Calendar", this);
    }

    /// <param name="behind">The job it is done after; null: first of all.</param>
    public Task<IActionResult> OnPostPin(string? code, Guid who, string? behind, CancellationToken stop) =>
        Say(pins.Pin(code, who, behind, User.Actor(), stop), Here);

    public Task<IActionResult> OnPostUnpin(string? code, CancellationToken stop) =>
        Say(pins.Unpin(code, User.Actor(), stop), Here);

    public DateOnly DayOf(DateTimeOffset moment) =>
        DateOnly.FromDateTime(TimeZoneInfo.ConvertTime(moment, clock.LocalTimeZone).DateTime);

    public string Clock(DateTimeOffset moment) =>
        TimeZoneInfo
            .ConvertTime(moment, clock.LocalTimeZone)
            .ToString("HH:mm", System.Globalization.CultureInfo.InvariantCulture);

    /// <summary>The job somebody does last before a moment; null: none.</summary>
    public string? Before(Guid hand, DateTimeOffset moment) =>
        View.Jobs.LastOrDefault(j => j.Placed.Hand.Id == hand && j.Placed.Begins < moment && !j.Underway)?.Task.Code;

    /// <summary>How good it is, in a sentence.</summary>
    public string HowGood =>
        View.Cost.Late == 0 ? "Everything is done in time."
        : View.IsBest ? "Proved: no order is less late."
        : View.ReckonedAt is { } at
            ? $"As good as could be found at {Clock(at)}; at most {Show.Whole(100 * View.Savable)} of 100 could still be saved."
        : "Laid by rule; a better order is being looked for …";
}
