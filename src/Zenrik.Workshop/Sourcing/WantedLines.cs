using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Parts;
using Zenrik.Core.Repairs;
using Zenrik.Core.Sourcing;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Fit;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Sourcing;

/// <summary>Something to order: a number for the shelf, or for a line of a repair any of the numbers listed to fit.</summary>
/// <param name="Line">Null: for the shelf.</param>
/// <param name="Without">Why no number can be ordered; null where one can.</param>
/// <param name="Refitting">What fitting once more would cost where it does not work, in the workshop's currency.</param>
public sealed record Wanted(
    IReadOnlyList<CatalogueNumber> Numbers,
    int Quantity,
    Guid? Line = null,
    long? Repair = null,
    RepairId? RepairId = null,
    string What = "",
    decimal Refitting = 0,
    string? Without = null
)
{
    public const string Shelf = "the shelf";

    public Wanted(CatalogueNumber number, int quantity)
        : this([number], quantity, What: number.Name) { }

    /// <summary>The same as long as the same is wanted.</summary>
    public string Key =>
        Line is { } line
            ? line.ToString("N")
            : $"{Numbers[0].Canonical}×{Quantity.ToString(CultureInfo.InvariantCulture)}";

    public string For => Repair is { } number ? Book.Repair.CodeOf(number) : Shelf;
}

/// <summary>What is to be ordered, with all the ways it could be had.</summary>
public sealed class WantedLines(WorkshopDb db, OffersFor offers, FitOf fits, TimeProvider clock)
{
    /// <summary>Lines looked at; the oldest repairs come first.</summary>
    private const int Most = 200;

    /// <summary>Lines for which a part may be ordered (<see cref="Book.Repair.TakesOrderFor"/>) and none is promised.</summary>
    internal static IQueryable<RepairLine> WithoutPart(WorkshopDb db) =>
        db.RepairLines.Where(l =>
            db.Repairs.Any(r =>
                r.Id == l.RepairId
                && (r.State == RepairState.Open || (r.State == RepairState.OnBench && l.FaultyItemId != null))
            ) && !db.Reservations.Any(r => r.LineId == l.Id)
        );

    /// <summary>Those for which nothing is ordered either.</summary>
    internal static IQueryable<RepairLine> Waiting(WorkshopDb db) =>
        WithoutPart(db).Where(l => !db.PartOrders.Any(o => o.LineId == l.Id && o.State == OrderState.Ordered));

    /// <summary>What waiting repairs need, the oldest first; what of it lies free on a shelf is only counted.</summary>
    public async Task<(IReadOnlyList<Wanted> Lines, int AtHand)> OfRepairs(CancellationToken stop = default)
    {
        var lines = await Waiting(db)
            .Join(db.Repairs, l => l.RepairId, r => r.Id, (l, r) => new { Line = l, Repair = r })
            .OrderBy(w => w.Repair.Number)
            .ThenBy(w => w.Line.Position)
            .Take(Most)
            .Select(w => new
            {
                w.Line,
                w.Repair.Number,
                w.Repair.MinutesPlanned,
                w.Repair.UnitId,
                w.Repair.Unit.ModelCode,
            })
            .ToListAsync(stop);
        var (models, slots) = (
            lines.Select(l => l.ModelCode).Distinct().ToList(),
            lines.Select(l => l.Line.Slot).Distinct().ToList()
        );
        var fitting = await db
            .CatalogueNumbers.AsNoTracking()
            .Include(n => n.Fits)
            .Where(n =>
                n.SupersededById == null && n.Fits.Any(f => models.Contains(f.ModelCode) && slots.Contains(f.Slot))
            )
            .OrderBy(n => n.Number)
            .ToListAsync(stop);
        var shelf = await db.FreeAndComing([.. fitting.Select(n => n.Number)], stop);
        var free = fitting.ToDictionary(n => n.Number, n => shelf(n.Number).Free);
        var labour = (await db.Figures(stop)).LabourPerHour;
        var (wanted, atHand) = (new List<Wanted>(), 0);
        var listed = lines
            .SelectMany(l =>
                fitting
                    .Where(n => n.Fits.Exists(f => f.ModelCode == l.ModelCode && f.Slot == l.Line.Slot))
                    .Where(n => l.Line.MayBe(n.Number))
                    .Select(n => (Line: l, Number: n))
            )
            .ToList();
        var go = await fits.Go(
            listed.ConvertAll(l => (l.Line.UnitId, l.Line.Line.Slot, l.Line.Line.IsTooSmall, l.Number)),
            stop
        );
        var known = listed.Zip(go).Where(l => l.Second).ToLookup(l => l.First.Line.Line.Id, l => l.First.Number);
        foreach (var line in lines)
        {
            var numbers = known[line.Line.Id].ToList();
            if (numbers.Find(n => free[n.Number] > 0) is { } there)
            {
                free[there.Number]--;
                atHand++;
            }
            else
            {
                wanted.Add(
                    new Wanted(
                        numbers,
                        1,
                        line.Line.Id,
                        line.Number,
                        line.Line.RepairId,
                        line.Line.AssemblyName,
                        labour * (decimal)(line.MinutesPlanned ?? 0) / 60,
                        numbers.Count > 0 ? null
                            : listed.Exists(l => l.Line.Line.Id == line.Line.Id)
                                ? "No number is known to fit: its repair's page says what to look at."
                            : "No number is listed for it yet."
                    )
                );
            }
        }

        return (wanted, atHand);
    }

    /// <summary>The offers and ways of sending for each, side by side, the cheapest until one works first.</summary>
    /// <returns>In the same order.</returns>
    internal async Task<IReadOnlyList<(Wanted Wanted, Outcome<Comparison> Offers)>> Compared(
        IReadOnlyList<Wanted> wanted,
        IReadOnlyList<StoredOffer> stored,
        HouseFigures figures,
        CancellationToken stop
    )
    {
        var bids = (
            await offers.Bids(stored, [.. wanted.SelectMany(w => w.Numbers).DistinctBy(n => n.Id)], stop)
        ).ToLookup(b => PartNumber.Canonicalise(b.Offer.Number));
        return
        [
            .. wanted.Select(w =>
            {
                var mine = w.Numbers.SelectMany(n => bids[n.Canonical]).Where(b => b.Offer.InStock is not 0).ToList();
                var enough = mine.FindAll(b => b.Offer.TooFew(w.Quantity) is null);
                return (
                    w,
                    w.Without is { } why ? new Refusal(RefusalReason.NotFound, why)
                    : mine.Count == 0 ? new Refusal(RefusalReason.NotFound, "No supplier has it now.")
                    : enough.Count == 0 ? mine[0].Offer.TooFew(w.Quantity)!
                    : Offers.Compare(
                        enough,
                        w.Quantity,
                        Today,
                        figures.Exchange,
                        new Money(w.Refitting, figures.Currency).Rounded(),
                        Hour
                    )
                );
            }),
        ];
    }

    /// <summary>All of it in shipments.</summary>
    /// <param name="lately">As <see cref="HowOften"/> gives it; null where it does not matter.</param>
    internal ShipmentPlan InShipments(
        IEnumerable<(Wanted Wanted, Outcome<Comparison> Offers)> compared,
        HouseFigures figures,
        IReadOnlyDictionary<string, OrderedLately>? lately = null
    ) =>
        Shipments.Best(
            [
                .. compared.Select(c => new WantedLine(
                    c.Wanted.For,
                    c.Wanted.What,
                    c.Wanted.Quantity,
                    c.Offers.Try(out var offered, out var none)
                        ? [.. offered.Bids.Select(b => (b.Bid, b.Expected.Amount - b.Landed.Total.Amount))]
                        : [],
                    c.Wanted.Repair is null ? null : c.Wanted.For,
                    c.Wanted.Key,
                    none?.Message
                )),
            ],
            Today,
            Hour,
            figures.Exchange,
            figures.LoanPerDay,
            lately
        );

    /// <summary>By supplier, on how many days of the last year something was ordered of it, today left out.</summary>
    /// <returns>Null while the house has ordered for fewer than <see cref="OrderedLately.FewestDays"/>.</returns>
    internal async Task<IReadOnlyDictionary<string, OrderedLately>?> HowOften(CancellationToken stop)
    {
        var (from, today) = (clock.MomentOf(Today.AddYears(-1)), clock.MomentOf(Today));
        var suppliers = await db
            .Suppliers.Select(s => new
            {
                s.Name,
                Days = db
                    .PartOrders.Where(o => o.SupplierId == s.Id && o.State != OrderState.Cancelled)
                    .Where(o => o.At >= from && o.At < today)
                    .Select(o => o.At.Date)
                    .Distinct()
                    .Count(),
                First = db.PartOrders.Where(o => o.SupplierId == s.Id && o.At >= from).Min(o => (DateTimeOffset?)o.At),
            })
            .ToListAsync(stop);
        var days = Today.DayNumber - clock.DayOf(suppliers.Min(s => s.First) ?? today).DayNumber;
        return days < OrderedLately.FewestDays
            ? null
            : suppliers.ToDictionary(s => s.Name, s => new OrderedLately(s.Days, days));
    }

    private DateOnly Today => clock.Today();

    private TimeOnly Hour => TimeOnly.FromDateTime(clock.GetLocalNow().DateTime);
}
