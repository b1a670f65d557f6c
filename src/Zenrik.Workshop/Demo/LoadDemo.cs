using System.Globalization;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Caching.Memory;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.Parts;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Stock;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.BenchLedger;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.HouseRules;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.People;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.ServiceMaps;
using Zenrik.Workshop.Stock;
using Zenrik.Workshop.Teardown;
using Model = Zenrik.Workshop.ServiceMaps.Model;

namespace Zenrik.Workshop.Demo;

/// <summary>
/// Makes the invented world of Skerrow Isles Council: the same seed gives the same world, dated back from today.
/// Repairs are made by the real use cases, so their records are what real ones are.
/// </summary>
public sealed class LoadDemo(WorkshopDb db, UserManager<Technician> people, IMemoryCache cache, TimeProvider today)
{
    /// <summary>The password of every demo sign-in.</summary>
    public const string Password = "harbour-workshop";

    private const int Seed = 417;
    private const string Sandpiper = "sandpiper-14";

    /// <summary>Sign-in name, shown name, role.</summary>
    public static IReadOnlyList<(string SignIn, string Name, string Role)> People { get; } =
    [
        ("mara", "M. Tarn", Roles.Lead),
        ("aled", "A. Quill", Roles.Technician),
        ("ines", "I. Rook", Roles.Technician),
        ("bo", "B. Fenner", Roles.Technician),
        ("tove", "T. Marsh", Roles.Technician),
        ("odd", "O. Lister", Roles.Storekeeper),
        ("desk", "School desk", Roles.Reader),
    ];

    private static readonly string[] Offices = ["Council House", "Ferry Office", "Library and Archive", "Clinic Desk"];

    private static readonly string[] Schools =
    [
        "Northsand Primary",
        "Ebbholm Primary",
        "Lanternfield School",
        "Tidewell High",
    ];

    private static readonly string[] Users =
    [
        "Front desk",
        "Ada Merrow",
        "Registrar",
        "Piet Holm",
        "Harbour master",
        "Sunniva Dale",
        "Planning",
        "Jonas Firth",
        "Archive reading room",
        "Triage nurse",
        "Edda Strand",
        "Ticket office",
    ];

    /// <summary>Number, name, type code, slot, how many on the shelf, bin. Slots of the Sandpiper 14.</summary>
    private static readonly (
        string Number,
        string Name,
        string? Type,
        string Slot,
        int Shelf,
        string Bin
    )[] SandpiperParts =
    [
        ("TW-5R0Q-21847", "battery 54 Wh", "BT54-Q", "battery", 1, "A-01"),
        ("TW-5R0Q-22011", "battery 54 Wh", "BT54-Q", "battery", 3, "A-01"),
        ("TW-9B1C-40022", "board, 16 GB class", null, "board", 2, "A-03"),
        ("TW-2K8E-11830", "keyboard, tall Enter", null, "keyboard", 3, "A-04"),
        ("TW-7D4F-30115", "display, no touch", null, "display", 2, "A-05"),
        ("TW-3F0A-50711", "fan", null, "fan", 2, "A-06"),
        ("TW-3H2A-50718", "heatsink", null, "heatsink", 1, "A-06"),
        ("TW-4W6N-61200", "radio card 2230", null, "radio", 2, "A-07"),
        ("TW-8S5T-70512", "drive 512 GB 2280", null, "drive-a", 3, "B-01"),
        ("TW-6M1R-80016", "memory 16 GB DDR4-3200", null, "memory-a", 3, "B-02"),
        ("TW-1P3D-90250", "power port", null, "power-port", 2, "B-03"),
        ("TW-2T9P-11902", "touchpad", null, "touchpad", 0, "A-04"),
        ("TW-1S7L-91114", "speakers, pair", null, "speakers", 1, "B-04"),
        ("TW-1R5C-91330", "card reader board", null, "card-reader", 0, "B-04"),
        ("TW-1F4G-91405", "fingerprint reader", null, "fingerprint", 0, "B-04"),
        ("TW-1C2B-92032", "coin cell CR2032 on a wire", null, "coin-cell", 2, "B-05"),
    ];

    private static readonly string[] ShelvesOfOthers = ["C-01", "C-02", "C-03", "C-11", "C-12", "C-13"];

    private readonly Random random = new(Seed);
    private readonly List<ServiceMap> maps = [];
    private readonly Dictionary<string, CatalogueNumber> catalogue = new(StringComparer.Ordinal);
    private readonly Dictionary<string, Bin> bins = new(StringComparer.Ordinal);
    private readonly Dictionary<(string Model, string Slot), string> inSlot = [];
    private readonly DemoClock clock = new(today.GetUtcNow());

    /// <summary>Fills an empty database.</summary>
    public async Task Run(CancellationToken stop = default)
    {
        db.DemoMarks.Add(new DemoMark());
        await db.SaveChangesAsync(stop);

        foreach (var (signIn, name, role) in People)
        {
            await SignIn(people, signIn, name, role, Password);
        }

        var storekeeper = await ActorOf("odd");
        AddModels();
        AddCatalogue();
        await AddStock(storekeeper, stop);
        await AddFleet(storekeeper, stop);
        await AddRepairs(stop);

        (await db.DemoMarks.SingleAsync(stop)).Complete = true;
        await db.SaveChangesAsync(stop);
    }

    /// <summary>Empties every table but the record of migrations.</summary>
    internal static async Task Clear(WorkshopDb db, CancellationToken stop)
    {
        var tables = string.Join(", ", db.Model.GetEntityTypes().Select(t => $"\"{t.GetTableName()}\"").Distinct());
#pragma warning disable EF1002 // Table names come from the model, not from input.
        await db.Database.ExecuteSqlRawAsync($"TRUNCATE {tables} RESTART IDENTITY CASCADE", stop);
#pragma warning restore EF1002
        db.ChangeTracker.Clear();
    }

    /// <summary>Creates one person with a role.</summary>
    internal static async Task SignIn(
        UserManager<Technician> people,
        string signIn,
        string name,
        string role,
        string password
    )
    {
        var person = new Technician { UserName = signIn, Name = name };
        var made = await people.CreateAsync(person, password);
        if (!made.Succeeded)
        {
            throw new InvalidOperationException(string.Join("; ", made.Errors.Select(e => e.Description)));
        }

        await people.AddToRoleAsync(person, role);
    }

    private async Task<Actor> ActorOf(string signIn)
    {
        var person = (await people.FindByNameAsync(signIn))!;
        return new Actor(person.Id, person.Name);
    }

    private void AddModels()
    {
        foreach (var (file, json) in ShippedMaps.All)
        {
            var map =
                ServiceMapReader.Read(file, json).Map
                ?? throw new InvalidOperationException($"{file} does not pass its checks");
            maps.Add(map);
            db.Models.Add(
                new Model
                {
                    Code = map.Model.Code,
                    Name = map.Model.Name,
                    Maker = map.Model.Maker,
                }
            );
            if (map.Revision > 1)
            {
                AddRevision(BeforeTheHiddenScrew(map), 900);
            }

            AddRevision(map, map.Revision > 1 ? 200 : 900);
        }

        void AddRevision(ServiceMap map, int daysAgo) =>
            db.ServiceMapRevisions.Add(
                new ServiceMapRevision
                {
                    ModelCode = map.Model.Code,
                    Revision = map.Revision,
                    Json = ServiceMapReader.Write(map),
                    AcceptedAt = clock.Back(days: daysAgo),
                }
            );
    }

    /// <summary>The first edition of the business laptop's map: nobody had met the ninth board screw yet.</summary>
    private static ServiceMap BeforeTheHiddenScrew(ServiceMap map) =>
        map with
        {
            Revision = 1,
            Changed = null,
            Fasteners = [.. map.Fasteners.Where(f => f.Id.Value != "board-hidden")],
        };

    private void AddCatalogue()
    {
        foreach (var part in SandpiperParts)
        {
            Know(part.Number, part.Name, Sandpiper, part.Slot, part.Type);
        }

        foreach (var map in maps.Where(m => m.Model.Code != Sandpiper))
        {
            foreach (var part in map.Parts.Where(p => p.Slot is not null))
            {
                var number =
                    map.Model.Maker == "Mossbrook"
                        ? $"MB {random.Next(2100, 2300)}-{random.Next(100, 1000):0000}-{"ABC"[random.Next(3)]}"
                        : Text("TW-#A#A-#####");
                var type = part.Cells ? Text("BT##-A") : null;
                Know(number, $"{part.Name}, {map.Model.Name}", map.Model.Code, part.Slot!, type);
                inSlot[(map.Model.Code, part.Slot!)] = number;
            }
        }

        var paste = CatalogueNumber.Of(
            PartNumber.Read("HP-100").Value,
            "thermal paste, single sachets",
            consumable: nameof(Consumable.ThermalPaste)
        );
        catalogue[paste.Number] = paste;
        db.CatalogueNumbers.AddRange(catalogue.Values);

        void Know(string text, string name, string model, string slot, string? type)
        {
            var number = CatalogueNumber.Of(PartNumber.Read(text).Value, name, type);
            number.Fits.Add(
                new CatalogueFit
                {
                    NumberId = number.Id,
                    ModelCode = model,
                    Slot = slot,
                }
            );
            catalogue[text] = number;
        }
    }

    private async Task AddStock(Actor storekeeper, CancellationToken stop)
    {
        foreach (
            var (code, kind) in SandpiperParts
                .Select(p => p.Bin)
                .Concat(ShelvesOfOthers)
                .Append("B-07")
                .Distinct()
                .Select(code => (code, BinKind.Shelf))
                .Append(("QUARANTINE", BinKind.Quarantine))
                .Append(("OUTSIDE", BinKind.Outside))
        )
        {
            bins[code] = new Bin
            {
                Id = new BinId(Guid.CreateVersion7()),
                Code = code,
                Kind = kind,
            };
        }

        db.Bins.AddRange(bins.Values);
        await db.SaveChangesAsync(stop);

        foreach (var part in SandpiperParts)
        {
            for (var i = 0; i < part.Shelf; i++)
            {
                await Receive(part.Number, part.Bin, storekeeper, stop);
            }
        }

        foreach (var ((model, slot), number) in inSlot)
        {
            var map = maps.First(m => m.Model.Code == model);
            if (map.Assemblies.Any(a => map.Part(a.Part).Slot == slot))
            {
                var bin = ShelvesOfOthers[maps.IndexOf(map) % ShelvesOfOthers.Length];
                for (var i = random.Next(0, 3); i > 0; i--)
                {
                    await Receive(number, bin, storekeeper, stop);
                }
            }
        }

        db.Lots.Add(
            new Lot
            {
                Id = Guid.CreateVersion7(),
                NumberId = catalogue["HP-100"].Id,
                BinId = bins["B-07"].Id,
                OnHand = 5,
            }
        );
        await db.SaveChangesAsync(stop);
    }

    private async Task Receive(string number, string bin, Actor by, CancellationToken stop)
    {
        var item = await NewItem(number, stop);
        db.Movements.Add(
            item.MoveTo(bins[bin], MovementReason.Received, new Occasion(by, clock.Back(days: random.Next(20, 200))))
        );
    }

    private async Task<Item> NewItem(string number, CancellationToken stop)
    {
        var item = await Items.Create(db, catalogue[number], Text("S#########"), stop);
        db.Items.Add(item);
        return item;
    }

    private async Task AddFleet(Actor by, CancellationToken stop)
    {
        var tags = Enumerable
            .Range(1, 430)
            .Where(n => n != 417)
            .OrderBy(_ => random.Next())
            .Take(47)
            .Append(417)
            .Order();
        string[] laptops =
        [
            Sandpiper,
            "sandpiper-13-turn",
            Sandpiper,
            "grebe-15",
            Sandpiper,
            "cormorant-15",
            Sandpiper,
            "plover-12",
            Sandpiper,
            "coot-14",
        ];
        string[] chromebooks = ["thimble-11", "thimble-11-r", "thimble-10-k"];
        foreach (var (i, tag) in tags.Index())
        {
            var school = tag != 417 && i % 4 == 1;
            var code =
                tag == 417 ? Sandpiper
                : school ? chromebooks[i / 4 % 3]
                : laptops[i * 7 % 10];
            var bought = DateOnly.FromDateTime(clock.Back(days: random.Next(300, 1400)).UtcDateTime);
            var unit = new Unit
            {
                Id = new UnitId(Guid.CreateVersion7()),
                Tag = string.Create(CultureInfo.InvariantCulture, $"SK-{tag:00000}"),
                Serial = school ? Text("MX##AA####") : Text("5T#A##A#"),
                ModelCode = code,
                Site = tag == 417 ? "Ferry Office" : Pick(school ? Schools : Offices),
                UserName = school ? null : Pick(Users),
                BoughtOn = bought,
            };
            db.Units.Add(unit);
            await db.SaveChangesAsync(stop);
            var built = new Occasion(by, new DateTimeOffset(bought.AddDays(6), new TimeOnly(9, 30), TimeSpan.Zero));
            foreach (var (number, slot) in BuiltWith(code))
            {
                db.Movements.Add((await NewItem(number, stop)).MoveTo(unit.Id, slot, MovementReason.AsBuilt, built));
            }
        }

        await db.SaveChangesAsync(stop);
    }

    /// <summary>What a new unit of a model holds, by slot.</summary>
    private IEnumerable<(string Number, string Slot)> BuiltWith(string model) =>
        model == Sandpiper
            ? SandpiperParts.Where(p => p.Number != "TW-5R0Q-22011").Select(p => (p.Number, p.Slot))
            : maps.First(m => m.Model.Code == model)
                .Plain()
                .Parts.Where(p => p.Slot is not null)
                .Select(p => (inSlot[(model, p.Slot!)], p.Slot!));

    private async Task AddRepairs(CancellationToken stop)
    {
        var (mara, aled, ines) = (await ActorOf("mara"), await ActorOf("aled"), await ActorOf("ines"));
        var tags = await db
            .Units.Where(u => u.ModelCode == Sandpiper && u.Tag != "SK-00417")
            .OrderBy(u => u.Tag)
            .Select(u => u.Tag)
            .ToListAsync(stop);

        await Repair(tags[0], ("battery", "battery worn"), "Holds an hour since the summer.", 41, null, aled, 1000);
        await Repair(tags[1], ("keyboard", "liquid in the keyboard"), "Tea. Dried for two days.", 26, null, ines, 1000);
        await Repair(tags[2], ("fan", "fan noisy"), null, 12, null, mara, 1000);

        await Repair(tags[3], ("board", "no sign of life"), "No light on either charger.", 2, 1, aled, 24);

        await Repair(tags[4], ("battery", "does not hold charge"), null, 3, 0, ines, 0);
        await Repair(tags[5], ("drive-a", "drive too small"), "Archive scans.", 1, 2, mara, 0);
        await Repair(tags[6], ("keyboard", "keys dead"), "Bottom row.", 1, 3, ines, -1);
        await Repair(tags[7], ("touchpad", "pointer dead"), "Dead in the firmware screens too.", 6, 4, aled, -1);

        var deck = await db.Units.Where(u => u.ModelCode == "thimble-11-r").OrderBy(u => u.Tag).FirstAsync(stop);
        await Repair(deck.Tag, ("deck", "keys missing"), "Three keys, row two.", 1, 2, ines, -1);

        async Task Repair(
            string tag,
            (string Assembly, string Fault) what,
            string? note,
            int daysAgo,
            int? promisedIn,
            Actor by,
            int acts
        )
        {
            db.ChangeTracker.Clear();
            clock.Now = clock.Back(days: daysAgo, hour: 9 + (daysAgo % 6));
            var shelf = new ServiceMapShelf(db, cache);
            var passports = new PassportOf(db, shelf);
            var times = new LearnedTimes(db, cache);
            var plans = new PlanFor(new HouseRulesOf(db), times);
            var benches = new BenchOf(db, shelf, times, cache);
            var promised = promisedIn is { } days
                ? DateOnly.FromDateTime(today.GetUtcNow().UtcDateTime).AddDays(days)
                : (DateOnly?)null;
            var code = (
                await new OpenRepair(db, passports, plans, clock).Run(
                    tag,
                    [new Complaint(what.Assembly, what.Fault)],
                    note,
                    promised,
                    by,
                    stop
                )
            ).Value;
            var number = Repairs.Repair.NumberOf(code)!.Value;
            if (acts < 0)
            {
                return;
            }

            var free = (
                await new RepairOf(db, passports, plans, benches).Candidates(Sandpiper, what.Assembly, stop)
            ).First(c => c.PromisedTo is null);
            _ = (await new ChooseItem(db, benches, clock).Run(number, what.Assembly, free.Code, by, stop)).Value;
            if (acts == 0)
            {
                return;
            }

            clock.Now += TimeSpan.FromMinutes(20);
            _ = (await new StartSession(db, passports, plans, clock).Run(number, by, stop)).Value;
            await Work(number, by, acts, benches, stop);
            if (acts >= 1000)
            {
                db.ChangeTracker.Clear();
                _ = (await new CloseRepair(db, benches, clock).Run(number, by, stop)).Value;
            }
        }
    }

    /// <summary>Does the next acts of a session, as a careful technician would.</summary>
    private async Task Work(long number, Actor by, int acts, BenchOf benches, CancellationToken stop)
    {
        var bench = (await benches.Run(number, stop)).Value;
        for (var i = 0; i < acts && bench.Ledger.Current is { } step; i++)
        {
            clock.Now += TimeSpan.FromSeconds(step.Seconds * (0.7 + (0.7 * random.NextDouble())));
            Entry entry = step.Act.Kind switch
            {
                ActKind.ReadRemoved => new Entry.NumberRead(step.Number, Expected(bench.Ledger.Brief.Removed), false),
                ActKind.ReadFitted => new Entry.NumberRead(step.Number, Expected(bench.Ledger.Brief.Fitted), false),
                _ => new Entry.Done(step.Number, CautionRead: step.MustAcknowledge),
            };
            db.ChangeTracker.Clear();
            var recorded = await new RecordEntry(db, benches, clock).Run(
                number,
                Guid.CreateVersion7(),
                bench.Sequence,
                entry,
                by,
                stop
            );
            bench = recorded.Value;

            string Expected(IReadOnlyDictionary<string, PartNumber> numbers) =>
                numbers[bench.Ledger.Brief.Plan.Map.Part(step.Act.Part).Slot!].Text;
        }
    }

    private string Pick(string[] from) => from[random.Next(from.Length)];

    /// <summary>Fills # with digits and A with letters that are not taken for digits.</summary>
    private string Text(string pattern) =>
        string.Concat(
            pattern.Select(c =>
                c switch
                {
                    '#' => (char)('0' + random.Next(10)),
                    'A' => "CDEFHJKLMNPRTX"[random.Next(14)],
                    _ => c,
                }
            )
        );

    /// <summary>A clock the demo sets back and forth.</summary>
    private sealed class DemoClock(DateTimeOffset today) : TimeProvider
    {
        public DateTimeOffset Now { get; set; }

        /// <summary>A working hour of an earlier day.</summary>
        public DateTimeOffset Back(int days, int hour = 10) =>
            new(today.UtcDateTime.Date.AddDays(-days).AddHours(hour), TimeSpan.Zero);

        public override DateTimeOffset GetUtcNow() => Now;
    }
}
