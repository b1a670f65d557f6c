using Ical.Net;
using Ical.Net.CalendarComponents;
using Ical.Net.DataTypes;
using Ical.Net.Serialization;
using Microsoft.EntityFrameworkCore;

namespace Zenrik.Workshop.Exporting;

/// <summary>What falls due on a day.</summary>
public enum DueKind
{
    /// <summary>A unit is promised to its user.</summary>
    Promise,

    /// <summary>A loan unit is to come back.</summary>
    Loan,

    /// <summary>An order is expected.</summary>
    Delivery,

    /// <summary>A campaign is to be done.</summary>
    Campaign,
}

/// <summary>Something that falls due.</summary>
/// <param name="Of">Names it, the same as long as it stands: "R-1004".</param>
/// <param name="Path">Where it is in the program, from its root.</param>
public sealed record DueDay(DateOnly Day, DueKind Kind, string Of, string What, string Path);

/// <summary>The days on which something falls due, as a list and as a calendar.</summary>
public sealed class DueDays(WorkshopDb db, TimeProvider clock)
{
    /// <summary>Further ahead nobody plans.</summary>
    private const int Ahead = 366;

    private const int MostOfEach = 1000;

    /// <summary>Everything that is due, what is overdue first.</summary>
    /// <param name="only">Of this kind; null: of every kind.</param>
    public async Task<IReadOnlyList<DueDay>> Run(DueKind? only = null, CancellationToken stop = default)
    {
        var until = clock.Today().AddDays(Ahead);
        var due = new List<DueDay>();
        if (only is null or DueKind.Promise)
        {
            due.AddRange(
                await db
                    .Repairs.AsNoTracking()
                    .Where(Repair.Underway)
                    .Where(r => r.PromisedOn != null && r.PromisedOn <= until)
                    .OrderBy(r => r.PromisedOn)
                    .Take(MostOfEach)
                    .Select(r => new DueDay(
                        r.PromisedOn!.Value,
                        DueKind.Promise,
                        Repair.CodeOf(r.Number),
                        $"{r.Unit.Tag} promised{(r.Unit.UserName == null ? "" : $" to {r.Unit.UserName}")}, {r.Unit.Site}",
                        $"/repairs/{Repair.CodeOf(r.Number)}"
                    ))
                    .ToListAsync(stop)
            );
        }

        if (only is null or DueKind.Loan)
        {
            due.AddRange(
                await db
                    .Loans.AsNoTracking()
                    .Where(l => l.BackAt == null && l.DueOn != null && l.DueOn <= until)
                    .OrderBy(l => l.DueOn)
                    .Take(MostOfEach)
                    .Select(l => new DueDay(
                        l.DueOn!.Value,
                        DueKind.Loan,
                        l.Unit.Tag,
                        $"Loan unit {l.Unit.Tag} back from {l.To}",
                        $"/fleet/{l.Unit.Tag}"
                    ))
                    .ToListAsync(stop)
            );
        }

        if (only is null or DueKind.Delivery)
        {
            due.AddRange(
                await db
                    .PartOrders.AsNoTracking()
                    .Where(o => o.State == OrderState.Ordered && o.Expected <= until)
                    .OrderBy(o => o.Expected)
                    .Take(MostOfEach)
                    .Select(o => new DueDay(
                        o.Expected,
                        DueKind.Delivery,
                        o.Id.ToString(),
                        $"{o.Quantity - o.Arrived} × {o.Number} from {o.Supplier.Name}{(o.Repair == null ? "" : $" for {Repair.CodeOf(o.Repair.Number)}")}",
                        $"/stores/orders/{o.Id}"
                    ))
                    .ToListAsync(stop)
            );
        }

        if (only is null or DueKind.Campaign)
        {
            due.AddRange(
                await db
                    .Campaigns.AsNoTracking()
                    .Where(c => c.EndedAt == null && c.EndsOn != null && c.EndsOn <= until)
                    .Take(MostOfEach)
                    .Select(c => new DueDay(
                        c.EndsOn!.Value,
                        DueKind.Campaign,
                        c.Name,
                        $"“{c.Name}” to be done",
                        $"/fleet/campaigns/{Uri.EscapeDataString(c.Name)}"
                    ))
                    .ToListAsync(stop)
            );
        }

        return [.. due.OrderBy(d => d.Day).ThenBy(d => d.Kind).ThenBy(d => d.Of, StringComparer.Ordinal)];
    }

    /// <summary>The same as a calendar (iCalendar, RFC 5545): an entry of a whole day each, known by what it is of.</summary>
    /// <param name="root">The program's own address, for the entries' links.</param>
    public async Task<string> AsCalendar(DueKind? only, Uri root, CancellationToken stop = default)
    {
        var calendar = new Calendar { ProductId = "-//Zenrik//Workshop//EN", Method = "PUBLISH" };
        foreach (var due in await Run(only, stop))
        {
            calendar.Events.Add(
                new CalendarEvent
                {
                    Uid = $"{due.Kind}-{due.Of}@{root.Host}".ToLowerInvariant(),
                    Summary = due.What,
                    Start = new CalDateTime(due.Day),
                    End = new CalDateTime(due.Day.AddDays(1)),
                    DtStamp = new CalDateTime(clock.GetUtcNow().UtcDateTime, "UTC"),
                    Url = new Uri(root, due.Path),
                    Categories = [$"{due.Kind}"],
                    Transparency = TransparencyType.Transparent,
                }
            );
        }

        return new CalendarSerializer().SerializeToString(calendar) ?? "";
    }
}
