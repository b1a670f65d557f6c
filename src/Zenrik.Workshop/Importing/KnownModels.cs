using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Importing;

namespace Zenrik.Workshop.Importing;

internal static class KnownModels
{
    /// <summary>Models by what lists call them; those merged into others are not among them.</summary>
    public static async Task<ModelNames> ModelNames(this WorkshopDb db, CancellationToken stop) =>
        new(
            (
                await db
                    .Models.AsNoTracking()
                    .Where(m => m.MergedInto == null)
                    .Select(m => new
                    {
                        m.Code,
                        m.Maker,
                        m.Name,
                    })
                    .ToListAsync(stop)
            ).Select(m => (m.Code, m.Maker, m.Name))
        );
}
