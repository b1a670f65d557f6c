using Zenrik.Core.Reliability;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Reliability;

/// <summary>How many of a slot's parts will be wanted within a time, and what of them is there.</summary>
/// <param name="Numbers">The part numbers in service in it, the most used first.</param>
/// <param name="Law">How many there will be.</param>
/// <param name="Low">In one case of ten fewer.</param>
/// <param name="High">In one case of ten more.</param>
/// <param name="Enough">How many on the shelf are enough with the wanted chance.</param>
/// <param name="Exact">True where the law is reckoned exactly, false where approximated.</param>
/// <param name="Free">Of these numbers on a shelf and promised to nobody.</param>
/// <param name="Coming">Of these numbers ordered for the shelf.</param>
public sealed record SlotDemand(
    SlotLife Slot,
    IReadOnlyList<string> Numbers,
    Cumulants Law,
    int Low,
    int High,
    int Enough,
    bool Exact,
    int Free,
    int Coming
)
{
    /// <summary>On the average.</summary>
    public double Expected => Law.Mean;

    public int ToOrder => Math.Max(0, Enough - Free - Coming);
}

/// <summary>What the ageing fleet, as it stands, will want of the shelf.</summary>
public sealed class ExpectedDemand(WorkshopDb db, FleetLives lives)
{
    /// <summary>For every slot of which something has failed, the most expected first.</summary>
    /// <param name="days">How far ahead: until what is ordered now is here; 1 to 730.</param>
    /// <param name="level">With which chance the shelf should be enough, above 0 and below 1.</param>
    public async Task<IReadOnlyList<SlotDemand>> Run(int days, double level, CancellationToken stop = default)
    {
        var fleet = await lives.Run(stop);
        var of = fleet.Parts.ToLookup(p => (p.Life.Model, p.Life.Slot));
        var rows = new List<SlotDemand>();
        foreach (var slot in fleet.Slots.Where(s => s is { Failed: > 0, InService: > 0 }))
        {
            var parts = of[(slot.ModelCode, slot.Slot)].ToList();
            var serving = parts.FindAll(p => p.Serves);
            var demand = Demand.Of(parts.ConvertAll(p => p.Life.Life), serving.ConvertAll(p => p.Life.Life.Days), days);
            rows.Add(
                new SlotDemand(
                    slot,
                    FleetLife.NumbersOf(serving),
                    demand.Number,
                    demand.Quantile(0.1),
                    demand.Quantile(0.9),
                    demand.Quantile(level),
                    demand.IsExact,
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
