using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Fleet;
using Zenrik.Core.Reliability;
using Zenrik.Core.Repairs;
using Zenrik.Core.Stock;

namespace Zenrik.Workshop.Reliability;

/// <summary>
/// Reads how long parts served, from movements and closed repairs. What follows from the book alone is kept
/// (<see cref="KeptFigures"/>), and during a day only what has changed is read again.
/// </summary>
public sealed class FleetLives(WorkshopDb db, Figures figures, TimeProvider clock)
{
    /// <summary>
    /// What was written so long before the last reading is in it: no transaction takes longer, and no two clocks are
    /// farther apart.
    /// </summary>
    private static readonly TimeSpan Overlap = TimeSpan.FromHours(1);

    /// <summary>Where more items than this have changed, everything anew is as quick.</summary>
    private const int MostRenewed = 20_000;

    public DateOnly Today => clock.Today();

    public Task<FleetLife> Run(CancellationToken stop = default) =>
        figures.Of<FleetLives, FleetLife>(
            this,
            (f, before, at, s) => before is null ? f.Reckon(s) : f.Renew(before, at, s),
            stop
        );

    /// <summary>Everything anew, whatever is kept.</summary>
    internal async Task<FleetLife> Reckon(CancellationToken stop) =>
        FleetLife.Of(await Parts(null, stop), await Models(stop));

    /// <summary>
    /// What was reckoned today, with what has been written since: items that moved, changed, or were in a unit or a repair
    /// that changed. What models and suppliers are called is read anew every day.
    /// </summary>
    /// <param name="at">When the reading of <paramref name="before"/> began.</param>
    internal async Task<FleetLife> Renew(FleetLife before, DateTimeOffset at, CancellationToken stop)
    {
        var from = at - Overlap;
        var written = (
            await db
                .Database.SqlQuery<Guid>(
                    $"""
                    WITH named AS (
                        SELECT DISTINCT unnest(words) AS word FROM audit_lines
                        WHERE id > coalesce((SELECT max(id) FROM audit_lines WHERE at < {from}), 0)
                    ),
                    gone_through AS (
                        SELECT u.id AS unit_id, NULL::uuid AS repair_id FROM units u JOIN named ON word = u.tag
                        UNION ALL
                        SELECT NULL, r.id FROM repairs r
                        WHERE r.number IN (SELECT substr(word, 3)::int FROM named WHERE word ~ '^R-[0-9]{1, 9}$')
                    )
                    SELECT i.id AS "Value" FROM items i JOIN named ON word = i.code
                    UNION
                    SELECT m.item_id FROM movements m JOIN gone_through g ON g.unit_id = m.to_unit_id
                    WHERE m.item_id IS NOT NULL
                    UNION
                    SELECT m.item_id FROM movements m JOIN gone_through g ON g.repair_id = m.repair_id
                    WHERE m.item_id IS NOT NULL
                    """
                )
                .ToListAsync(stop)
        );
        return written.Count == 0 ? before
            : written.Count > MostRenewed ? await Reckon(stop)
            : before.With(
                written.Select(i => new ItemId(i)).ToHashSet(),
                await Parts([.. written], stop),
                await Models(stop)
            );
    }

    private Task<Dictionary<string, string>> Models(CancellationToken stop) =>
        db.Models.ToDictionaryAsync(m => m.Code, m => m.Name, stop);

    /// <param name="items">Those whose lives are read; null: all.</param>
    private async Task<List<ServedPart>> Parts(Guid[]? items, CancellationToken stop)
    {
        string[] outOfUse = [.. UnitLife.OutOfUse.Select(s => s.ToString())];
        var today = Today;
        // The same few words stand in a million rows: each is held once, and no row longer than it is read.
        var words = new Dictionary<string, string>(StringComparer.Ordinal);
        var parts = new List<ServedPart>();
        await foreach (
            var stay in db
                .Database.SqlQueryRaw<Stay>(
                    Stays.Replace(
                        "AND OF_THESE",
                        items is null ? "" : "AND item_id = ANY({1})",
                        StringComparison.Ordinal
                    ),
                    items is null ? [outOfUse] : [outOfUse, items]
                )
                .AsAsyncEnumerable()
                .WithCancellation(stop)
        )
        {
            parts.Add(stay.Part(today, Once));
        }

        return parts;

        string Once(string word) => words.TryGetValue(word, out var known) ? known : words[word] = word;
    }

    /// <summary>
    /// An item's next movement ends its stay; what a unit holds that is out of use stopped serving when that began.
    /// </summary>
    private const string Stays = """
        WITH stays AS (
            SELECT item_id, to_unit_id, to_slot, at,
                   lead(at) OVER w AS left_at, lead(repair_id) OVER w AS left_in, lead(from_slot) OVER w AS left_slot
            FROM movements WHERE item_id IS NOT NULL AND OF_THESE
            WINDOW w AS (PARTITION BY item_id ORDER BY id)
        ),
        ended AS (
            SELECT unit_id, max(at) AS at FROM unit_events WHERE kind = 'State' GROUP BY unit_id
        )
        SELECT s.item_id, u.tag, u.site, u.model_code, s.to_slot AS slot, i.batch AS lot, n.number,
               p.name AS supplier, o.grade,
               s.at AS since, coalesce(s.left_at, CASE WHEN u.state = ANY({0}) THEN e.at END) AS until,
               s.left_at IS NOT NULL AS removed, s.left_at IS NULL AND u.state <> ALL({0}) AS serves,
               r.purpose, coalesce(r.circumstances, ARRAY[]::text[]) AS circumstances, l.fault
        FROM stays s
        JOIN units u ON u.id = s.to_unit_id
        JOIN items i ON i.id = s.item_id
        JOIN catalogue_numbers n ON n.id = i.number_id
        LEFT JOIN part_orders o ON o.id = i.order_id
        LEFT JOIN suppliers p ON p.id = o.supplier_id
        LEFT JOIN ended e ON e.unit_id = u.id
        LEFT JOIN repairs r ON r.id = s.left_in
        LEFT JOIN repair_lines l ON l.repair_id = s.left_in AND l.slot = s.left_slot
        WHERE s.to_unit_id IS NOT NULL
        """;

    private sealed record Stay(
        Guid ItemId,
        string Tag,
        string Site,
        string ModelCode,
        string Slot,
        string? Lot,
        string Number,
        string? Supplier,
        string? Grade,
        DateTimeOffset Since,
        DateTimeOffset? Until,
        bool Removed,
        bool Serves,
        string? Purpose,
        string[] Circumstances,
        string? Fault
    )
    {
        public ServedPart Part(DateOnly today, Func<string, string> once)
        {
            RemovalCause? cause = Removed
                ? RemovalCauses.Of(Purpose is null ? null : Enum.Parse<RepairPurpose>(Purpose), Circumstances, Fault)
                : null;
            var from = Day(Since);
            var to = Until is { } until ? Day(until) : today;
            return new ServedPart(
                new ItemId(ItemId),
                new WatchedLife(
                    new Lifetime(from, to < from ? from : to, cause == RemovalCause.Wear),
                    once(ModelCode),
                    once(Slot),
                    Lot is null ? null : once(Lot),
                    once(Number),
                    once(Site),
                    Supplier is null ? null : once($"{Supplier}, {Grade!.ToLowerInvariant()}")
                ),
                once(Tag),
                Serves,
                cause
            );
        }

        private static DateOnly Day(DateTimeOffset at) => DateOnly.FromDateTime(at.LocalDateTime);
    }
}
