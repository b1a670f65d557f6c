using Microsoft.EntityFrameworkCore;

namespace Zenrik.Workshop.Book;

/// <summary>What several capabilities ask of the book.</summary>
internal static class BookQueries
{
    /// <summary>The house's figures; as shipped where nobody has set them.</summary>
    public static async Task<HouseFigures> Figures(this WorkshopDb db, CancellationToken stop) =>
        await db.HouseFigures.AsNoTracking().SingleOrDefaultAsync(stop) ?? new HouseFigures();
}
