using System.Collections.Concurrent;
using System.Runtime.CompilerServices;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Caching.Memory;
using Zenrik.Core.Batteries;
using Zenrik.Core.Fit;
using Zenrik.Core.Reliability;
using Zenrik.Core.Sourcing;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Reliability;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Batteries;

/// <summary>The batteries of the fleet and what is known of each kind.</summary>
/// <param name="Batteries">Those that have said something of themselves.</param>
/// <param name="Silent">How many are in service and have said nothing.</param>
/// <param name="Kinds">By number and model, what wear is known of it; the one most used first.</param>
public sealed record FleetWear(
    IReadOnlyList<FleetBattery> Batteries,
    int Silent,
    IReadOnlyList<(string Number, string Model, int InService, WearPrior Prior)> Kinds
);

/// <summary>What is needed of one number over all sites.</summary>
/// <param name="Free">On a shelf and promised to nobody.</param>
/// <param name="Coming">Ordered for the shelf and not here yet.</param>
public sealed record NumberNeed(BatteryNeed Need, int Free, int Coming)
{
    public int ToOrder => Math.Max(0, Need.Enough - Free - Coming);
}

/// <summary>Reads the fleet's batteries. What follows from the book alone is kept (<see cref="KeptFigures"/>).</summary>
public sealed class FleetBatteries(WorkshopDb db, Figures figures, IMemoryCache cache, TimeProvider clock)
{
    /// <summary>Months the calendar looks ahead.</summary>
    public const int Months = 18;

    /// <summary>What follows from the figures alone, beside them as long as these are kept.</summary>
    private static readonly ConditionalWeakTable<FleetWear, Followed> Kept = [];

    /// <summary>Days and levels asked for that are kept; a room asks for few.</summary>
    private const int MostKept = 32;

    public DateOnly Today => clock.Today();

    public Task<FleetWear> Run(CancellationToken stop = default) =>
        figures.Of<FleetBatteries, FleetWear>(this, (f, _, _, s) => f.Reckon(s), stop);

    /// <summary>How many come under the limit in each of the next months.</summary>
    public IReadOnlyList<(DateOnly Month, BatteryCount Count)> Calendar(FleetWear wear) =>
        Kept.GetOrCreateValue(wear).Calendar ??= BatteryCalendar.Months(wear.Batteries, Today, Months);

    /// <summary>By site, model and number, what is needed by a day.</summary>
    /// <inheritdoc cref="BatteryCalendar.Needs"/>
    public static IReadOnlyList<BatteryNeed> Needs(FleetWear wear, DateOnly by, double enough) =>
        Needs(wear, by, enough, everywhere: false);

    private static IReadOnlyList<BatteryNeed> Needs(FleetWear wear, DateOnly by, double enough, bool everywhere)
    {
        var kept = Kept.GetOrCreateValue(wear).Needs;
        if (kept.Count >= MostKept)
        {
            kept.Clear();
        }

        return kept.GetOrAdd(
            (by, enough, everywhere),
            _ =>
                BatteryCalendar.Needs(
                    everywhere
                        ? wear.Batteries.Where(b => b.Number is not null).Select(b => b with { Site = "", Model = "" })
                        : wear.Batteries,
                    by,
                    enough
                )
        );
    }

    /// <summary>By model and number, how many come under the limit by a day.</summary>
    public static IReadOnlyDictionary<(string Model, string? Number), Cumulants> Due(FleetWear wear, DateOnly by)
    {
        var followed = Kept.GetOrCreateValue(wear);
        if (followed.Due is not { } kept || kept.By != by)
        {
            followed.Due = kept = new DueBy(
                by,
                wear.Batteries.GroupBy(b => (b.Model, b.Number))
                    .ToDictionary(g => g.Key, g => Cumulants.Of(g.Select(b => b.Forecast.UnderBy(by))))
            );
        }

        return kept.Counts;
    }

    /// <summary>By number, what is needed by a day, and what of it is there.</summary>
    public async Task<IReadOnlyList<NumberNeed>> ByNumber(
        FleetWear wear,
        DateOnly by,
        double enough,
        CancellationToken stop = default
    )
    {
        var needs = Needs(wear, by, enough, everywhere: true);
        var stock = await db.FreeAndComing([.. needs.Select(n => n.Number!)], stop);
        return
        [
            .. needs
                .Select(n => (Need: n, Stock: stock(n.Number!)))
                .Select(n => new NumberNeed(n.Need, n.Stock.Free, n.Stock.Coming)),
        ];
    }

    /// <summary>When one unit's battery comes under the limit; null where none is recorded, or it has said nothing.</summary>
    /// <param name="battery">The item in it.</param>
    /// <param name="since">When it went in; null: not known.</param>
    /// <param name="readings">What was read of it.</param>
    public async Task<BatteryForecast?> Of(
        string modelCode,
        Item? battery,
        DateTimeOffset? since,
        IEnumerable<(DateTimeOffset At, double Health)> readings,
        CancellationToken stop = default
    )
    {
        if (battery is null)
        {
            return null;
        }

        var seen = new BatterySeen(
            battery.Number.Number,
            since is { } began ? Day(began) : null,
            [.. readings.GroupBy(r => Day(r.At)).OrderBy(g => g.Key).Select(g => (g.Key, g.Last().Health))]
        );
        return seen.Readings.Count == 0
            ? null
            : BatteryForecast.Of(seen, await KindOf(modelCode, battery.NumberId, stop), Today, BatteryReading.Worn);
    }

    /// <summary>How a number wears in a model, from some hundred of them; for a day it may be kept.</summary>
    private async Task<WearPrior> KindOf(string modelCode, Guid number, CancellationToken stop)
    {
        var key = (nameof(KindOf), modelCode, number, Today);
        if (cache.TryGetValue(key, out WearPrior? known))
        {
            return known!;
        }

        var items = await db
            .Items.Where(i => i.NumberId == number && i.Unit!.ModelCode == modelCode)
            .OrderBy(i => i.Id)
            .Select(i => (ItemId?)i.Id)
            .Take(MostOfAKind)
            .ToListAsync(stop);
        var readings = await db
            .BatteryReadings.Where(r => items.Contains(r.ItemId))
            .OrderBy(r => r.At)
            .Select(r => new
            {
                r.ItemId,
                r.At,
                r.Health,
            })
            .ToListAsync(stop);
        return cache.Set(
            key,
            WearPrior.Of(
                readings
                    .GroupBy(r => r.ItemId)
                    .Select(g => new BatterySeen("", null, [.. g.Select(r => (Day(r.At), r.Health))])),
                WearPrior.Unknown
            ),
            TimeSpan.FromHours(1)
        );
    }

    private const int MostOfAKind = 300;

    /// <summary>Everything anew, whatever is kept.</summary>
    internal async Task<FleetWear> Reckon(CancellationToken stop)
    {
        var serving = db.Units.Where(Unit.Serving);
        var inside = await db
            .Items.AsNoTracking()
            .Where(i =>
                i.UnitId != null && i.Slot!.StartsWith(BatterySlot.Prefix) && serving.Any(u => u.Id == i.UnitId)
            )
            .Select(i => new
            {
                i.Id,
                UnitId = i.UnitId!.Value,
                i.Unit!.Tag,
                i.Unit.Site,
                i.Unit.ModelCode,
                Model = i.Unit.Model.Name,
                i.Number.Number,
                i.Number.Specification,
                Since = db
                    .Movements.Where(m => m.ItemId == i.Id && m.ToUnitId == i.UnitId)
                    .Max(m => (DateTimeOffset?)m.At),
            })
            .ToListAsync(stop);
        var readings = (
            await db
                .BatteryReadings.AsNoTracking()
                .OrderBy(r => r.Id)
                .Select(r => new
                {
                    r.UnitId,
                    r.ItemId,
                    r.At,
                    r.Health,
                })
                .ToListAsync(stop)
        ).ToLookup(r => r.UnitId);
        var seen = inside.ConvertAll(b =>
            (
                Battery: b,
                Seen: new BatterySeen(
                    $"{b.Number} in {b.ModelCode}",
                    b.Since is { } since ? Day(since) : null,
                    [
                        .. readings[b.UnitId]
                            // What was read before it went in was read of another.
                            .Where(r => r.ItemId == b.Id || (r.ItemId is null && (b.Since is null || r.At >= b.Since)))
                            .GroupBy(r => Day(r.At))
                            .OrderBy(g => g.Key)
                            .Select(g => (g.Key, g.Last().Health)),
                    ]
                )
            )
        );
        var all = WearPrior.Of(seen.Select(s => s.Seen), WearPrior.Unknown);
        var kinds = seen.GroupBy(s => s.Seen.Kind)
            .ToDictionary(
                g => g.Key,
                g => (First: g.First().Battery, Count: g.Count(), Prior: WearPrior.Of(g.Select(s => s.Seen), all))
            );
        var batteries = new List<FleetBattery>();
        foreach (var (battery, of) in seen)
        {
            if (BatteryForecast.Of(of, kinds[of.Kind].Prior, Today, BatteryReading.Worn) is { } forecast)
            {
                batteries.Add(
                    new FleetBattery(
                        battery.Tag,
                        battery.Site,
                        battery.ModelCode,
                        battery.Model,
                        battery.Number,
                        (battery.Specification as ItemSpecification.Battery)?.EnergyWh,
                        forecast
                    )
                );
            }
        }

        return new FleetWear(
            batteries,
            seen.Count - batteries.Count,
            [
                .. kinds
                    .Values.OrderByDescending(k => k.Count)
                    .ThenBy(k => k.First.Number, StringComparer.Ordinal)
                    .Select(k => (k.First.Number, k.First.Model, k.Count, k.Prior)),
            ]
        );
    }

    private static DateOnly Day(DateTimeOffset at) => DateOnly.FromDateTime(at.LocalDateTime);

    private sealed record DueBy(DateOnly By, IReadOnlyDictionary<(string Model, string? Number), Cumulants> Counts);

    private sealed class Followed
    {
        public IReadOnlyList<(DateOnly Month, BatteryCount Count)>? Calendar { get; set; }

        public DueBy? Due { get; set; }

        public ConcurrentDictionary<
            (DateOnly By, double Enough, bool Everywhere),
            IReadOnlyList<BatteryNeed>
        > Needs { get; } = [];
    }
}
