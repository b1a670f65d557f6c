using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Fleet;

namespace Zenrik.Workshop.Book;

/// <summary>What several capabilities ask of the book.</summary>
internal static class BookQueries
{
    /// <summary>The house's figures; as shipped where nobody has set them.</summary>
    public static async Task<HouseFigures> Figures(this WorkshopDb db, CancellationToken stop) =>
        await db.HouseFigures.AsNoTracking().SingleOrDefaultAsync(stop) ?? new HouseFigures();

    /// <summary>What new tags must look like; null: anything goes.</summary>
    public static async Task<TagPattern?> TagPattern(this WorkshopDb db, CancellationToken stop) =>
        (await db.Figures(stop)).TagPattern is { } text ? Core.Fleet.TagPattern.Read(text).Value : null;
}
