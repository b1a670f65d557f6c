using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Batteries;
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

    /// <summary>
    /// Readings of batteries that are still in the unit they spoke for. One of which no item was recorded counts until a
    /// battery is recorded to have gone in after it.
    /// </summary>
    public static IQueryable<BatteryRecord> ReadingsOfPresentBatteries(this WorkshopDb db) =>
        db.BatteryReadings.Where(r =>
            r.ItemId != null
                ? db.Items.Any(i => i.Id == r.ItemId && i.UnitId == r.UnitId)
                : !db.Movements.Any(m =>
                    m.ToUnitId == r.UnitId && m.At > r.At && m.ToSlot!.StartsWith(BatterySlot.Prefix)
                )
        );
}
