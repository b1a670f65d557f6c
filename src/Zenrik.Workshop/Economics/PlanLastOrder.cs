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
/// <param name="Also">Other slots that take the same numbers, in words; what they will want is in all figures.</param>
/// <param name="Numbers">The part numbers in service, the most used first.</param>
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
    IReadOnlyList<string> Also,
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
        // The last order is of a number: whatever else takes it lives of it too.
        var fleet = await lives.Run(stop);
        var shelf = fleet.Shelves.FirstOrDefault(s =>
            s.Slots.Any(p => (p.Slot.ModelCode, p.Slot.Slot) == (code, slot))
        );
        if (shelf is null)
        {
            return null;
        }

        var codes = shelf.Slots.Select(s => s.Slot.ModelCode).Distinct().ToList();
        var models = await db
            .Models.AsNoTracking()
            .Where(m => codes.Contains(m.Code))
            .ToDictionaryAsync(m => m.Code, stop);
        if (!models.TryGetValue(code, out var model))
        {
            return null;
        }

        var today = clock.Today();
        var bought = await db
            .Units.Where(Unit.Serving)
            .Where(u => codes.Contains(u.ModelCode))
            .Select(u => new { u.Tag, u.BoughtOn })
            .ToDictionaryAsync(u => u.Tag, u => u.BoughtOn, stop);
        var kinds = shelf
            .Slots.Select(s =>
            {
                var serving = s.Parts.Where(p => p.Serves && bought.ContainsKey(p.Tag)).ToList();
                var (life, ends) = (models[s.Slot.ModelCode].LifeMonths, models[s.Slot.ModelCode].SupportEnds);
                var months = serving.ConvertAll(p => MonthsLeft.Of(bought[p.Tag], today, life, ends, null).Months);
                return (Slot: (Model: s.Slot.ModelCode, s.Slot.Slot), s.Slot.Failed, Serving: serving, Months: months);
            })
            .ToList();
        var (parts, leaves) = (kinds.SelectMany(k => k.Serving).ToList(), kinds.SelectMany(k => k.Months).ToList());
        var used = kinds.SelectMany(k => k.Months).Select(LastBuy.Used).ToList();
        var demand = fleet.DemandUntil(
            shelf,
            kinds.ConvertAll(k => new SlotUse([
                .. k
                    .Serving.Zip(k.Months)
                    .Select(p => ((double)p.First.Life.Life.Days, LastBuy.Used(p.Second) * DaysAMonth)),
            ]))
        );
        var figures = await db.Figures(stop);
        var numbers = FleetLife.NumbersOf(parts);
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
            [
                .. kinds
                    .Where(k => k.Slot != (code, slot))
                    .Select(k => $"{k.Slot.Slot.Replace('-', ' ')} of the {models[k.Slot.Model].Name}"),
            ],
            numbers,
            parts.Count,
            leaves.Count(m => m <= 0),
            today.AddDays((int)(used.DefaultIfEmpty(0).Max() * DaysAMonth)),
            kinds.Sum(k => k.Failed),
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
