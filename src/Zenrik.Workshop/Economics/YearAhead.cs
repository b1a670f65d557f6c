using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Batteries;
using Zenrik.Core.Economics;
using Zenrik.Core.Repairs;
using Zenrik.Workshop.Batteries;
using Zenrik.Workshop.Reliability;
using Zenrik.Workshop.Sourcing;

namespace Zenrik.Workshop.Economics;

/// <summary>What units of a model or at a site have cost in the year that has passed.</summary>
/// <param name="Units">In use now.</param>
/// <param name="Repairs">Closed in the year.</param>
/// <param name="Parts">What was fitted cost, where it is known.</param>
/// <param name="Labour">Minutes at the bench at the house's rate.</param>
public sealed record PastCost(string Name, int Units, int Repairs, decimal Parts, decimal Labour)
{
    /// <summary>What one unit costs a month; null where none is in use.</summary>
    public decimal? UnitMonth => Units == 0 ? null : (Parts + Labour) / Units / 12;
}

/// <summary>What the next twelve months will cost, and what the last have.</summary>
public sealed record YearView(
    IReadOnlyList<BudgetLine> Batteries,
    IReadOnlyList<BudgetLine> Spares,
    IReadOnlyList<BudgetLine> Replacements,
    Budget Budget,
    IReadOnlyList<PastCost> Models,
    IReadOnlyList<PastCost> Sites,
    string Currency
);

/// <summary>The money of the year: batteries that come due, parts that fail, units whose maker's support ends.</summary>
public sealed class YearAhead(WorkshopDb db, FleetBatteries batteries, ExpectedDemand demand, TimeProvider clock)
{
    private const int Days = 365;

    public async Task<YearView> Run(CancellationToken stop = default)
    {
        var today = DateOnly.FromDateTime(clock.GetLocalNow().DateTime);
        var end = today.AddDays(Days);
        var figures = await db.Figures(stop);
        var wear = await batteries.Run(stop);
        // A battery is exchanged when it comes under the limit; what fails before is among them.
        var slots = (await demand.Run(Days, 0.9, stop)).Where(d => !BatterySlot.Is(d.Slot.Slot)).ToList();
        var due = wear
            .Batteries.GroupBy(b => (b.Model, b.Number))
            .Select(g => (g.Key, Chances: g.Select(b => b.Forecast.UnderBy(end)).ToList()))
            .ToList();
        var prices = await db.PricesOf(
            [.. due.Select(d => d.Key.Number).OfType<string>().Concat(slots.SelectMany(s => s.Numbers)).Distinct()],
            figures,
            stop
        );
        List<BudgetLine> forBatteries =
        [
            .. due.Select(d => new BudgetLine(
                    $"battery, {d.Key.Model}",
                    d.Chances.Sum(),
                    d.Chances.Sum(p => p * (1 - p)),
                    d.Key.Number is { } n && prices.TryGetValue(n, out var price) ? price : null
                ))
                .Where(l => l.Count >= 0.05)
                .OrderByDescending(l => l.Expected ?? 0),
        ];
        List<BudgetLine> spares =
        [
            .. slots
                .Select(s => new BudgetLine(
                    $"{s.Slot.Slot}, {s.Slot.Model}",
                    s.Expected,
                    s.Variance,
                    s.Numbers.Where(prices.ContainsKey).Select(n => (decimal?)prices[n]).FirstOrDefault()
                ))
                .OrderByDescending(l => l.Expected ?? 0),
        ];
        var ending = await db
            .Units.Where(Unit.Serving)
            .Where(u => u.Model.SupportEnds != null && u.Model.SupportEnds <= end)
            .GroupBy(u => new { u.Model.Name, u.Model.NewPrice })
            .Select(g => new
            {
                g.Key.Name,
                g.Key.NewPrice,
                Count = g.Count(),
            })
            .ToListAsync(stop);
        List<BudgetLine> replacements =
        [
            .. ending
                .Select(e => new BudgetLine($"new for {e.Name}", e.Count, 0, e.NewPrice > 0 ? e.NewPrice : null))
                .OrderByDescending(l => l.Expected ?? 0),
        ];
        var (models, sites) = await Past(figures.LabourPerHour, stop);
        return new YearView(
            forBatteries,
            spares,
            replacements,
            Core.Economics.Budget.Of([.. forBatteries, .. spares, .. replacements]),
            models,
            sites,
            figures.Currency
        );
    }

    private async Task<(IReadOnlyList<PastCost> Models, IReadOnlyList<PastCost> Sites)> Past(
        decimal labourPerHour,
        CancellationToken stop
    )
    {
        var since = clock.GetUtcNow().AddDays(-Days);
        var units = await db
            .Units.Where(Unit.Serving)
            .GroupBy(u => new { Model = u.Model.Name, u.Site })
            .Select(g => new
            {
                g.Key.Model,
                g.Key.Site,
                Count = g.Count(),
            })
            .ToListAsync(stop);
        var repairs = await db
            .Repairs.Where(r => r.State == RepairState.Closed && r.ClosedAt >= since)
            .Select(r => new
            {
                Model = r.Unit.Model.Name,
                r.Unit.Site,
                r.MinutesTaken,
                Parts = r.Lines.Sum(l => l.ItemIn!.Cost ?? 0),
            })
            .ToListAsync(stop);
        return (
            Of(
                units.ToLookup(u => u.Model, u => u.Count),
                repairs.ToLookup(r => r.Model, r => (r.MinutesTaken, r.Parts))
            ),
            Of(units.ToLookup(u => u.Site, u => u.Count), repairs.ToLookup(r => r.Site, r => (r.MinutesTaken, r.Parts)))
        );

        IReadOnlyList<PastCost> Of(
            ILookup<string, int> count,
            ILookup<string, (double? Minutes, decimal Parts)> done
        ) =>
            [
                .. count
                    .Select(g => g.Key)
                    .Union(done.Select(g => g.Key))
                    .Select(name => new PastCost(
                        name,
                        count[name].Sum(),
                        done[name].Count(),
                        done[name].Sum(d => d.Parts),
                        (decimal)done[name].Sum(d => d.Minutes ?? 0) / 60 * labourPerHour
                    ))
                    .OrderByDescending(c => c.UnitMonth ?? 0)
                    .ThenBy(c => c.Name, StringComparer.Ordinal),
            ];
    }
}
