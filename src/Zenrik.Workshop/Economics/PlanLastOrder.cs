using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Economics;
using Zenrik.Core.Reliability;
using Zenrik.Core.Sourcing;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.Reliability;
using Zenrik.Workshop.Stock;
using Model = Zenrik.Workshop.Book.Model;

namespace Zenrik.Workshop.Economics;

/// <summary>How many of a part to buy when it can be bought for the last time.</summary>
/// <param name="Numbers">The part numbers in service in the slot, the most used first.</param>
/// <param name="InService">Parts that serve now.</param>
/// <param name="Overdue">Of their units, how many should be out of use by now; <see cref="LastBuy.OverdueMonths"/> more are counted for each.</param>
/// <param name="LastLeaves">The last unit's end of use, as planned.</param>
/// <param name="Failed">How many of its kind failed by themselves; 0: nothing can be said.</param>
/// <param name="Expected">Failures until every unit is out of use.</param>
/// <param name="Enough">How many parts are enough with the chance of <paramref name="Level"/>.</param>
/// <param name="Price">Of the cheapest number, with its freight; null: nobody knows one.</param>
/// <param name="Missing">What a missing part costs: another unit sooner, for the months this one would have served. In the workshop's currency.</param>
/// <param name="Pays">Up to which chance another part pays: missing ÷ (missing + price), 0 to 1; null without a price.</param>
/// <param name="PaysFor">How many parts that is; null without a price.</param>
public sealed record LastOrder(
    Model Model,
    string Slot,
    IReadOnlyList<string> Numbers,
    int InService,
    int Overdue,
    DateOnly LastLeaves,
    int Failed,
    double Expected,
    int Low,
    int High,
    int Enough,
    double Level,
    decimal? Price,
    decimal Missing,
    double? Pays,
    int? PaysFor,
    int Free,
    int Coming,
    string Currency
)
{
    /// <summary>What there is will do for so many.</summary>
    public int Held => Free + Coming;

    public int ToOrder => Math.Max(0, Enough - Held);
}

/// <summary>The last order of a part: its fleet grows older and goes, and what is left over then is worth nothing.</summary>
public sealed class PlanLastOrder(WorkshopDb db, FleetLives lives, TimeProvider clock)
{
    private const double DaysAMonth = 365.25 / 12;

    /// <param name="level">
    /// With which chance there should be enough, above 0 and below 1; null: as far as a part pays, or
    /// <see cref="LastBuy.UsualLevel"/> where nobody knows a price.
    /// </param>
    /// <returns>Null where no such model has a part in such a slot.</returns>
    public async Task<LastOrder?> Run(string code, string slot, double? level, CancellationToken stop = default)
    {
        var fleet = await lives.Run(stop);
        var kind = fleet.Parts.Where(p => (p.Life.Model, p.Life.Slot) == (code, slot)).ToList();
        if (
            kind.Count == 0
            || await db.Models.AsNoTracking().SingleOrDefaultAsync(m => m.Code == code, stop) is not { } model
        )
        {
            return null;
        }

        var today = clock.Today();
        var bought = await db
            .Units.Where(Unit.Serving)
            .Where(u => u.ModelCode == code)
            .Select(u => new { u.Tag, u.BoughtOn })
            .ToDictionaryAsync(u => u.Tag, u => u.BoughtOn, stop);
        var serving = kind.FindAll(p => p.Serves && bought.ContainsKey(p.Tag));
        var months = serving.ConvertAll(p =>
            MonthsLeft.Of(bought[p.Tag], today, model.LifeMonths, model.SupportEnds, null).Months
        );
        var used = months.ConvertAll(LastBuy.Used);
        var demand = Demand.Until(
            kind.ConvertAll(p => p.Life.Life),
            [.. serving.Zip(used).Select(p => ((double)p.First.Life.Life.Days, p.Second * DaysAMonth))]
        );
        var figures = await db.Figures(stop);
        var numbers = FleetLife.NumbersOf(serving);
        var prices = await db.PricesOf(numbers, figures, stop);
        decimal? price = numbers.Where(prices.ContainsKey).Select(n => (decimal?)prices[n]).Min();
        var missing = LastBuy.Missing(
            new Rates(figures.LabourPerHour, figures.LoanPerDay).Spent(DecideFor.Retiring(model)),
            used,
            Math.Max(1, model.LifeMonths)
        );
        var pays = LastBuy.Pays(missing, price);
        var wanted = level ?? pays ?? LastBuy.UsualLevel;
        var stock = await db.FreeAndComing(numbers, stop);
        return new LastOrder(
            model,
            slot,
            numbers,
            serving.Count,
            months.Count(m => m <= 0),
            today.AddDays((int)(used.DefaultIfEmpty(0).Max() * DaysAMonth)),
            kind.Count(p => p.Life.Life.Failed),
            demand.Mean,
            demand.Quantile(0.1),
            demand.Quantile(0.9),
            demand.Quantile(wanted),
            wanted,
            price,
            missing,
            pays,
            pays is { } p ? demand.Quantile(p) : null,
            numbers.Sum(n => stock(n).Free),
            numbers.Sum(n => stock(n).Coming),
            figures.Currency
        );
    }
}
