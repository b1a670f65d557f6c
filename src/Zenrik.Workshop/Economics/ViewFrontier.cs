using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Economics;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Sourcing;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.ServiceMaps;
using Zenrik.Workshop.Teardown;
using Model = Zenrik.Workshop.Book.Model;

namespace Zenrik.Workshop.Economics;

/// <summary>A part of a model and for how long a unit must still serve for its exchange to pay.</summary>
/// <param name="Number">The cheapest that is known to fit the slot.</param>
/// <param name="Cost">Part, work and a loan unit.</param>
/// <param name="WorthFrom">Months of use left from which on exchanging costs less a month than another unit.</param>
/// <param name="Low">The same when the work goes as quickly as in one case of ten.</param>
/// <param name="High">When it takes as long as in one of ten.</param>
/// <param name="Below">Units that have fewer months left.</param>
/// <param name="BelowInAYear">Those that will have in a year, with what there is.</param>
public sealed record FrontierPart(
    Assembly Assembly,
    string Number,
    decimal Price,
    Minutes Minutes,
    decimal Cost,
    double WorthFrom,
    double Low,
    double High,
    int Below,
    int BelowInAYear
);

/// <summary>What of a model is still worth exchanging, and in how many units.</summary>
/// <param name="Left">Of each unit in use the months it has left, fewest first.</param>
/// <param name="Parts">What must serve longest first.</param>
/// <param name="Unpriced">Parts of which nobody knows a price.</param>
/// <param name="Retiring">What another unit costs, with setting it up and a loan unit until it is there.</param>
public sealed record FrontierView(
    Model Model,
    IReadOnlyList<double> Left,
    IReadOnlyList<FrontierPart> Parts,
    IReadOnlyList<string> Unpriced,
    decimal Retiring,
    HouseFigures Figures
);

/// <summary>Repair or replace, by model: the months of use left from which on each part is worth its exchange.</summary>
public sealed class ViewFrontier(WorkshopDb db, ServiceMapShelf maps, PlanFor plans, TimeProvider clock)
{
    /// <summary>Models with units in use, those with most first.</summary>
    public async Task<IReadOnlyList<(string Code, string Name, int Units)>> Models(CancellationToken stop = default) =>
        [
            .. (
                await db
                    .Units.Where(Unit.Serving)
                    .GroupBy(u => new { u.ModelCode, u.Model.Name })
                    .Select(g => new
                    {
                        g.Key.ModelCode,
                        g.Key.Name,
                        Count = g.Count(),
                    })
                    .OrderByDescending(g => g.Count)
                    .ThenBy(g => g.Name)
                    .ToListAsync(stop)
            ).Select(g => (g.ModelCode, g.Name, g.Count)),
        ];

    /// <returns>Null where there is no such model.</returns>
    public async Task<FrontierView?> Run(string code, CancellationToken stop = default)
    {
        if (await db.Models.AsNoTracking().SingleOrDefaultAsync(m => m.Code == code, stop) is not { } model)
        {
            return null;
        }

        var today = clock.Today();
        var left = (
            await db
                .Units.Where(Unit.Serving)
                .Where(u => u.ModelCode == code)
                .GroupBy(u => u.BoughtOn)
                .Select(g => new { g.Key, Count = g.Count() })
                .ToListAsync(stop)
        )
            .SelectMany(g =>
                Enumerable.Repeat(
                    MonthsLeft.Of(g.Key, today, model.LifeMonths, model.SupportEnds, null).Months,
                    g.Count
                )
            )
            .Order()
            .ToList();
        var figures = await db.Figures(stop);
        var rates = new Rates(figures.LabourPerHour, figures.LoanPerDay);
        var retire = DecideFor.Retiring(model);
        var view = new FrontierView(model, left, [], [], rates.Spent(retire), figures);
        if (model.NewPrice <= 0 || await maps.Newest(code, stop) is not { } map)
        {
            return view;
        }

        var fits = await db.NumbersBySlot([code], stop);
        var prices = await db.PricesOf([.. fits.SelectMany(f => f).Distinct()], figures, stop);
        var (parts, unpriced) = (new List<FrontierPart>(), new List<string>());
        foreach (var assembly in map.Assemblies)
        {
            if (
                fits[(code, map.Part(assembly.Part).Slot ?? "")].Where(prices.ContainsKey).MinBy(n => prices[n])
                is not { } number
            )
            {
                unpriced.Add(assembly.Name);
                continue;
            }

            // A unit that is without it has another plan; what is soldered has none.
            if (!(await plans.Of(map, [new Goal.Replace(assembly.Id)], stop)).Try(out var plan, out _))
            {
                continue;
            }

            WayOut Exchange(double minutes) =>
                new(
                    Way.Part,
                    assembly.Name,
                    prices[number],
                    minutes,
                    WhileOpen.DaysAway,
                    WorkingChance.Before(PartGrade.Compatible).Mean,
                    1
                );
            double From(double minutes) => Deciding.WorthFrom(Exchange(minutes), retire, rates);
            var from = From(plan.Minutes.Expected);
            parts.Add(
                new FrontierPart(
                    assembly,
                    number,
                    prices[number],
                    plan.Minutes,
                    rates.Spent(Exchange(plan.Minutes.Expected)),
                    from,
                    From(plan.Minutes.Low),
                    From(plan.Minutes.High),
                    left.Count(m => m < from),
                    left.Count(m => m - 12 < from)
                )
            );
        }

        return view with
        {
            Parts = [.. parts.OrderByDescending(p => p.WorthFrom)],
            Unpriced = unpriced,
        };
    }
}
