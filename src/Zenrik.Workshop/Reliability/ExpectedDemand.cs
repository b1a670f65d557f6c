using Zenrik.Core.Reliability;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Reliability;

/// <summary>How many parts will be wanted of the shelf within a time by slots that take the same numbers, and what of them is there.</summary>
/// <param name="Slots">The slots, the one most of whose parts failed first.</param>
/// <param name="Numbers">The part numbers in service in them, the most used first.</param>
/// <param name="Law">How many there will be.</param>
/// <param name="Low">In one case of ten fewer.</param>
/// <param name="High">In one case of ten more.</param>
/// <param name="Enough">How many on the shelf are enough with the wanted chance.</param>
/// <param name="Exact">True where the law is reckoned exactly, false where approximated.</param>
/// <param name="InPairs">The share of repairs that took two of them, 0 to 1.</param>
/// <param name="Free">Of these numbers on a shelf and promised to nobody.</param>
/// <param name="Coming">Of these numbers ordered for the shelf.</param>
public sealed record ShelfDemand(
    IReadOnlyList<SlotLife> Slots,
    IReadOnlyList<string> Numbers,
    Cumulants Law,
    int Low,
    int High,
    int Enough,
    bool Exact,
    double InPairs,
    int Free,
    int Coming
)
{
    public SlotLife Slot => Slots[0];

    /// <summary>The slots and their models in words.</summary>
    public string Name =>
        $"{string.Join(", ", Slots.Select(s => s.Slot.Replace('-', ' ')).Distinct())}, {string.Join(", ", Slots.Select(s => s.Model).Distinct())}";

    public int InService => Slots.Sum(s => s.InService);

    /// <summary>On the average.</summary>
    public double Expected => Law.Mean;

    public int ToOrder => Math.Max(0, Enough - Free - Coming);
}

/// <summary>What the ageing fleet, as it stands, will want of the shelf.</summary>
public sealed class ExpectedDemand(WorkshopDb db, FleetLives lives)
{
    /// <summary>
    /// For every slot of which something has failed, the most expected first; slots that take the same number together,
    /// or each would count on the same part on the shelf.
    /// </summary>
    /// <param name="days">How far ahead: until what is ordered now is here; 1 to 730.</param>
    /// <param name="level">With which chance the shelf should be enough, above 0 and below 1.</param>
    public async Task<IReadOnlyList<ShelfDemand>> Run(int days, double level, CancellationToken stop = default)
    {
        var fleet = await lives.Run(stop);
        var of = fleet.Parts.ToLookup(p => (p.Life.Model, p.Life.Slot));
        var slots = fleet
            .Slots.Where(s => s is { Failed: > 0, InService: > 0 })
            .Select(s => (Slot: s, Parts: of[(s.ModelCode, s.Slot)].ToList()))
            .Select(s => (s.Slot, s.Parts, Numbers: FleetLife.NumbersOf(s.Parts.Where(p => p.Serves))))
            .ToList();
        var rows = new List<ShelfDemand>();
        foreach (var shelf in SharedShelf.Of(slots, s => s.Numbers))
        {
            var failed = shelf.SelectMany(s => s.Parts).Where(p => p.Cause == RemovalCause.Wear).ToList();
            var two = SharedShelf.InPairs(failed.Select(p => (p.Tag, p.Life.Life.To)));
            var demand = Demand.OfShelf(
                shelf.Select(s =>
                    (
                        (IReadOnlyCollection<Lifetime>)s.Parts.ConvertAll(p => p.Life.Life),
                        (IReadOnlyCollection<double>)
                            s.Parts.FindAll(p => p.Serves).ConvertAll(p => (double)p.Life.Life.Days)
                    )
                ),
                days,
                two
            );
            rows.Add(
                new ShelfDemand(
                    [.. shelf.Select(s => s.Slot)],
                    FleetLife.NumbersOf(shelf.SelectMany(s => s.Parts).Where(p => p.Serves)),
                    demand.Law,
                    demand.Quantile(0.1),
                    demand.Quantile(0.9),
                    demand.Quantile(level),
                    demand.IsExact,
                    two,
                    0,
                    0
                )
            );
        }

        var stock = await db.FreeAndComing([.. rows.SelectMany(r => r.Numbers).Distinct()], stop);
        return
        [
            .. rows.OrderByDescending(r => r.Expected)
                .Select(r =>
                    r with
                    {
                        Free = r.Numbers.Sum(n => stock(n).Free),
                        Coming = r.Numbers.Sum(n => stock(n).Coming),
                    }
                ),
        ];
    }
}
