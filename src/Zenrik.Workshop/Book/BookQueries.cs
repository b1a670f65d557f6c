using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Batteries;
using Zenrik.Core.Fleet;
using Zenrik.Core.Repairs;
using Zenrik.Core.Stock;

namespace Zenrik.Workshop.Book;

/// <summary>What several capabilities ask of the book.</summary>
internal static class BookQueries
{
    /// <summary>The house's figures, to be read; as shipped where nobody has set them.</summary>
    public static async Task<HouseFigures> Figures(this WorkshopDb db, CancellationToken stop) =>
        (await db.Standing(stop)).Figures;

    /// <summary>What new tags must look like; null: anything goes.</summary>
    public static async Task<TagPattern?> TagPattern(this WorkshopDb db, CancellationToken stop) =>
        (await db.Figures(stop)).TagPattern is { } text ? Core.Fleet.TagPattern.Read(text).Value : null;

    /// <summary>What was tried in the triage of some repairs and not taken back, in its order.</summary>
    public static IQueryable<TriageStepRecord> StepsOf(this WorkshopDb db, IReadOnlyCollection<RepairId> repairs) =>
        db.TriageSteps.Where(s => repairs.Contains(s.RepairId) && s.TakenBackAt == null).OrderBy(s => s.Id);

    /// <summary>
    /// Repairs whose units are away with a specialist: the last of its unit, and it ended so. What is away for longer than a
    /// year is not waited for.
    /// </summary>
    public static IQueryable<Repair> SentAway(this WorkshopDb db, DateTimeOffset now)
    {
        var since = now.AddDays(-366);
        return db
            .Repairs.Where(r => r.State == RepairState.Closed && r.End == RepairEnd.SentAway && r.ClosedAt > since)
            .Where(r => !db.Repairs.Any(later => later.UnitId == r.UnitId && later.Number > r.Number))
            .Where(r => db.Units.Where(Unit.Serving).Any(u => u.Id == r.UnitId));
    }

    /// <summary>A repair's photographs without what they show, which is sent when it is asked for.</summary>
    public static IQueryable<RepairPhoto> PhotosOf(this WorkshopDb db, RepairId repair) =>
        db
            .RepairPhotos.Where(p => p.RepairId == repair)
            .Select(p => new RepairPhoto
            {
                Id = p.Id,
                RepairId = p.RepairId,
                Jpeg = Array.Empty<byte>(),
                Act = p.Act,
                At = p.At,
                ById = p.ById,
            });

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
