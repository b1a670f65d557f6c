using Microsoft.EntityFrameworkCore;

namespace Zenrik.Workshop.Book;

/// <summary>What several capabilities ask of the book.</summary>
internal static class BookQueries
{
    /// <summary>When a repair was last closed; null when none was. What is learned from closed repairs is kept under it.</summary>
    public static Task<DateTimeOffset?> LastClosed(this WorkshopDb db, CancellationToken stop) =>
        db.Repairs.MaxAsync(r => r.ClosedAt, stop);

    /// <summary>The house's figures; as shipped where nobody has set them.</summary>
    public static async Task<HouseFigures> Figures(this WorkshopDb db, CancellationToken stop) =>
        await db.HouseFigures.AsNoTracking().SingleOrDefaultAsync(stop) ?? new HouseFigures();
}
