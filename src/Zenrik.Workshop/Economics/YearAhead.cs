using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Batteries;
using Zenrik.Core.Economics;
using Zenrik.Core.Reliability;
using Zenrik.Core.Repairs;
using Zenrik.Workshop.Batteries;
using Zenrik.Workshop.Reliability;
using Zenrik.Workshop.Sourcing;

namespace Zenrik.Workshop.Economics;

/// <summary>What some units have cost in the year that has passed, or what was spent on all of them for one cause.</summary>
/// <param name="UnitYears">How long they served in that year, as far as units in use now tell.</param>
/// <param name="Repairs">Closed in the year.</param>
/// <param name="Parts">What was fitted cost, where it is known.</param>
/// <param name="Labour">Minutes at the bench at the house's rate.</param>
/// <param name="Between">Both, and between what another such year would come to.</param>
public sealed record PastCost(
    string Name,
    double UnitYears,
    int Repairs,
    decimal Parts,
    decimal Labour,
    SpentBetween Between
)
{
    /// <summary>What one unit costs a month; null where none is in use.</summary>
    public SpentBetween? UnitMonth
    {
        get
        {
            if (UnitYears <= 0)
            {
                return null;
            }

            var months = (decimal)UnitYears * 12;
            return new SpentBetween(Between.Sum / months, Between.Low / months, Between.High / months);
        }
    }
}

/// <summary>What the next twelve months will cost, and what the last have.</summary>
public sealed record YearView(
    IReadOnlyList<BudgetLine> Batteries,
    IReadOnlyList<BudgetLine> Spares,
    IReadOnlyList<BudgetLine> Replacements,
    Budget Budget,
    IReadOnlyList<PastCost> Models,
    IReadOnlyList<PastCost> Sites,
    IReadOnlyList<PastCost> Ages,
    IReadOnlyList<PastCost> Causes,
    string Currency
);

/// <summary>The money of the year: batteries that come due, parts that fail, units whose maker's support ends.</summary>
public sealed class YearAhead(
    WorkshopDb db,
    Figures kept,
    FleetBatteries batteries,
    ExpectedDemand demand,
    TimeProvider clock
)
{
    private const int Days = 365;

    public async Task<YearView> Run(CancellationToken stop = default)
    {
        var today = clock.Today();
        var end = today.AddDays(Days);
        var figures = await db.Figures(stop);
        var wear = await batteries.Run(stop);
        // A battery is exchanged when it comes under the limit; what fails before is among them.
        var slots = (await demand.Run(Days, 0.9, stop)).Where(d => !BatterySlot.Is(d.Slot.Slot)).ToList();
        var due = FleetBatteries.Due(wear, end);
        var prices = await db.PricesOf(
            [.. due.Keys.Select(d => d.Number).OfType<string>().Concat(slots.SelectMany(s => s.Numbers)).Distinct()],
            figures,
            stop
        );
        List<BudgetLine> forBatteries =
        [
            .. due.Select(d => new BudgetLine(
                    $"battery, {d.Key.Model}",
                    d.Value,
                    d.Key.Number is { } n && prices.TryGetValue(n, out var price) ? price : null
                ))
                .Where(l => l.Count >= 0.05)
                .OrderByDescending(l => l.Expected ?? 0),
        ];
        List<BudgetLine> spares =
        [
            .. slots
                .Select(s => new BudgetLine(
                    s.Name,
                    s.Law,
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
                .Select(e => new BudgetLine(
                    $"new for {e.Name}",
                    new Cumulants(e.Count),
                    e.NewPrice > 0 ? e.NewPrice : null
                ))
                .OrderByDescending(l => l.Expected ?? 0),
        ];
        var past = (await kept.Of<YearAhead, PastYear>(this, (y, _, _, s) => y.Reckon(s), stop)).At(
            figures.LabourPerHour
        );
        return new YearView(
            forBatteries,
            spares,
            replacements,
            Core.Economics.Budget.Of([.. forBatteries, .. spares, .. replacements]),
            past.Models,
            past.Sites,
            past.Ages,
            past.Causes,
            figures.Currency
        );
    }

    /// <summary>What the last twelve months came to, the dearest first.</summary>
    private sealed record PastCosts(
        decimal LabourPerHour,
        IReadOnlyList<PastCost> Models,
        IReadOnlyList<PastCost> Sites,
        IReadOnlyList<PastCost> Ages,
        IReadOnlyList<PastCost> Causes
    );

    /// <summary>What was worked on in the last twelve months, anew, whatever is kept.</summary>
    private async Task<PastYear> Reckon(CancellationToken stop)
    {
        var since = clock.GetUtcNow().AddDays(-Days);
        var units = await db
            .Units.Where(Unit.Serving)
            .GroupBy(u => new
            {
                Model = u.Model.Name,
                u.Site,
                u.BoughtOn,
            })
            .Select(g => new Alike(g.Key.Model, g.Key.Site, g.Key.BoughtOn, g.Count()))
            .ToListAsync(stop);
        var closed = await db
            .Repairs.Where(r => r.State == RepairState.Closed && r.ClosedAt >= since)
            .Select(r => new
            {
                Model = r.Unit.Model.Name,
                r.Unit.Site,
                r.Unit.BoughtOn,
                r.ClosedAt,
                r.Purpose,
                r.End,
                r.Circumstances,
                Minutes = r.MinutesTaken ?? 0,
                Faults = r.Lines.Select(l => l.Fault).ToList(),
                Parts = r.Lines.Sum(l => l.ItemIn!.Cost ?? 0),
            })
            .ToListAsync(stop);
        return new PastYear(
            clock.Today(),
            units,
            closed.ConvertAll(r => new Worked(
                r.Model,
                r.Site,
                AgeShares.YearsAt(r.BoughtOn, clock.DayOf(r.ClosedAt!.Value)),
                CostCauses.Of(r.Purpose, r.End, r.Circumstances, r.Faults),
                r.Parts,
                r.Minutes
            ))
        );
    }

    private static PastCosts Past(PastYear year, decimal labourPerHour)
    {
        var (units, repairs, today) = (year.Units, year.Repairs, year.Until);
        var ages = AgeShares.Of(units.Select(u => (u.BoughtOn, u.Count)), today.AddDays(-Days), today);
        var all = units.Sum(u => u.Count);
        return new PastCosts(
            labourPerHour,
            Dearest(
                units.GroupBy(u => u.Model).ToDictionary(g => g.Key, g => (double)g.Sum(u => u.Count)),
                repairs.ToLookup(r => r.Model)
            ),
            Dearest(
                units.GroupBy(u => u.Site).ToDictionary(g => g.Key, g => (double)g.Sum(u => u.Count)),
                repairs.ToLookup(r => r.Site)
            ),
            [
                .. ages
                    .Keys.Union(repairs.Select(r => r.Age))
                    .Order()
                    .Select(age =>
                        Sum(
                            age == 0 ? "in the first year" : $"in year {age + 1}",
                            ages.GetValueOrDefault(age),
                            repairs.Where(r => r.Age == age)
                        )
                    ),
            ],
            [
                .. repairs
                    .GroupBy(r => r.Cause)
                    .Select(g => Sum(g.Key.Name(), all, g))
                    .OrderByDescending(c => c.Between.Sum),
            ]
        );

        IReadOnlyList<PastCost> Dearest(Dictionary<string, double> units, ILookup<string, Worked> done) =>
            [
                .. units
                    .Keys.Union(done.Select(g => g.Key))
                    .Select(name => Sum(name, units.GetValueOrDefault(name), done[name]))
                    .OrderByDescending(c => c.UnitMonth?.Sum ?? 0)
                    .ThenBy(c => c.Name, StringComparer.Ordinal),
            ];

        PastCost Sum(string name, double unitYears, IEnumerable<Worked> worked)
        {
            var those = worked.Select(w => (w.Parts, Labour: (decimal)w.Minutes / 60 * labourPerHour)).ToList();
            return new PastCost(
                name,
                unitYears,
                those.Count,
                those.Sum(s => s.Parts),
                those.Sum(s => s.Labour),
                SpentBetween.Of(those.Select(s => s.Parts + s.Labour))
            );
        }
    }

    /// <summary>Units in service that are alike.</summary>
    private sealed record Alike(string Model, string Site, DateOnly BoughtOn, int Count);

    /// <summary>One repair: what it cost in parts and minutes.</summary>
    private sealed record Worked(string Model, string Site, int Age, CostCause Cause, decimal Parts, double Minutes);

    private sealed record PastYear(DateOnly Until, IReadOnlyList<Alike> Units, IReadOnlyList<Worked> Repairs)
    {
        private PastCosts? last;

        /// <summary>What it came to; kept as long as the rate stays.</summary>
        public PastCosts At(decimal labourPerHour)
        {
            var kept = last;
            return kept?.LabourPerHour == labourPerHour ? kept : last = Past(this, labourPerHour);
        }
    }
}
