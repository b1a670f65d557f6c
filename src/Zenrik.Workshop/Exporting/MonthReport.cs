using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Reliability;
using Zenrik.Core.Repairs;
using Zenrik.Workshop.Batteries;
using Zenrik.Workshop.Economics;
using Zenrik.Workshop.Reliability;

namespace Zenrik.Workshop.Exporting;

/// <summary>What was wrong in a month, how often, and what it took.</summary>
/// <param name="Minutes">At the bench.</param>
/// <param name="Parts">What was fitted cost, as far as it is known, in the house's currency.</param>
public sealed record MonthFault(string What, int Repairs, double Minutes, decimal Parts);

/// <summary>A part number and how often it went in.</summary>
public sealed record MonthPart(string Number, string Name, int Fitted);

/// <summary>A month of the workshop, and what lies ahead of it.</summary>
/// <param name="First">The month's first day.</param>
/// <param name="TakenIn">Repairs opened in it.</param>
/// <param name="Ends">How repairs that were closed in it ended.</param>
/// <param name="Open">Underway at its end, or now where it is not over.</param>
/// <param name="Kept">Of those closed, promised for the day they were closed or a later one.</param>
/// <param name="Broken">Closed after the day they were promised for.</param>
/// <param name="MedianDays">From taking in to closing; null: none was closed.</param>
/// <param name="Planned">Minutes the plans of those closed had expected, and what these took.</param>
/// <param name="Serving">Units in use now.</param>
/// <param name="Due">Batteries that come under the limit within three months, by kind.</param>
/// <param name="TooFew">Slots the shelf has too few parts for, for two months, in 95 of 100 cases.</param>
public sealed record MonthView(
    DateOnly First,
    string? Organisation,
    string Currency,
    int TakenIn,
    IReadOnlyDictionary<RepairEnd, int> Ends,
    int Open,
    int Kept,
    int Broken,
    double? MedianDays,
    (double Planned, double Taken) Minutes,
    IReadOnlyList<MonthFault> Faults,
    IReadOnlyList<MonthPart> Parts,
    int Serving,
    IReadOnlyList<(string Kind, int Count)> Due,
    IReadOnlyList<WatchFinding> Watch,
    IReadOnlyList<ShelfDemand> TooFew,
    YearView Year
)
{
    public int Closed => Ends.Values.Sum();
}

/// <summary>
/// The report a lead hands on: what was done, what it took, what is coming. Nobody's minutes stand in it by name: they say
/// less of a person than of the machines they got.
/// </summary>
public sealed class MonthReport(
    WorkshopDb db,
    FleetBatteries batteries,
    FleetLives lives,
    ExpectedDemand demand,
    YearAhead year,
    TimeProvider clock
)
{
    /// <summary>Rows of each table.</summary>
    private const int Most = 10;

    private const int DueDays = 91;
    private const int ShelfDays = 60;
    private const double ShelfLevel = 0.95;

    /// <param name="month">Any day of it; one that has not begun is the present one.</param>
    public async Task<MonthView> Run(DateOnly month, CancellationToken stop = default)
    {
        var today = clock.Today();
        var first = new DateOnly(month.Year, month.Month, 1);
        first = first > today ? new DateOnly(today.Year, today.Month, 1) : first;
        var (from, until) = (clock.MomentOf(first), clock.MomentOf(first.AddMonths(1)));
        var figures = await db.Figures(stop);
        var closed = await db
            .Repairs.AsNoTracking()
            .Where(r => r.State == RepairState.Closed && r.ClosedAt >= from && r.ClosedAt < until)
            .Select(r => new
            {
                r.End,
                r.PromisedOn,
                r.OpenedAt,
                ClosedAt = r.ClosedAt!.Value,
                r.MinutesPlanned,
                r.MinutesTaken,
                r.FaultId,
                Lines = r
                    .Lines.OrderBy(l => l.Position)
                    .Select(l => new
                    {
                        l.Fault,
                        Number = (string?)l.ItemIn!.Number.Number,
                        Name = (string?)l.ItemIn.Number.Name,
                        l.ItemIn.Cost,
                    })
                    .ToList(),
            })
            .ToListAsync(stop);
        var days = closed.ConvertAll(r => (r.ClosedAt - r.OpenedAt).TotalDays);
        days.Sort();
        var promised = closed.FindAll(r => r.PromisedOn is not null);
        var planned = closed.FindAll(r => r is { MinutesPlanned: > 0, MinutesTaken: not null });
        var fleet = await lives.Run(stop);
        return new MonthView(
            first,
            figures.Organisation,
            figures.Currency,
            await db.Repairs.CountAsync(r => r.OpenedAt >= from && r.OpenedAt < until, stop),
            closed.Where(r => r.End is not null).GroupBy(r => r.End!.Value).ToDictionary(g => g.Key, g => g.Count()),
            await db.Repairs.CountAsync(
                r =>
                    r.OpenedAt < until
                    && (r.ClosedAt == null || r.ClosedAt >= until)
                    && r.State != RepairState.Withdrawn,
                stop
            ),
            promised.Count(r => clock.DayOf(r.ClosedAt) <= r.PromisedOn),
            promised.Count(r => clock.DayOf(r.ClosedAt) > r.PromisedOn),
            days.Count == 0 ? null : days[days.Count / 2],
            (planned.Sum(r => r.MinutesPlanned!.Value), planned.Sum(r => r.MinutesTaken!.Value)),
            [
                .. closed
                    .GroupBy(r =>
                        r.Lines.Select(l => l.Fault).FirstOrDefault() ?? r.FaultId?.Replace('-', ' ') ?? "other"
                    )
                    .Select(g => new MonthFault(
                        g.Key,
                        g.Count(),
                        g.Sum(r => r.MinutesTaken ?? 0),
                        g.Sum(r => r.Lines.Sum(l => l.Cost ?? 0))
                    ))
                    .OrderByDescending(f => f.Repairs)
                    .ThenBy(f => f.What, StringComparer.Ordinal)
                    .Take(Most),
            ],
            [
                .. closed
                    .SelectMany(r => r.Lines)
                    .Where(l => l.Number is not null)
                    .GroupBy(l => (l.Number, l.Name))
                    .Select(g => new MonthPart(g.Key.Number!, g.Key.Name!, g.Count()))
                    .OrderByDescending(p => p.Fitted)
                    .ThenBy(p => p.Number, StringComparer.Ordinal)
                    .Take(Most),
            ],
            await db.Units.CountAsync(Unit.Serving, stop),
            [
                .. (await batteries.Run(stop))
                    .Batteries.Where(b => b.Forecast.Due is { } due && due <= today.AddDays(DueDays))
                    .GroupBy(b => $"{b.Number ?? "battery"}, {b.Model}")
                    .Select(g => (g.Key, g.Count()))
                    .OrderByDescending(k => k.Item2)
                    .Take(Most),
            ],
            [.. fleet.Found.Where(f => !f.Suspected)],
            [.. (await demand.Run(ShelfDays, ShelfLevel, stop)).Where(d => d.ToOrder > 0).Take(Most)],
            await year.Run(stop)
        );
    }
}
