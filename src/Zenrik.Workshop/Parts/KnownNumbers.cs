using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Parts;

namespace Zenrik.Workshop.Parts;

/// <summary>Finds part numbers in any spelling.</summary>
public sealed class KnownNumbers(WorkshopDb db)
{
    /// <returns>Null when the number is not known.</returns>
    public async Task<CatalogueNumber?> Find(string number, CancellationToken stop = default)
    {
        var canonical = PartNumber.Canonicalise(number);
        return await db
            .CatalogueNumbers.AsNoTracking()
            .Include(n => n.Fits)
            .SingleOrDefaultAsync(n => n.Canonical == canonical, stop);
    }
}
