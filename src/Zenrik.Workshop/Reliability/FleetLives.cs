using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Fleet;
using Zenrik.Core.Reliability;
using Zenrik.Core.Repairs;

namespace Zenrik.Workshop.Reliability;

/// <summary>
/// Reads how long parts served, from movements and closed repairs. What follows from the book alone is kept
/// (<see cref="KeptFigures"/>).
/// </summary>
public sealed class FleetLives(WorkshopDb db, Figures figures, TimeProvider clock)
{
    private const double DaysAYear = 365.25;

    public DateOnly Today => clock.Today();

    public Task<FleetLife> Run(CancellationToken stop = default) => figures.Of(this, (f, s) => f.Reckon(s), stop);

    /// <summary>Everything anew, whatever is kept.</summary>
    internal async Task<FleetLife> Reckon(CancellationToken stop)
    {
        string[] outOfUse = [.. UnitLife.OutOfUse.Select(s => s.ToString())];
        // An item's next movement ends its stay; what a unit holds that is out of use stopped serving when that began.
        var stays = await db
            .Database.SqlQuery<Stay>(
                $"""
                WITH stays AS (
                    SELECT item_id, to_unit_id, to_slot, at,
                           lead(at) OVER w AS left_at, lead(repair_id) OVER w AS left_in, lead(from_slot) OVER w AS left_slot
                    FROM movements WHERE item_id IS NOT NULL
                    WINDOW w AS (PARTITION BY item_id ORDER BY id)
                ),
                ended AS (
                    SELECT unit_id, max(at) AS at FROM unit_events WHERE kind = 'State' GROUP BY unit_id
                )
                SELECT u.tag, u.site, u.model_code, m.name AS model, s.to_slot AS slot, i.batch AS lot, n.number,
                       p.name AS supplier, o.grade,
                       s.at AS since, coalesce(s.left_at, CASE WHEN u.state = ANY({outOfUse}) THEN e.at END) AS until,
                       s.left_at IS NOT NULL AS removed, s.left_at IS NULL AND u.state <> ALL({outOfUse}) AS serves,
                       r.purpose, coalesce(r.circumstances, ARRAY[]::text[]) AS circumstances, l.fault
                FROM stays s
                JOIN units u ON u.id = s.to_unit_id
                JOIN models m ON m.code = u.model_code
                JOIN items i ON i.id = s.item_id
                JOIN catalogue_numbers n ON n.id = i.number_id
                LEFT JOIN part_orders o ON o.id = i.order_id
                LEFT JOIN suppliers p ON p.id = o.supplier_id
                LEFT JOIN ended e ON e.unit_id = u.id
                LEFT JOIN repairs r ON r.id = s.left_in
                LEFT JOIN repair_lines l ON l.repair_id = s.left_in AND l.slot = s.left_slot
                WHERE s.to_unit_id IS NOT NULL
                """
            )
            .ToListAsync(stop);
        var today = Today;
        // The same few words stand in a million rows: each is held once.
        var words = new Dictionary<string, string>(StringComparer.Ordinal);
        var parts = stays.ConvertAll(s => s.Part(today, Once));
        var slots = parts
            .Zip(stays)
            .GroupBy(p => (p.First.Life.Model, p.Second.Model, p.First.Life.Slot))
            .Select(g =>
            {
                List<Lifetime> lives = [.. g.Select(p => p.First.Life.Life)];
                return new SlotLife(
                    g.Key.Item1,
                    g.Key.Item2,
                    g.Key.Slot,
                    g.Count(p => p.First.Serves),
                    lives.Count(l => l.Failed),
                    g.Count(p => p.First.Cause == RemovalCause.Accident),
                    lives.Sum(l => l.Days) / DaysAYear,
                    WeibullLife.Of(lives).Try(out var law, out _) ? law : null
                );
            })
            .OrderByDescending(s => s.Failed)
            .ThenByDescending(s => s.InService)
            .ThenBy(s => s.Model, StringComparer.Ordinal)
            .ThenBy(s => s.Slot, StringComparer.Ordinal)
            .ToList();
        return new FleetLife(parts, slots, Watch.Find([.. parts.Select(p => p.Life)]));

        string Once(string word) => words.TryGetValue(word, out var known) ? known : words[word] = word;
    }

    private sealed record Stay(
        string Tag,
        string Site,
        string ModelCode,
        string Model,
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
