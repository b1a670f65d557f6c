using System.Collections.Concurrent;
using Zenrik.Core.Reliability;
using Zenrik.Core.Stock;

namespace Zenrik.Workshop.Reliability;

/// <summary>One part's time in one unit.</summary>
/// <param name="Item">The part.</param>
/// <param name="Tag">The unit.</param>
/// <param name="Serves">True when it is in a unit that is in use.</param>
/// <param name="Cause">Why it came out; null while it is in.</param>
public sealed record ServedPart(ItemId Item, WatchedLife Life, string Tag, bool Serves, RemovalCause? Cause);

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

/// <summary>The lives of the parts of one slot, in figures.</summary>
/// <param name="Curve">The share that still serves, by age.</param>
/// <param name="CameOut">What failed or came to harm, the latest first.</param>
/// <param name="Lots">By the maker's lot: parts and failures, the one with most failures first.</param>
public sealed record SlotWear(
    SlotLife Slot,
    SurvivalCurve Curve,
    IReadOnlyList<ServedPart> CameOut,
    IReadOnlyList<(string Lot, int Parts, int Failed)> Lots
)
{
    public static SlotWear Of(SlotLife slot, IReadOnlyList<ServedPart> parts) =>
        new(
            slot,
            SurvivalCurve.Of([.. parts.Select(p => p.Life.Life)]),
            [
                .. parts
                    .Where(p => p.Cause is RemovalCause.Wear or RemovalCause.Accident)
                    .OrderByDescending(p => p.Life.Life.To),
            ],
            [
                .. parts
                    .Where(p => p.Life.Lot is not null)
                    .GroupBy(p => p.Life.Lot!)
                    .Select(g => (Lot: g.Key, Parts: g.Count(), Failed: g.Count(p => p.Life.Life.Failed)))
                    .OrderByDescending(l => l.Failed)
                    .ThenBy(l => l.Lot, StringComparer.Ordinal),
            ]
        );
}

/// <summary>Slots that serve themselves from the same numbers on a shelf, and the lives of their parts.</summary>
/// <param name="Slots">The one most of whose parts failed first.</param>
/// <param name="Numbers">In service in them, the most used first.</param>
/// <param name="InPairs">The share of repairs that took two of them, 0 to 1.</param>
public sealed record ShelfLife(
    IReadOnlyList<(SlotLife Slot, IReadOnlyList<ServedPart> Parts)> Slots,
    IReadOnlyList<string> Numbers,
    double InPairs
);

/// <summary>Of the parts that serve in one slot of a model, each one's age and how long its unit will still be used; days.</summary>
public sealed record SlotUse(IReadOnlyCollection<(double Age, double Serves)> Parts);

/// <summary>The parts of one slot of one model, with what follows from them alone.</summary>
internal sealed record LifeKind(IReadOnlyList<ServedPart> Parts, SlotLife Slot, WatchedKind Watched)
{
    private const double DaysAYear = 365.25;

    /// <param name="parts">At least one; all of one slot and model.</param>
    /// <param name="model">What the model is called.</param>
    public static LifeKind Of(IReadOnlyList<ServedPart> parts, string model)
    {
        List<Lifetime> lives = [.. parts.Select(p => p.Life.Life)];
        var slot = new SlotLife(
            parts[0].Life.Model,
            model,
            parts[0].Life.Slot,
            parts.Count(p => p.Serves),
            lives.Count(l => l.Failed),
            parts.Count(p => p.Cause == RemovalCause.Accident),
            lives.Sum(l => l.Days) / DaysAYear,
            WeibullLife.Of(lives).Try(out var law, out _) ? law : null
        );
        return new LifeKind(parts, slot, WatchedKind.Of([.. parts.Select(p => p.Life)]));
    }
}

/// <summary>The lives of all parts in all units.</summary>
public sealed class FleetLife
{
    /// <summary>Times ahead whose demand is kept; a room asks for few.</summary>
    private const int MostKept = 16;

    private readonly ConcurrentDictionary<int, IReadOnlyList<(ShelfLife, Demand)>> demands = [];
    private readonly ConcurrentDictionary<ShelfLife, (IReadOnlyList<SlotUse> Uses, Demand Demand)> lastOrders = [];
    private readonly ConcurrentDictionary<LifeKind, SlotWear> wear = new(ReferenceEqualityComparer.Instance);
    private readonly ConcurrentDictionary<WatchFinding, IReadOnlyList<string>> carriers = new(
        ReferenceEqualityComparer.Instance
    );
    private readonly Dictionary<(string Model, string Slot), LifeKind> kinds;
    private IReadOnlyList<ShelfLife>? shelves;

    private FleetLife(Dictionary<(string, string), LifeKind> kinds)
    {
        this.kinds = kinds;
        Slots =
        [
            .. kinds
                .Values.Select(k => k.Slot)
                .OrderByDescending(s => s.Failed)
                .ThenByDescending(s => s.InService)
                .ThenBy(s => s.Model, StringComparer.Ordinal)
                .ThenBy(s => s.Slot, StringComparer.Ordinal),
        ];
        Found = Watch.Find(kinds.Values.Select(k => k.Watched));
    }

    /// <param name="models">What each model is called, by its code.</param>
    internal static FleetLife Of(IEnumerable<ServedPart> parts, IReadOnlyDictionary<string, string> models) =>
        new(
            parts
                .GroupBy(p => (p.Life.Model, p.Life.Slot))
                .ToDictionary(g => g.Key, g => LifeKind.Of([.. g], models[g.Key.Model]))
        );

    /// <summary>The same with other lives of some items; only what they touch is reckoned again.</summary>
    /// <param name="items">Those whose lives may have changed.</param>
    /// <param name="parts">All their lives as they are now.</param>
    /// <returns>This one where nothing is different.</returns>
    internal FleetLife With(
        IReadOnlySet<ItemId> items,
        IEnumerable<ServedPart> parts,
        IReadOnlyDictionary<string, string> models
    )
    {
        var now = parts.ToLookup(p => (p.Life.Model, p.Life.Slot));
        Dictionary<(string Model, string Slot), LifeKind>? changed = null;
        foreach (var at in kinds.Keys.Union(now.Select(g => g.Key)))
        {
            var before = kinds.GetValueOrDefault(at)?.Parts ?? [];
            if (before.Where(p => items.Contains(p.Item)).ToHashSet().SetEquals(now[at]))
            {
                continue;
            }

            changed ??= new(kinds);
            List<ServedPart> left = [.. before.Where(p => !items.Contains(p.Item)), .. now[at]];
            if (left.Count == 0)
            {
                changed.Remove(at);
            }
            else
            {
                changed[at] = LifeKind.Of(left, models[at.Model]);
            }
        }

        return changed is null ? this : new FleetLife(changed);
    }

    public IEnumerable<ServedPart> Parts => kinds.Values.SelectMany(k => k.Parts);

    /// <summary>That of which most failed first.</summary>
    public IReadOnlyList<SlotLife> Slots { get; }

    /// <summary>What is worse than its peers.</summary>
    public IReadOnlyList<WatchFinding> Found { get; }

    /// <summary>The parts of one slot of a model.</summary>
    public IReadOnlyList<ServedPart> Of(string model, string slot) =>
        kinds.GetValueOrDefault((model, slot))?.Parts ?? [];

    /// <summary>How the parts of one slot of a model last; null where none is known.</summary>
    public SlotWear? WearOf(string model, string slot) =>
        kinds.GetValueOrDefault((model, slot)) is { } kind
            ? wear.GetOrAdd(kind, k => SlotWear.Of(k.Slot, k.Parts))
            : null;

    /// <summary>Every slot, with those that take its numbers.</summary>
    public IReadOnlyList<ShelfLife> Shelves => shelves ??= ShelvesOf();

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

    /// <summary>How many a shelf will want until the last unit is out of use; what was asked for the same is kept.</summary>
    /// <param name="uses">By slot of the shelf, in its order, how long its units will still be used.</param>
    public Demand DemandUntil(ShelfLife shelf, IReadOnlyList<SlotUse> uses)
    {
        if (
            !lastOrders.TryGetValue(shelf, out var kept)
            || !kept.Uses.Zip(uses).All(u => u.First.Parts.SequenceEqual(u.Second.Parts))
        )
        {
            kept = (
                uses,
                Demand.Together(
                    shelf.Slots.Zip(
                        uses,
                        (slot, use) => Demand.Until([.. slot.Parts.Select(p => p.Life.Life)], use.Parts)
                    )
                )
            );
            lastOrders[shelf] = kept;
        }

        return kept.Demand;
    }

    private List<ShelfLife> ShelvesOf() =>
        [
            .. SharedShelf
                .Of(
                    [.. Slots.Select(s => (Slot: s, Parts: Of(s.ModelCode, s.Slot)))],
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
        carriers.GetOrAdd(
            found,
            f =>
                [
                    .. Of(f.Model, f.Slot)
                        .Where(p => p.Serves && p.Life.By(f.By) == f.Value)
                        .Select(p => p.Tag)
                        .Distinct()
                        .Order(StringComparer.Ordinal),
                ]
        );
}
