using Ical.Net;
using Ical.Net.CalendarComponents;
using Ical.Net.DataTypes;
using Ical.Net.Serialization;
using Zenrik.Workshop.Scheduling;

namespace Zenrik.Workshop.Exporting;

/// <summary>The bench calendar for a calendar program (iCalendar, RFC 5545): each job as long as it takes.</summary>
public sealed class BenchFeed(ViewCalendar calendar, TimeProvider clock)
{
    /// <param name="root">The program's address, to which each event leads back.</param>
    public async Task<string> Run(Uri root, CancellationToken stop = default)
    {
        var feed = new Calendar { ProductId = "-//Zenrik//Workshop//EN", Method = "PUBLISH" };
        foreach (var job in (await calendar.Run(stop)).Jobs)
        {
            feed.Events.Add(
                new CalendarEvent
                {
                    Uid = $"bench-{job.Task.Code.Replace(' ', '-')}@{root.Host}".ToLowerInvariant(),
                    Summary = $"{job.Placed.Hand.Name}: {job.Task.Code}, {job.Task.What}, {job.Task.Unit.Tag}",
                    Start = new CalDateTime(job.Placed.Begins.UtcDateTime, "UTC"),
                    End = new CalDateTime(job.Placed.Ends.UtcDateTime, "UTC"),
                    DtStamp = new CalDateTime(clock.GetUtcNow().UtcDateTime, "UTC"),
                    Url = new Uri(
                        root,
                        job.Task.Repair is { } repair ? $"/repairs/{repair.Code}" : $"/fleet/{job.Task.Unit.Tag}/strip"
                    ),
                    Categories = ["Bench"],
                }
            );
        }

        return new CalendarSerializer().SerializeToString(feed) ?? "";
    }
}
