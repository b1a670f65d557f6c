using Microsoft.EntityFrameworkCore;

namespace Zenrik.Workshop.Parts;

internal static class NumbersBySlotQuery
{
    /// <summary>The numbers that are known to fit, by model and slot.</summary>
    /// <param name="models">Codes of the models asked about; null: all.</param>
    public static async Task<ILookup<(string ModelCode, string Slot), string>> NumbersBySlot(
        this WorkshopDb db,
        IReadOnlyCollection<string>? models,
        CancellationToken stop
    ) =>
        (
            await db
                .CatalogueFits.Where(f => models == null || models.Contains(f.ModelCode))
                .Join(
                    db.CatalogueNumbers,
                    f => f.NumberId,
                    n => n.Id,
                    (f, n) =>
                        new
                        {
                            f.ModelCode,
                            f.Slot,
                            n.Number,
                        }
                )
                .ToListAsync(stop)
        ).ToLookup(f => (f.ModelCode, f.Slot), f => f.Number);
}
