using System.Globalization;
using Npgsql;
using Zenrik.Core.Fit;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Parts;

namespace Zenrik.Demo.World;

/// <summary>A model as the generator needs it.</summary>
/// <param name="Slots">What a new unit holds, by slot.</param>
/// <param name="Assemblies">The assembly that is exchanged for what is in a slot.</param>
internal sealed record GeneratedModel(
    string Code,
    string Maker,
    IReadOnlyList<(string Slot, CatalogueNumber Number, decimal Price)> Slots,
    IReadOnlyDictionary<string, Assembly> Assemblies
);

/// <summary>What is to be made.</summary>
/// <param name="Tags">Numbers of the asset tags, in order; as many units.</param>
/// <param name="ChromebookShare">Of them, how many in 100 are Chromebooks at schools.</param>
/// <param name="MainOnly">True for the large fleet: the parts that are exchanged, not every speaker.</param>
/// <param name="FirstRepair">Number of the first repair; null: counted down from those that exist.</param>
/// <param name="Years">How far back the history goes.</param>
/// <param name="Today">The last day of the history.</param>
internal sealed record FleetPlan(
    IReadOnlyList<int> Tags,
    int ChromebookShare,
    bool MainOnly,
    long? FirstRepair,
    int Years,
    DateTimeOffset Today
);

/// <summary>
/// Makes units with three years of history, from failure processes and one seed, and copies them in as PostgreSQL reads
/// fastest. The same rules as everywhere hold afterwards: the database's constraints, and a book proved by its movements.
/// </summary>
internal sealed class FleetHistory(
    NpgsqlConnection connection,
    IReadOnlyList<GeneratedModel> models,
    IReadOnlyDictionary<string, Guid> people,
    IReadOnlyDictionary<BinKind, Guid> bins
)
{
    private const string Letters = "CDEFHJKLMNPRTX";
    private const int Seed = 41_700;
    private const int ChunkUnits = 4000;
    private const double SparesAUnit = 0.05;

    private static readonly string[] LaptopMix =
    [
        "sandpiper-14",
        "sandpiper-14",
        "sandpiper-13-turn",
        "sandpiper-14",
        "grebe-15",
        "sandpiper-14",
        "cormorant-15",
        "plover-12",
        "coot-14",
    ];
    private static readonly string[] ChromebookMix = ["thimble-11", "thimble-11-r", "thimble-11", "thimble-10-k"];
    private static readonly string[] FirstNames =
    [
        "Ada",
        "Piet",
        "Sunniva",
        "Jonas",
        "Edda",
        "Marit",
        "Olav",
        "Tilda",
        "Ruben",
        "Isa",
        "Kasper",
        "Nell",
    ];
    private static readonly string[] LastNames =
    [
        "Merrow",
        "Holm",
        "Dale",
        "Firth",
        "Strand",
        "Kettle",
        "Brae",
        "Sound",
        "Voe",
        "Ness",
        "Skerry",
        "Gill",
    ];

    private static readonly Dictionary<string, string> EmptyLooks = [];

    private readonly Dictionary<string, GeneratedModel> byCode = models.ToDictionary(m => m.Code);
    private readonly Guid[] technicians =
    [
        people["aled"],
        people["ines"],
        people["bo"],
        people["tove"],
        people["mara"],
    ];
    private readonly List<object?[]> units = [];
    private readonly List<object?[]> looks = [];
    private readonly List<object?[]> items = [];
    private readonly List<object?[]> movements = [];
    private readonly List<object?[]> repairs = [];
    private readonly List<object?[]> lines = [];
    private readonly List<object?[]> readings = [];
    private readonly List<object?[]> events = [];

    private long nextItem;

    /// <summary>One exchange in a unit's past.</summary>
    private sealed record Failure(int Unit, int Order, DateTime At, string Slot, double Minutes, string Fault);

    private sealed record Made(
        Guid Id,
        string Tag,
        string Serial,
        GeneratedModel Model,
        string Site,
        string? User,
        DateTime Bought,
        bool BadLot,
        Random Random
    );

    /// <param name="progress">Told how many units are in, now and then.</param>
    public async Task Run(FleetPlan plan, Action<int> progress, CancellationToken stop)
    {
        var failures = plan
            .Tags.SelectMany((tag, i) => Failures(Unit(i, tag, plan), i, plan))
            .OrderBy(f => f.At)
            .ThenBy(f => f.Unit)
            .ThenBy(f => f.Order)
            .ToList();
        var first = plan.FirstRepair ?? await LowestRepair(stop) - failures.Count;
        var numbers = failures
            .Select((f, i) => (Key: (f.Unit, f.Order), Number: first + i))
            .ToDictionary(f => f.Key, f => f.Number);
        var byUnit = failures.ToLookup(f => f.Unit);

        nextItem = await Scalar("SELECT last_value FROM item_codes", stop) + 1;
        foreach (var chunk in plan.Tags.Index().Chunk(ChunkUnits))
        {
            foreach (var (i, tag) in chunk)
            {
                Write(Unit(i, tag, plan), byUnit[i].OrderBy(f => f.At), numbers, plan);
            }

            await Flush(stop);
            progress(chunk[^1].Item1 + 1);
        }

        await Spares(plan, stop);
        await Scalar($"SELECT setval('item_codes', {nextItem})", stop);
        if (plan.FirstRepair is not null)
        {
            await Scalar($"SELECT setval('repair_numbers', {first + failures.Count})", stop);
        }
    }

    /// <summary>A unit's fixed facts; the same number gives the same unit, and leaves its random numbers where its history begins.</summary>
    private Made Unit(int index, int tag, FleetPlan plan)
    {
        var random = new Random(Seed + tag);
        var chromebook = index * 37 % 100 < plan.ChromebookShare;
        var model = byCode[
            (chromebook ? ChromebookMix : LaptopMix)[random.Next(chromebook ? ChromebookMix.Length : LaptopMix.Length)]
        ];
        var site = chromebook
            ? LoadDemo.Schools[random.Next(LoadDemo.Schools.Length)]
            : LoadDemo.Offices[random.Next(LoadDemo.Offices.Length)];
        var bought = plan.Today.UtcDateTime.Date.AddDays(-random.Next(120, (plan.Years * 365) + 200));
        return new Made(
            NewId(random),
            string.Create(CultureInfo.InvariantCulture, $"SK-{tag:00000}"),
            Serial(tag, chromebook ? "MX##AA#####" : "5T#A##A#A"),
            model,
            site,
            chromebook
                ? null
                : $"{FirstNames[random.Next(FirstNames.Length)]} {LastNames[random.Next(LastNames.Length)]}",
            bought,
            model.Code == FailureProcess.BadLotModel && site == FailureProcess.BadLotSite && random.Next(3) > 0,
            random
        );
    }

    private static List<Failure> Failures(Made unit, int index, FleetPlan plan)
    {
        var (random, now, all) = (unit.Random, plan.Today.UtcDateTime.AddDays(-8), new List<Failure>());
        foreach (var (slot, number, _) in unit.Model.Slots.Where(s => unit.Model.Assemblies.ContainsKey(s.Slot)))
        {
            if (FailureProcess.Of(slot, number.Kind, unit.BadLot) is not { } process)
            {
                continue;
            }

            var at = unit.Bought.AddDays(process.Draw(random)).AddHours(9 + random.Next(7));
            // The bad lot was exchanged for a good one.
            var later = FailureProcess.Of(slot, number.Kind, false)!;
            while (at < now)
            {
                all.Add(
                    new Failure(index, all.Count, at, slot, process.Minutes, unit.Model.Assemblies[slot].Faults[0])
                );
                at = at.AddDays(6 + later.Draw(random));
            }
        }

        if (LoadDemo.Schools.Contains(unit.Site) && unit.Model.Assemblies.TryGetValue("display", out var display))
        {
            var fall = FailureProcess.NextFall(random, unit.Bought);
            while (fall is { } at && at < now)
            {
                all.Add(new Failure(index, all.Count, at, "display", 26, display.Faults[0]));
                fall = FailureProcess.NextFall(random, at.AddDays(30));
            }
        }

        // A unit is in one repair at a time: what fails while it is in the workshop waits its turn.
        var ordered = all.OrderBy(f => f.At).ToList();
        for (var i = 1; i < ordered.Count; i++)
        {
            if (ordered[i].At < ordered[i - 1].At.AddDays(7))
            {
                ordered[i] = ordered[i] with { At = ordered[i - 1].At.AddDays(7) };
            }
        }

        return [.. ordered.Where(f => f.At < now && unit.Model.Slots.Any(s => s.Slot == f.Slot))];
    }

    private void Write(Made unit, IEnumerable<Failure> past, Dictionary<(int, int), long> numbers, FleetPlan plan)
    {
        var (random, by) = (new Random(Seed ^ int.Parse(unit.Tag[3..], CultureInfo.InvariantCulture)), people["odd"]);
        var built = unit.Bought.AddDays(6).AddHours(9.5);
        var (slots, inside) = (unit.Model.Slots, new Dictionary<string, Guid>());
        var fate = random.Next(100);
        var state =
            fate == 0 && !plan.MainOnly ? "Donor"
            : fate < 3 ? "Retired"
            : "InUse";
        units.Add([
            unit.Id,
            unit.Tag,
            unit.Serial,
            unit.Model.Code,
            unit.Site,
            unit.User,
            DateOnly.FromDateTime(unit.Bought),
            state,
            fate is > 94 && unit.Model.Code == "thimble-11",
            DateOnly.FromDateTime(unit.Bought.AddYears(3)),
        ]);
        events.Add([unit.Id, built, by, "Registered", $"Entered the book, for {unit.Site}", null]);
        // A variant is seen when somebody first has to order for it; most have been looked at.
        // Those of the 2-in-1 nobody has ordered a deck for yet.
        if (unit.Model.Code == "sandpiper-14" || (unit.Model.Code != "sandpiper-13-turn" && random.Next(5) > 0))
        {
            foreach (
                var (trait, look) in slots
                    .SelectMany(s => s.Number.Specification?.Looks ?? EmptyLooks)
                    .DistinctBy(l => l.Key)
            )
            {
                looks.Add([unit.Id, trait, look, built, by]);
            }
        }

        foreach (var (slot, number, _) in slots)
        {
            inside[slot] = Item(
                random,
                number,
                null,
                unit.BadLot && slot == "keyboard-deck" ? FailureProcess.BadLot : null,
                built,
                (null, unit.Id, slot)
            );
        }

        var battery = (
            Since: built,
            Slot: slots.Select(s => s.Slot).FirstOrDefault(s => s.StartsWith("battery", StringComparison.Ordinal))
        );
        var exchanged = new List<(DateTime At, Guid Item)>();
        foreach (var failure in past)
        {
            var (at, number) = (failure.At, numbers[(failure.Unit, failure.Order)]);
            var (closed, who, repair) = (
                at.AddDays(1 + random.Next(5)).AddHours(random.Next(4)),
                technicians[random.Next(technicians.Length)],
                NewId(random)
            );
            var (_, part, price) = slots.First(s => s.Slot == failure.Slot);
            var minutes = failure.Minutes * (0.75 + (0.6 * random.NextDouble()));
            repairs.Add([
                repair,
                number,
                unit.Id,
                "Closed",
                at,
                who,
                closed,
                who,
                failure.Minutes,
                minutes,
                "Exchanged",
                "Normal",
                Array.Empty<string>(),
                Array.Empty<string>(),
            ]);
            var fitted = Item(
                random,
                part,
                decimal.Round(price * 1.2m, 2),
                null,
                at.AddDays(-random.Next(5, 40)),
                (BinKind.Shelf, null, null)
            );
            var old = inside[failure.Slot];
            var assembly = unit.Model.Assemblies[failure.Slot];
            Moved(old, closed, who, "Removed", repair, (null, unit.Id, failure.Slot), (BinKind.Quarantine, null, null));
            Moved(
                fitted,
                closed.AddHours(-2),
                who,
                "Issued",
                repair,
                (BinKind.Shelf, null, null),
                (BinKind.Bench, null, null)
            );
            Moved(fitted, closed, who, "Fitted", repair, (BinKind.Bench, null, null), (null, unit.Id, failure.Slot));
            Place(old, BinKind.Quarantine, null, null);
            Place(fitted, null, unit.Id, failure.Slot);
            if (closed.AddDays(30) < plan.Today.UtcDateTime)
            {
                Moved(
                    old,
                    closed.AddDays(30),
                    by,
                    "Scrapped",
                    null,
                    (BinKind.Quarantine, null, null),
                    (BinKind.Outside, null, null),
                    "collection point"
                );
                Place(old, BinKind.Outside, null, null);
            }

            lines.Add([
                NewId(random),
                repair,
                0,
                assembly.Id.Value,
                assembly.Name,
                failure.Slot,
                failure.Fault,
                part.Number,
                part.Number,
                part.Number,
                part.Number,
                false,
                old,
                fitted,
            ]);
            events.Add([unit.Id, at, who, "State", $"R-{number}: at the counter", repair]);
            events.Add([unit.Id, closed, who, "State", $"R-{number}: back in use", repair]);
            inside[failure.Slot] = fitted;
            if (failure.Slot == battery.Slot)
            {
                exchanged.Add((closed, fitted));
            }
        }

        if (state != "InUse")
        {
            events.Add([
                unit.Id,
                plan.Today.UtcDateTime.AddDays(-random.Next(9, 90)),
                people["mara"],
                "State",
                state == "Donor" ? "Kept for its parts" : "Retired: too old to repair",
                null,
            ]);
        }

        Readings(unit, battery.Slot, inside, exchanged, built, random, plan);
    }

    private void Readings(
        Made unit,
        string? slot,
        Dictionary<string, Guid> inside,
        List<(DateTime At, Guid Item)> exchanged,
        DateTime built,
        Random random,
        FleetPlan plan
    )
    {
        if (
            slot is null
            || unit.Model.Slots.First(s => s.Slot == slot).Number.Specification
                is not ItemSpecification.Battery { EnergyWh: { } design }
        )
        {
            return;
        }

        var fade = 0.000_26 + (0.000_2 * random.NextDouble());
        var end = plan.Today.UtcDateTime.AddDays(-random.Next(2, 60));
        // The large fleet has spoken once; the demo's every quarter.
        for (
            var at = plan.MainOnly ? end : built.AddDays(40 + random.Next(60));
            at <= end;
            at = at.AddDays(80 + random.Next(25))
        )
        {
            var since = exchanged.Where(e => e.At <= at).Select(e => (DateTime?)e.At).LastOrDefault();
            var days = (at - (since ?? built)).TotalDays;
            var full = design * Math.Clamp(1.01 - (fade * days) + ((random.NextDouble() - 0.5) * 0.012), 0.2, 1.05);
            // The item of that time; only the present one's identity is at hand for the first battery.
            var item =
                since is { } exchange ? exchanged.First(e => e.At == exchange).Item
                : exchanged.Count == 0 ? inside[slot]
                : (Guid?)null;
            readings.Add([
                unit.Id,
                item,
                at,
                Math.Round(full, 1),
                design,
                Math.Max(1, (int)(days * 0.55)),
                null,
                null,
                Math.Round(full, 1) / design,
            ]);
        }
    }

    /// <summary>Spares on the shelf, received and never used.</summary>
    private async Task Spares(FleetPlan plan, CancellationToken stop)
    {
        var random = new Random(Seed);
        var all = models.SelectMany(m => m.Slots.Where(s => m.Assemblies.ContainsKey(s.Slot))).ToList();
        var count = plan.MainOnly ? (int)(plan.Tags.Count * SparesAUnit) : 0;
        for (var i = 0; i < count; i++)
        {
            var (_, number, price) = all[random.Next(all.Count)];
            Item(
                random,
                number,
                decimal.Round(price * 1.2m, 2),
                null,
                plan.Today.UtcDateTime.AddDays(-random.Next(3, 300)),
                (BinKind.Shelf, null, null)
            );
            if (items.Count >= ChunkUnits * 5)
            {
                await Flush(stop);
            }
        }

        await Flush(stop);
    }

    private readonly Dictionary<Guid, object?[]> rowOf = [];

    private Guid Item(
        Random random,
        CatalogueNumber number,
        decimal? cost,
        string? batch,
        DateTime at,
        (BinKind? Bin, Guid? Unit, string? Slot) to
    )
    {
        var id = NewId(random);
        object?[] row =
        [
            id,
            string.Create(CultureInfo.InvariantCulture, $"IT-{nextItem++:00000}"),
            number.Id,
            Text(random, "S#########"),
            batch,
            cost,
            In(to.Bin),
            to.Bin?.ToString(),
            to.Unit,
            to.Slot,
        ];
        items.Add(row);
        rowOf[id] = row;
        Moved(id, at, people["odd"], to.Unit is null ? "Received" : "AsBuilt", null, (null, null, null), to);
        return id;
    }

    private void Place(Guid item, BinKind? bin, Guid? unit, string? slot)
    {
        var row = rowOf[item];
        (row[6], row[7], row[8], row[9]) = (In(bin), bin?.ToString(), unit, slot);
    }

    private Guid? In(BinKind? kind) => kind is { } k ? bins[k] : null;

    private void Moved(
        Guid item,
        DateTime at,
        Guid by,
        string reason,
        Guid? repair,
        (BinKind? Bin, Guid? Unit, string? Slot) from,
        (BinKind? Bin, Guid? Unit, string? Slot) to,
        string? note = null
    ) =>
        movements.Add([
            at,
            by,
            reason,
            note,
            repair,
            item,
            1,
            In(from.Bin),
            from.Unit,
            from.Slot,
            In(to.Bin),
            to.Unit,
            to.Slot,
        ]);

    private async Task Flush(CancellationToken stop)
    {
        await Copy(
            "units (id, tag, serial, model_code, site, user_name, bought_on, state, in_loan_pool, warranty_until)",
            units,
            stop
        );
        await Copy("unit_looks (unit_id, trait, look, at, by_id)", looks, stop);
        await Copy("items (id, code, number_id, serial, batch, cost, bin_id, bin_kind, unit_id, slot)", items, stop);
        await Copy(
            "repairs (id, number, unit_id, state, opened_at, opened_by_id, closed_at, closed_by_id, minutes_planned, minutes_taken, \"end\", priority, symptoms, circumstances)",
            repairs,
            stop
        );
        await Copy(
            "repair_lines (id, repair_id, position, assembly, assembly_name, slot, fault, expected_out, expected_in, number_out, number_in, surprise, item_out_id, item_in_id)",
            lines,
            stop
        );
        await Copy(
            "movements (at, by_id, reason, note, repair_id, item_id, quantity, from_bin_id, from_unit_id, from_slot, to_bin_id, to_unit_id, to_slot)",
            movements,
            stop
        );
        await Copy(
            "battery_readings (unit_id, item_id, at, full_wh, design_wh, cycles, model, serial, health)",
            readings,
            stop
        );
        await Copy("unit_events (unit_id, at, by_id, kind, text, repair_id)", events, stop);
        rowOf.Clear();
    }

    private async Task Copy(string into, List<object?[]> rows, CancellationToken stop)
    {
        await using (
            var copy = await connection.BeginBinaryImportAsync($"COPY {into} FROM STDIN (FORMAT BINARY)", stop)
        )
        {
            foreach (var row in rows)
            {
                await copy.StartRowAsync(stop);
                foreach (var value in row)
                {
                    if (value is null)
                    {
                        await copy.WriteNullAsync(stop);
                    }
                    else
                    {
                        await copy.WriteAsync(value, stop);
                    }
                }
            }

            await copy.CompleteAsync(stop);
        }

        rows.Clear();
    }

    private Task<long> LowestRepair(CancellationToken stop) =>
        Scalar("SELECT coalesce(min(number), 1001) FROM repairs", stop);

    private async Task<long> Scalar(string sql, CancellationToken stop)
    {
#pragma warning disable CA2100 // Numbers counted here, not input.
        await using var command = new NpgsqlCommand(sql, connection);
#pragma warning restore CA2100
        return (long)(await command.ExecuteScalarAsync(stop))!;
    }

    private static Guid NewId(Random random)
    {
        Span<byte> bytes = stackalloc byte[16];
        random.NextBytes(bytes);
        return new Guid(bytes);
    }

    /// <summary>A serial no other tag gets: the tag, stirred by a number that has no factor in common with their count.</summary>
    private static string Serial(int tag, string pattern)
    {
        const long stir = 1_000_003;
        var count = pattern.Aggregate(
            1L,
            (n, c) =>
                n
                * (
                    c == '#' ? 10
                    : c == 'A' ? Letters.Length
                    : 1
                )
        );
        var left = tag * stir % count;
        return Fill(
            pattern,
            radix =>
            {
                var digit = (int)(left % radix);
                left /= radix;
                return digit;
            }
        );
    }

    private static string Text(Random random, string pattern) => Fill(pattern, random.Next);

    /// <summary>Fills # with digits and A with letters that are not taken for digits.</summary>
    private static string Fill(string pattern, Func<int, int> draw) =>
        string.Concat(
            pattern.Select(c =>
                c switch
                {
                    '#' => (char)('0' + draw(10)),
                    'A' => Letters[draw(Letters.Length)],
                    _ => c,
                }
            )
        );
}
