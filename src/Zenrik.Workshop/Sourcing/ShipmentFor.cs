using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Parts;
using Zenrik.Core.Sourcing;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.Repairs;

namespace Zenrik.Workshop.Sourcing;

/// <summary>What could go into one shipment with the best offer of a line, and who would pay what.</summary>
public sealed record ShipmentView(string Supplier, string Freight, Money Together, IReadOnlyList<FreightShare> Shares);

/// <summary>Looks which other waiting lines the same supplier could send with an order.</summary>
public sealed class ShipmentFor(WorkshopDb db, OffersFor offers)
{
    /// <returns>Null when there is no offer to ship.</returns>
    public async Task<ShipmentView?> Run(OffersView view, CancellationToken stop = default)
    {
        if (view.Comparison?.Bids.FirstOrDefault(b => b.Bid.Offer.InStock is not 0) is not { } best)
        {
            return null;
        }

        var supplier = view.Stored.First(o => o.Offer == best.Bid.Offer).SupplierId;
        var waiting = await WantedLines
            .Waiting(db)
            .Where(l => l.Id != view.Line.Line.Id)
            .Select(l => new
            {
                Repair = db.Repairs.Where(r => r.Id == l.RepairId).Select(r => r.Number).First(),
                l.AssemblyName,
                Numbers = db
                    .CatalogueNumbers.Where(n =>
                        n.Fits.Any(f =>
                            f.Slot == l.Slot
                            && db.Repairs.Any(r => r.Id == l.RepairId && r.Unit.ModelCode == f.ModelCode)
                        )
                    )
                    .Select(n => n.Number)
                    .ToList(),
            })
            .ToListAsync(stop);
        var (sold, _) = await offers.Ask([.. waiting.SelectMany(w => w.Numbers).Distinct()], stop);
        var weights = sold.Where(o => o.SupplierId == supplier && o.Offer.InStock is not 0)
            .ToDictionary(o => o.Canonical, o => o.Offer.WeightKg);
        var lines = waiting
            .Select(w =>
                (
                    w.Repair,
                    w.AssemblyName,
                    Kg: w.Numbers.Select(PartNumber.Canonicalise)
                        .Where(weights.ContainsKey)
                        .Select(n => (decimal?)weights[n])
                        .FirstOrDefault()
                )
            )
            .Where(w => w.Kg is not null)
            .OrderBy(w => w.Repair)
            .Select(w => new ShipmentLine($"{Repair.CodeOf(w.Repair)}, {w.AssemblyName}", w.Kg!.Value))
            .Prepend(
                new ShipmentLine(
                    $"{view.Repair.Repair.Code}, {view.Line.Line.AssemblyName}",
                    best.Bid.Offer.WeightKg * best.Landed.Quantity
                )
            )
            .ToList();
        return SharedFreight.Of(best.Bid.Freight, lines, view.Figures.Exchange).Try(out var shared, out _)
            ? new ShipmentView(best.Bid.Offer.Supplier, best.Bid.Freight.Name, shared.Together, shared.Shares)
            : null;
    }
}
