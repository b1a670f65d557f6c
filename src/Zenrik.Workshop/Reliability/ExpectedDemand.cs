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
        var wanted = (await lives.Run(stop)).DemandWithin(days);
        var stock = await db.FreeAndComing([.. wanted.SelectMany(w => w.Shelf.Numbers).Distinct()], stop);
        return
        [
            .. wanted
                .Select(w => new ShelfDemand(
                    [.. w.Shelf.Slots.Select(s => s.Slot).Where(s => s.InService > 0)],
                    w.Shelf.Numbers,
                    w.Demand.Law,
                    w.Demand.Quantile(0.1),
                    w.Demand.Quantile(0.9),
                    w.Demand.Quantile(level),
                    w.Demand.IsExact,
                    w.Shelf.InPairs,
                    w.Shelf.Numbers.Sum(n => stock(n).Free),
                    w.Shelf.Numbers.Sum(n => stock(n).Coming)
                ))
                .OrderByDescending(r => r.Expected),
        ];
    }
}
