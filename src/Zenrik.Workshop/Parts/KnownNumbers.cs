using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Parts;

namespace Zenrik.Workshop.Parts;

/// <summary>Which of its readings a scanned number is.</summary>
internal static class MeantNumber
{
    /// <summary>By what the book lists: whatever an item has, is promised or ordered as is listed there.</summary>
    /// <inheritdoc cref="PartNumber.AsKnown"/>
    public static async Task<PartNumber> Meant(this WorkshopDb db, PartNumber read, CancellationToken stop)
    {
        var readings = read.Readings;
        if (readings.Count == 1)
        {
            return read;
        }

        var known = await db
            .CatalogueNumbers.Where(n => readings.Contains(n.Canonical))
            .Select(n => n.Canonical)
            .ToListAsync(stop);
        return read.AsKnown(known.Contains);
    }
}

/// <summary>Finds part numbers in any spelling.</summary>
public sealed class KnownNumbers(WorkshopDb db)
{
    /// <returns>Null when the number is not known.</returns>
    public async Task<CatalogueNumber?> Find(string number, CancellationToken stop = default)
    {
        if (!PartNumber.Read(number).Try(out var read, out _))
        {
            return null;
        }

        var canonical = (await db.Meant(read, stop)).Canonical;
        return await db
            .CatalogueNumbers.AsNoTracking()
            .Include(n => n.Fits)
            .SingleOrDefaultAsync(n => n.Canonical == canonical, stop);
    }
}
