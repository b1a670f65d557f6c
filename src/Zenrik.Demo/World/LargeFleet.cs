using System.Diagnostics;
using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Npgsql;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.Stock;

namespace Zenrik.Demo.World;

/// <summary>Puts generated fleets into the demo world: the scenario's own, and one of any size beside it.</summary>
internal sealed class LargeFleet
{
    /// <summary>The first tag and repair number of a large fleet; the demo's own are below.</summary>
    private const int FirstTag = 1000;
    private const long FirstRepair = 2001;
    private const int LargeYears = 5;

    /// <summary>Slots a unit of the large fleet has recorded: what is exchanged, not every speaker.</summary>
    private const int MainSlots = 6;

    private static readonly string[] Main =
    [
        "battery",
        "board",
        "keyboard",
        "keyboard-deck",
        "deck",
        "display",
        "drive",
        "drive-a",
        "memory-a",
        "fan",
        "storage",
    ];

    private readonly WorkshopDb db;
    private readonly NpgsqlConnection connection;
    private readonly IReadOnlyList<GeneratedModel> models;
    private readonly Dictionary<string, Guid> people;
    private readonly Dictionary<BinKind, Guid> bins;

    private LargeFleet(
        WorkshopDb db,
        IReadOnlyList<GeneratedModel> models,
        Dictionary<string, Guid> people,
        Dictionary<BinKind, Guid> bins
    )
    {
        (this.db, this.models, this.people, this.bins) = (db, models, people, bins);
        connection = (NpgsqlConnection)db.Database.GetDbConnection();
    }

    public static async Task<LargeFleet> Open(
        WorkshopDb db,
        IReadOnlyList<ServiceMap> maps,
        DemoCatalogue shipped,
        IReadOnlyDictionary<string, CatalogueNumber> catalogue,
        Func<string, IEnumerable<(string Number, string Slot)>> builtWith,
        IReadOnlyDictionary<string, Bin> bins,
        string shelf,
        CancellationToken stop
    )
    {
        var prices = shipped.Numbers.ToDictionary(n => n.Number, n => n.Price);
        var people = await db.Users.ToDictionaryAsync(u => u.UserName!, u => u.Id, stop);
        await db.Database.OpenConnectionAsync(stop);
        return new LargeFleet(
            db,
            [
                .. maps.Select(m => new GeneratedModel(
                    m.Model.Code,
                    m.Model.Maker,
                    [.. builtWith(m.Model.Code).Select(b => (b.Slot, catalogue[b.Number], prices[b.Number]))],
                    m.Assemblies.Where(a => m.Part(a.Part).Slot is not null && a.Faults.Count > 0)
                        .DistinctBy(a => m.Part(a.Part).Slot)
                        .ToDictionary(a => m.Part(a.Part).Slot!)
                )),
            ],
            people,
            bins.Values.Where(b => b.Kind != BinKind.Shelf)
                .Append(bins[shelf])
                .ToDictionary(b => b.Kind, b => b.Id.Value)
        );
    }

    public Task Add(FleetPlan plan, Action<int> progress, CancellationToken stop) =>
        new FleetHistory(connection, plan.MainOnly ? [.. models.Select(OnlyMain)] : models, people, bins).Run(
            plan,
            progress,
            stop
        );

    /// <summary>
    /// Many units, fast: indexes for typing errors are made afterwards in one go, and keys the generator cannot get wrong are
    /// not asked for row by row where the database lets us say so.
    /// </summary>
    public async Task AddLarge(int count, DateTimeOffset today, Action<string> say, CancellationToken stop)
    {
        var watch = Stopwatch.StartNew();
        var late = await Strings(
            "SELECT indexname || E'\\t' || indexdef AS \"Value\" FROM pg_indexes WHERE schemaname = 'public' AND indexname LIKE '%trigrams' AND tablename IN ('units', 'items')",
            stop
        );
        foreach (var index in late)
        {
            await Execute($"DROP INDEX {index.Split('\t')[0]}", stop);
        }

        var trusted =
            await Strings("SELECT 'yes' AS \"Value\" FROM pg_roles WHERE rolname = current_user AND rolsuper", stop)
            is [_];
        if (trusted)
        {
            await Execute("SET session_replication_role = replica", stop);
        }

        await Add(
            new FleetPlan([.. Enumerable.Range(FirstTag, count)], 65, MainOnly: true, FirstRepair, LargeYears, today),
            done =>
                say(
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"{done} of {count} units, {watch.Elapsed.TotalSeconds:0} s"
                    )
                ),
            stop
        );
        if (trusted)
        {
            await Execute("SET session_replication_role = origin", stop);
        }

        say("Making the indexes …");
        foreach (var index in late)
        {
            await Execute(index.Split('\t')[1], stop);
        }

        await Execute("ANALYZE", stop);
        say(string.Create(CultureInfo.InvariantCulture, $"The fleet is there after {watch.Elapsed.TotalSeconds:0} s."));
    }

    private static GeneratedModel OnlyMain(GeneratedModel model) =>
        model with
        {
            Slots =
            [
                .. model
                    .Slots.Where(s => Main.Contains(s.Slot) || s.Slot.StartsWith("battery", StringComparison.Ordinal))
                    .OrderBy(s => Array.IndexOf(Main, s.Slot))
                    .Take(MainSlots),
            ],
        };

    private async Task<IReadOnlyList<string>> Strings(string sql, CancellationToken stop) =>
        await db.Database.SqlQueryRaw<string>(sql).ToListAsync(stop);

    private Task<int> Execute(string sql, CancellationToken stop) => db.Database.ExecuteSqlRawAsync(sql, stop);
}
