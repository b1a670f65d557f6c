using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Scheduling;

namespace Zenrik.Web.Rooms.Outlook;

/// <summary>Who is at the bench when.</summary>
[Authorize(Policies.Counter)]
public sealed class HoursModel(KeepHours hours, TimeProvider clock) : RoomPage
{
    private const string Here = "/Outlook/Hours";

    public static IReadOnlyList<string> DayNames { get; } = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];

    public IReadOnlyList<HoursOf> Hands { get; private set; } = [];

    public DateOnly Today => clock.Today();

    private IReadOnlyDictionary<string, string> names = new Dictionary<string, string>();

    public async Task OnGet(CancellationToken stop) =>
        (Hands, names) = (await hours.List(stop), await hours.ModelNames(stop));

    /// <summary>What somebody leaves to others, as it is typed.</summary>
    public (string Models, string Parts) Leaves(HoursOf hand) =>
        (
            string.Join(", ", hand.Leaves.Models.Select(m => names.GetValueOrDefault(m, m))),
            string.Join(", ", hand.Leaves.Parts)
        );

    public Task<IActionResult> OnPostSet(Guid who, string[] days, CancellationToken stop) =>
        Say(hours.Set(who, days, User.Actor(), stop), Here);

    public Task<IActionResult> OnPostAway(Guid who, DateOnly? from, DateOnly? until, CancellationToken stop) =>
        Say(hours.Away(who, from ?? default, until ?? from ?? default, User.Actor(), stop), Here);

    public Task<IActionResult> OnPostLeave(Guid who, string? models, string? parts, CancellationToken stop) =>
        Say(hours.Leave(who, models, parts, User.Actor(), stop), Here);

    public Task<IActionResult> OnPostBack(Guid id, CancellationToken stop) =>
        Say(hours.Back(id, User.Actor(), stop), Here);

    public async Task<IActionResult> OnPostCalendar(Guid who, IFormFile? file, CancellationToken stop)
    {
        string? text = null;
        if (file is { Length: > 0 and <= KeepHours.MaxCalendar })
        {
            using var reader = new StreamReader(file.OpenReadStream());
            text = await reader.ReadToEndAsync(stop);
        }

        return await Say(hours.TakeCalendar(who, text, User.Actor(), stop), Here);
    }

    public string Span(Absence away)
    {
        var (from, until) = (
            TimeZoneInfo.ConvertTime(away.From, clock.LocalTimeZone),
            TimeZoneInfo.ConvertTime(away.Until, clock.LocalTimeZone)
        );
        return from.TimeOfDay == TimeSpan.Zero && until.TimeOfDay == TimeSpan.Zero
            ? from.Date == until.Date.AddDays(-1)
                ? Show.Day(DateOnly.FromDateTime(from.DateTime))
                : $"{Show.Day(DateOnly.FromDateTime(from.DateTime))} – {Show.Day(DateOnly.FromDateTime(until.DateTime.AddDays(-1)))}"
            : $"{Show.Moment(away.From)} – {Show.Moment(away.Until)}";
    }
}
