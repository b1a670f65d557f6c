using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Zenrik.Core.Fit;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Fit;

/// <summary>Keeps the tallies in step with the movements.</summary>
internal static class FitCounting
{
    /// <summary>
    /// Fittings, and removals of what had been fitted into that unit shortly before: a part the workshop did not fit says
    /// nothing of how it was fitted. What a repair set apart was fitted and proved faulty before it closed. {0} is
    /// <see cref="FitRecord.Soon"/>.
    /// </summary>
    private const string Counted = """
        SELECT i.number_id, u.model_code,
               count(*) FILTER (WHERE m.reason IN ('Fitted', 'SetApart')),
               count(*) FILTER (WHERE m.reason IN ('Removed', 'SetApart'))
        FROM movements m
        JOIN items i ON i.id = m.item_id
        LEFT JOIN repairs r ON r.id = m.repair_id AND m.reason = 'SetApart'
        JOIN units u ON u.id = coalesce(m.to_unit_id, m.from_unit_id, r.unit_id)
        WHERE (m.reason = 'Fitted' OR r.id IS NOT NULL
               OR (m.reason = 'Removed' AND EXISTS (
                   SELECT FROM movements f
                   WHERE f.item_id = m.item_id AND f.id < m.id AND f.reason = 'Fitted'
                     AND f.to_unit_id = m.from_unit_id AND f.at > m.at - {0})))
        """;

    /// <summary>How numbers did in a model; numbers never fitted are missing.</summary>
    public static Task<Dictionary<Guid, FitRecord>> FitRecords(
        this WorkshopDb db,
        string modelCode,
        IReadOnlyList<Guid> numbers,
        CancellationToken stop
    ) =>
        db
            .FitTallies.AsNoTracking()
            .Where(t => t.ModelCode == modelCode && numbers.Contains(t.NumberId))
            .ToDictionaryAsync(t => t.NumberId, t => new FitRecord(t.Fitted, t.Failed), stop);

    /// <summary>How numbers did in a model, and what of them is on the shelves, by one statement.</summary>
    public static async Task<(Dictionary<Guid, FitRecord> Records, Dictionary<Guid, ShelfCount> Shelf)> RecordsAndShelf(
        this WorkshopDb db,
        string modelCode,
        IReadOnlyList<Guid> numbers,
        CancellationToken stop
    )
    {
        var rows = await db.ShelfRows(numbers)
            .Concat(
                db.FitTallies.Where(t => t.ModelCode == modelCode && numbers.Contains(t.NumberId))
                    .Select(t => new NumberRow
                    {
                        Number = t.NumberId,
                        What = NumberRow.Fitted,
                        Count = t.Fitted,
                        Failed = t.Failed,
                    })
            )
            .ToListAsync(stop);
        return (
            rows.Where(r => r.What == NumberRow.Fitted)
                .ToDictionary(r => r.Number, r => new FitRecord(r.Count, r.Failed)),
            Shelves.OnShelf(rows)
        );
    }

    /// <summary>Counts on by a repair that closes; its movements must be written. Rows come in one order, so two do not block each other.</summary>
    public static Task CountFits(this WorkshopDb db, RepairId repair, CancellationToken stop) =>
        db.Database.ExecuteSqlRawAsync(
            $$"""
            INSERT INTO fit_tallies (number_id, model_code, fitted, failed)
            {{Counted}} AND m.repair_id = {1}
            GROUP BY i.number_id, u.model_code ORDER BY i.number_id
            ON CONFLICT (number_id, model_code)
            DO UPDATE SET fitted = fit_tallies.fitted + EXCLUDED.fitted, failed = fit_tallies.failed + EXCLUDED.failed
            """,
            [FitRecord.Soon, repair.Value],
            stop
        );

    /// <summary>Counts all movements anew.</summary>
    public static async Task RecountFits(this WorkshopDb db, CancellationToken stop)
    {
        await db.FitTallies.ExecuteDeleteAsync(stop);
        await db.Database.ExecuteSqlRawAsync(
            $"""
            INSERT INTO fit_tallies (number_id, model_code, fitted, failed)
            {Counted}
            GROUP BY i.number_id, u.model_code
            """,
            [FitRecord.Soon],
            stop
        );
    }
}
