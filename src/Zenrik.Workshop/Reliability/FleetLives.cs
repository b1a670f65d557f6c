using System.Collections.Concurrent;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Fleet;
using Zenrik.Core.Reliability;
using Zenrik.Core.Repairs;

namespace Zenrik.Workshop.Reliability;

/// <summary>One part's time in one unit.</summary>
/// <param name="Tag">The unit.</param>
/// <param name="Serves">True when it is in a unit that is in use.</param>
/// <param name="Cause">Why it came out; null while it is in.</param>
public sealed record ServedPart(WatchedLife Life, string Tag, bool Serves, RemovalCause? Cause);

/// <summary>How the parts of one slot of one model last.</summary>
/// <param name="Name">The slot.</param>
/// <param name="InService">How many serve now.</param>
/// <param name="Failed">How many failed by themselves.</param>
/// <param name="Accidents">How many came to harm.</param>
/// <param name="Years">Served altogether.</param>
/// <param name="Law">Null where the failures do not bear one.</param>
public sealed record SlotLife(
    string ModelCode,
    string Model,
    string Slot,
    int InService,
    int Failed,
    int Accidents,
    double Years,
    WeibullLife? Law
);

/// <summary>Slots that serve themselves from the same numbers on a shelf, and the lives of their parts.</summary>
/// <param name="Slots">The one most of whose parts failed first.</param>
/// <param name="Numbers">In service in them, the most used first.</param>
/// <param name="InPairs">The share of repairs that took two of them, 0 to 1.</param>
public sealed record ShelfLife(
    IReadOnlyList<(SlotLife Slot, IReadOnlyList<ServedPart> Parts)> Slots,
    IReadOnlyList<string> Numbers,
    double InPairs
);

/// <summary>The lives of all parts in all units.</summary>
public sealed class FleetLife(
    IReadOnlyList<ServedPart> parts,
    IReadOnlyList<SlotLife> slots,
    IReadOnlyList<WatchFinding> found
)
{
    /// <summary>Times ahead whose demand is kept; a room asks for few.</summary>
    private const int MostKept = 16;

    private readonly ConcurrentDictionary<int, IReadOnlyList<(ShelfLife, Demand)>> demands = [];
    private readonly Lazy<IReadOnlyList<ShelfLife>> shelves = new(() => ShelvesOf(parts, slots));

    public IReadOnlyList<ServedPart> Parts => parts;

    public IReadOnlyList<SlotLife> Slots => slots;

    /// <summary>What is worse than its peers.</summary>
    public IReadOnlyList<WatchFinding> Found => found;

    /// <summary>Every slot, with those that take its numbers.</summary>
    public IReadOnlyList<ShelfLife> Shelves => shelves.Value;

    /// <summary>How many each shelf will want of which something has failed and something serves.</summary>
    public IReadOnlyList<(ShelfLife Shelf, Demand Demand)> DemandWithin(int days)
    {
        if (demands.Count >= MostKept)
        {
            demands.Clear();
        }

        return demands.GetOrAdd(
            days,
            _ =>
                [
                    .. Shelves
                        .Where(s => s.Slots.Any(p => p.Slot.Failed > 0) && s.Slots.Any(p => p.Slot.InService > 0))
                        .Select(s =>
                            (
                                s,
                                Demand.OfShelf(
                                    s.Slots.Select(p =>
                                        (
                                            (IReadOnlyCollection<Lifetime>)[.. p.Parts.Select(l => l.Life.Life)],
                                            (IReadOnlyCollection<double>)
                                                [.. p.Parts.Where(l => l.Serves).Select(l => (double)l.Life.Life.Days)]
                                        )
                                    ),
                                    days,
                                    s.InPairs
                                )
                            )
                        ),
                ]
        );
    }

    private static List<ShelfLife> ShelvesOf(IReadOnlyList<ServedPart> parts, IReadOnlyList<SlotLife> slots)
    {
        var of = parts.ToLookup(p => (p.Life.Model, p.Life.Slot));
        return
        [
            .. SharedShelf
                .Of(
                    [.. slots.Select(s => (Slot: s, Parts: (IReadOnlyList<ServedPart>)[.. of[(s.ModelCode, s.Slot)]]))],
                    s => NumbersOf(s.Parts.Where(p => p.Serves))
                )
                .Select(shelf =>
                {
                    var all = shelf.SelectMany(s => s.Parts).ToList();
                    return new ShelfLife(
                        shelf,
                        NumbersOf(all.Where(p => p.Serves)),
                        SharedShelf.InPairs(
                            all.Where(p => p.Cause == RemovalCause.Wear).Select(p => (p.Tag, p.Life.Life.To))
                        )
                    );
                }),
        ];
    }

    /// <summary>The numbers of some parts, the most used first.</summary>
    public static IReadOnlyList<string> NumbersOf(IEnumerable<ServedPart> parts) =>
        [
            .. parts
                .GroupBy(p => p.Life.Number!)
                .OrderByDescending(g => g.Count())
                .ThenBy(g => g.Key, StringComparer.Ordinal)
                .Select(g => g.Key),
        ];

    /// <summary>The units that still carry what was found, by tag.</summary>
    public IReadOnlyList<string> Carriers(WatchFinding found) =>
        [
            .. Parts
                .Where(p => p.Serves && (p.Life.Model, p.Life.Slot) == (found.Model, found.Slot))
                .Where(p => p.Life.By(found.By) == found.Value)
                .Select(p => p.Tag)
                .Distinct()
                .Order(StringComparer.Ordinal),
        ];
}

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
