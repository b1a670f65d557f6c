using System.Globalization;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Zenrik.Core;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.Fleet;
using Zenrik.Core.Parts;
using Zenrik.Core.Repairs;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Sourcing;
using Zenrik.Core.Stock;
using Zenrik.Core.Teardown;
using Zenrik.Core.Triage;
using Zenrik.Workshop;
using Zenrik.Workshop.BenchLedger;
using Zenrik.Workshop.Fit;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.People;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.Shipped;
using Zenrik.Workshop.Stock;
using Zenrik.Workshop.Triage;
using Model = Zenrik.Workshop.Book.Model;

namespace Zenrik.Demo.World;

/// <summary>
/// Makes the invented world of Skerrow Isles Council: the same seed gives the same world, dated back from today.
/// Repairs are made by the real use cases, so their records are what real ones are.
/// </summary>
public sealed class LoadDemo(WorkshopDb db, UserManager<Technician> people, TimeProvider today) : IDisposable
{
    /// <summary>The password of every demo sign-in.</summary>
    public const string Password = "harbour-workshop";

    private const int Seed = 417;
    private const int ScenarioUnits = 430;
    private const string Sandpiper = "sandpiper-14";
    private const string WithoutMap = "thimble-14";

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

    internal static readonly string[] Offices = ["Council House", "Ferry Office", "Library and Archive", "Clinic Desk"];

    internal static readonly string[] Schools =
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

    private static readonly string[] ShelvesOfOthers = ["C-01", "C-02", "C-03", "C-11", "C-12", "C-13"];

    private readonly Random random = new(Seed);
    private readonly List<ServiceMap> maps = [];
    private readonly Dictionary<string, CatalogueNumber> catalogue = new(StringComparer.Ordinal);
    private readonly Dictionary<string, Bin> bins = new(StringComparer.Ordinal);
    private readonly DemoCatalogue shipped = DemoCatalogue.Read();
    private readonly DemoClock clock = new(today.GetUtcNow());

    private ServiceProvider? services;

    /// <summary>The use cases, with the demo's clock.</summary>
    private ServiceProvider Services =>
        services ??= new ServiceCollection()
            .AddLogging()
            .AddWorkshop(db.Database.GetConnectionString()!)
            .AddSingleton<TimeProvider>(clock)
            .BuildServiceProvider();

    public void Dispose() => services?.Dispose();

    /// <summary>Fills an empty database.</summary>
    /// <param name="fleet">Units beyond those of the scenario; 0 for none.</param>
    /// <param name="say">Told how far a large fleet is.</param>
    public async Task Run(int fleet = 0, Action<string>? say = null, CancellationToken stop = default)
    {
        await DemoMark.Set(db, complete: false, stop);

        foreach (var (signIn, name, role) in People)
        {
            await MakePerson.Run(people, signIn, name, role, Password);
        }

        var storekeeper = await ActorOf("odd");
        AddModels();
        AddCatalogue();
        AddSuppliers();
        await AddStock(storekeeper, stop);
        await AddFleet(storekeeper, stop);
        await AddRepairs(stop);
        await AddHours(stop);
        await AddHistory(fleet, say ?? (_ => { }), stop);

        await db.RecountFits(stop);
        await DemoMark.Set(db, complete: true, stop);
    }

    /// <summary>Who is at the bench when, Monday first: one whole week, and parts of weeks.</summary>
    public static IReadOnlyList<(string SignIn, string[] Days)> Hours { get; } =
    [
        ("mara", ["", "", "14:00-16:00", "", "14:00-16:00", "", ""]),
        (
            "aled",
            [
                "08:30-12:00, 13:00-16:30",
                "08:30-12:00, 13:00-16:30",
                "08:30-12:00",
                "08:30-12:00, 13:00-16:30",
                "08:30-12:00, 13:00-16:30",
                "",
                "",
            ]
        ),
        (
            "ines",
            [
                "08:00-12:00, 12:30-16:00",
                "08:00-12:00, 12:30-16:00",
                "08:00-12:00, 12:30-16:00",
                "08:00-12:00, 12:30-16:00",
                "",
                "",
                "",
            ]
        ),
        ("bo", ["09:00-13:00", "", "09:00-13:00", "", "09:00-13:00", "", ""]),
    ];

    private async Task AddHours(CancellationToken stop)
    {
        foreach (var (signIn, days) in Hours)
        {
            db.Add(new BenchHours { TechnicianId = (await ActorOf(signIn)).Id, Days = days });
        }

        var now = today.GetUtcNow();
        db.Add(
            new Absence
            {
                Id = Guid.CreateVersion7(),
                TechnicianId = (await ActorOf("aled")).Id,
                From = new DateTimeOffset(now.Date.AddDays(1), TimeSpan.Zero),
                Until = new DateTimeOffset(now.Date.AddDays(3), TimeSpan.Zero),
                FromCalendar = false,
            }
        );
        await db.SaveChangesAsync(stop);
    }

    /// <summary>Empties every table but the record of migrations.</summary>
    internal static async Task Clear(WorkshopDb db, CancellationToken stop)
    {
        var tables = string.Join(", ", db.Model.GetEntityTypes().Select(t => $"\"{t.GetTableName()}\"").Distinct());
#pragma warning disable EF1002 // Table names come from the model, not from input.
        await db.Database.ExecuteSqlRawAsync($"TRUNCATE {tables}, demo_marks RESTART IDENTITY CASCADE", stop);
#pragma warning restore EF1002
        db.ChangeTracker.Clear();
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
                    Class = map.Model.Class,
                    LifeMonths = map.Model.Class == DeviceClass.Chromebook ? 72 : 84,
                    NewPrice = map.Model.Class == DeviceClass.Chromebook ? 219 : 640,
                    SupportEnds = map.Model.Code switch
                    {
                        "grebe-15" => Today.AddMonths(7),
                        "thimble-10-k" => Today.AddMonths(10),
                        "thimble-11" => Today.AddMonths(38),
                        _ => null,
                    },
                }
            );
            if (map.Revision > 1)
            {
                AddRevision(BeforeTheHiddenScrew(map), 900);
            }

            AddRevision(map, map.Revision > 1 ? 200 : 900);
        }

        // One that came last month: nobody has made its map yet.
        db.Models.Add(
            new Model
            {
                Code = WithoutMap,
                Name = "Thimble 14",
                Maker = "Mossbrook",
                Class = DeviceClass.Chromebook,
                LifeMonths = 72,
                NewPrice = 259,
            }
        );

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

    private DateOnly Today => DateOnly.FromDateTime(today.GetUtcNow().UtcDateTime);

    private void AddCatalogue()
    {
        foreach (var part in shipped.Numbers)
        {
            var number = CatalogueNumber.Of(
                PartNumber.Read(part.Number).Value,
                part.Name,
                part.TypeCode,
                specification: part.Specification
            );
            number.WeightKg = part.WeightKg;
            number.Fits.AddRange(
                part.Fits.Select(f => new CatalogueFit
                {
                    NumberId = number.Id,
                    ModelCode = f.Model,
                    Slot = f.Slot,
                })
            );
            catalogue[part.Number] = number;
        }

        foreach (var part in shipped.Numbers.Where(p => p.SupersededBy is not null))
        {
            catalogue[part.Number].SupersededById = catalogue[part.SupersededBy!].Id;
        }

        var paste = CatalogueNumber.Of(
            PartNumber.Read("QV-100").Value,
            "thermal paste, single sachets",
            consumable: nameof(Consumable.ThermalPaste)
        );
        catalogue[paste.Number] = paste;
        db.CatalogueNumbers.AddRange(catalogue.Values);
    }

    private void AddSuppliers()
    {
        foreach (
            var (name, path) in new[]
            {
                ("Mainland Spares", "mainland"),
                ("Overseas Boards", "overseas"),
                ("Harbour Trader", "harbour"),
            }
        )
        {
            db.Suppliers.Add(
                new Supplier
                {
                    Id = Guid.CreateVersion7(),
                    Name = name,
                    Address = $"{Place.Unknown}suppliers/{path}",
                }
            );
        }

        db.HouseFigures.Add(new HouseFigures { Notice = Place.Notice(null) });
    }

    private async Task AddStock(Actor storekeeper, CancellationToken stop)
    {
        foreach (
            var code in shipped
                .Numbers.Select(p => p.Bin)
                .OfType<string>()
                .Concat(ShelvesOfOthers)
                .Append("B-07")
                .Distinct()
        )
        {
            db.Bins.Add(
                new Bin
                {
                    Id = new BinId(Guid.CreateVersion7()),
                    Code = code,
                    Kind = BinKind.Shelf,
                }
            );
        }

        await db.SaveChangesAsync(stop);
        foreach (var bin in await db.Bins.ToListAsync(stop))
        {
            bins[bin.Code] = bin;
        }

        foreach (var part in shipped.Numbers)
        {
            var (code, slot) = part.Fits is [var first, ..] ? (first.Model, first.Slot) : (null, null);
            var model = maps.Find(m => m.Model.Code == code);
            // Where the file does not say, what can be ordered as an assembly is kept in ones and twos.
            var shelf =
                part.Shelf
                ?? (
                    model is not null && model.Assemblies.Any(a => model.Part(a.Part).Slot == slot)
                        ? random.Next(0, 3)
                        : 0
                );
            var bin = part.Bin ?? ShelvesOfOthers[(model is null ? 0 : maps.IndexOf(model)) % ShelvesOfOthers.Length];
            for (var i = 0; i < shelf; i++)
            {
                await Receive(part.Number, bin, storekeeper, stop);
            }
        }

        var paste = new Lot
        {
            Id = Guid.CreateVersion7(),
            NumberId = catalogue["QV-100"].Id,
            BinId = bins["B-07"].Id,
            OnHand = 5,
        };
        db.Lots.Add(paste);
        db.Movements.Add(
            MovementRecord.Of(new Occasion(storekeeper, clock.Back(days: 60)), MovementReason.Received) with
            {
                LotId = paste.Id,
                Quantity = paste.OnHand,
                FromBinId = bins["OUTSIDE"].Id,
                ToBinId = paste.BinId,
            }
        );
        await db.SaveChangesAsync(stop);
    }

    private async Task Receive(string number, string bin, Actor by, CancellationToken stop)
    {
        var item = await NewItem(number, stop);
        db.Movements.Add(
            item.MoveTo(bins[bin], MovementReason.Received, new Occasion(by, clock.Back(days: random.Next(60, 200))))
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
                // A variant is seen when somebody first has to order for it; most have been looked at.
                if (
                    catalogue[number].Specification?.Looks is { Count: > 0 } looks
                    && code != "sandpiper-13-turn"
                    && (code == Sandpiper || i % 5 != 2)
                )
                {
                    db.UnitLooks.AddRange(
                        looks.Select(l => new UnitLook
                        {
                            UnitId = unit.Id,
                            Trait = l.Key,
                            Look = l.Value,
                            At = built.At,
                            ById = by.Id,
                        })
                    );
                }

                db.Movements.Add((await NewItem(number, stop)).MoveTo(unit.Id, slot, MovementReason.AsBuilt, built));
            }
        }

        foreach (var tag in (int[])[441, 442, 443])
        {
            db.Units.Add(
                new Unit
                {
                    Id = new UnitId(Guid.CreateVersion7()),
                    Tag = string.Create(CultureInfo.InvariantCulture, $"SK-{tag:00000}"),
                    Serial = Text("MX##AA####"),
                    ModelCode = WithoutMap,
                    Site = "Tidewell High",
                    BoughtOn = DateOnly.FromDateTime(clock.Back(days: 40).UtcDateTime),
                }
            );
        }

        await db.SaveChangesAsync(stop);
        var donor = await db
            .Units.Where(u => u.ModelCode == "thimble-11")
            .OrderByDescending(u => u.Tag)
            .FirstAsync(stop);
        donor.State = UnitState.Donor;
        await db.SaveChangesAsync(stop);
    }

    /// <summary>What a new unit of a model holds, by slot.</summary>
    private IEnumerable<(string Number, string Slot)> BuiltWith(string model)
    {
        var slots = maps.First(m => m.Model.Code == model)
            .Plain()
            .Parts.Select(p => p.Slot)
            .OfType<string>()
            .ToHashSet();
        // Memory and drives of a second slot are of the first one's number.
        return shipped
            .Numbers.Where(p => p.AsBuilt)
            .SelectMany(p =>
                p.Fits.Where(f => f.Model == model && slots.Contains(f.Slot)).Select(f => (p.Number, f.Slot))
            )
            .DistinctBy(p => p.Slot);
    }

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

        await AddTroubles(stop);
        await AddUnmapped(ines, stop);

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
            clock.Now = clock.Back(days: daysAgo, hour: 9 + (daysAgo % 6));
            var intake = new Intake
            {
                Known = [new Complaint(what.Assembly, what.Fault)],
                Note = note,
                PromisedOn = promisedIn is { } days ? Today.AddDays(days) : null,
            };
            var number = Zenrik
                .Workshop.Book.Repair.NumberOf(await Do<OpenRepair, string>(o => o.Run(tag, intake, by, stop)))!
                .Value;
            if (acts < 0)
            {
                return;
            }

            var view = await Do<RepairOf, RepairView>(r => r.Run(number, stop));
            var free = view.Lines[0].Candidates.First(c => c.MayBeTaken);
            await Do<ChooseItem, string>(c => c.Run(number, what.Assembly, free.Code, by, stop));
            if (acts == 0)
            {
                return;
            }

            clock.Now += TimeSpan.FromMinutes(20);
            await Do<StartSession, string>(s => s.Run(number, by, stop));
            await Work(number, by, acts, stop);
            if (acts >= 1000)
            {
                await Do<CloseRepair, string>(c => c.Run(number, by, stop));
            }
        }
    }

    /// <summary>Repairs at every point before the bench.</summary>
    private async Task AddTroubles(CancellationToken stop)
    {
        var (mara, aled, bo, tove) = (
            await ActorOf("mara"),
            await ActorOf("aled"),
            await ActorOf("bo"),
            await ActorOf("tove")
        );

        var (turn, deckUnit) = await TwoOf("sandpiper-13-turn");
        var pointer = await TakeIn(
            turn,
            ["pointer-dead"],
            ["slowly"],
            "It came back after a restart, now it does not.",
            1,
            5,
            bo
        );
        await Answer(pointer, new TriageStep.Tested("firmware-input", "dead"), bo);

        await TakeIn(
            await Idle("thimble-11"),
            ["no-wireless"],
            ["after-update"],
            "Since Monday. The others in class 4 are fine.",
            0,
            3,
            tove
        );

        var wet = await TakeIn(
            await Idle("grebe-15"),
            ["will-not-start", "liquid"],
            ["after-liquid", "suddenly"],
            "Coffee, last week. Dried on the heater.",
            2,
            6,
            aled
        );
        await Answer(wet, new TriageStep.Tested("liquid-marks", "marks"), aled);

        await TakeIn(
            await Idle("thimble-11-r"),
            ["swollen", "pointer-jumps"],
            [],
            "The touchpad stands up at the front edge.",
            0,
            null,
            tove
        );

        var dead = await TakeIn(
            await Idle("thimble-11"),
            ["will-not-start"],
            ["after-drop"],
            "Fell off a desk, then nothing.",
            4,
            8,
            bo
        );
        await Answer(dead, new TriageStep.Tested("look-and-listen", "nothing"), bo);
        await Answer(dead, new TriageStep.Tested("charge-light", "no"), bo);
        await Answer(dead, new TriageStep.Tested("other-charger", "no"), bo);
        await Answer(dead, new TriageStep.Tried("hold-button", false), bo);
        await Do<EndTriage, string>(e => e.With(dead, TriageStanding.SureEnough, "board-dead", bo, stop));

        var lines = await TakeIn(
            await Idle(Sandpiper),
            ["picture-artefacts"],
            ["after-repair"],
            "New display last week, lines at the right edge since.",
            1,
            2,
            mara
        );
        await Answer(lines, new TriageStep.Tested("firmware-picture", "same"), mara);

        var dusty = await TakeIn(await Idle("cormorant-15"), ["fan-noisy"], ["slowly"], null, 9, 4, aled);
        await Answer(dusty, new TriageStep.Tested("vent-look", "dusty"), aled);
        await Answer(dusty, new TriageStep.Tried("blow-clean", true), aled);
        await Do<EndTriage, string>(e => e.With(dusty, TriageStanding.Cured, "dust", aled, stop));

        var fine = await TakeIn(
            await Idle("thimble-10-k"),
            ["keys-dead"],
            ["sometimes"],
            "Says the p sticks.",
            6,
            3,
            tove
        );
        await Answer(fine, new TriageStep.Tested("key-tester", "all-work"), tove);
        await Do<EndTriage, string>(e => e.With(fine, TriageStanding.NoFaultFound, "no-fault", tove, stop));

        // A larger drive is wanted, and the one on the shelf has chips on both sides.
        clock.Now = clock.Back(days: 2, hour: 14);
        var full = await Idle(Sandpiper);
        await Do<OpenRepair, string>(o =>
            o.Run(
                full,
                new Intake
                {
                    Known = [new Complaint("drive-a", "drive too small")],
                    Note = "Needs a terabyte for the survey pictures.",
                    PromisedOn = Today.AddDays(9),
                },
                mara,
                stop
            )
        );

        // One waits for a deck that is on the ferry.
        clock.Now = clock.Back(days: 3, hour: 11);
        var deck = Zenrik
            .Workshop.Book.Repair.NumberOf(
                await Do<OpenRepair, string>(o =>
                    o.Run(
                        deckUnit,
                        new Intake
                        {
                            Known = [new Complaint("deck", "pointer dead")],
                            PromisedOn = Today.AddDays(6),
                            Priority = Priority.High,
                        },
                        bo,
                        stop
                    )
                )
            )!
            .Value;
        var repair = await db.Repairs.AsNoTracking().Include(r => r.Lines).SingleAsync(r => r.Number == deck, stop);
        db.PartOrders.Add(
            new PartOrder
            {
                Id = Guid.CreateVersion7(),
                RequestId = Guid.CreateVersion7(),
                SupplierId = (await db.Suppliers.SingleAsync(s => s.Name == "Mainland Spares", stop)).Id,
                Number = shipped
                    .Numbers.First(p => p.AsBuilt && p.Fits[0] is { Model: "sandpiper-13-turn", Slot: "deck" })
                    .Number,
                Grade = PartGrade.Brand,
                Quantity = 1,
                Freight = "ground and ferry",
                Landed = 121.20m,
                Currency = "GBP",
                Expected = Today.AddDays(2),
                Acknowledged = "M-77120",
                RepairId = repair.Id,
                LineId = repair.Lines[0].Id,
                At = clock.Now,
                ById = bo.Id,
            }
        );
        await db.SaveChangesAsync(stop);
    }

    private async Task<(string, string)> TwoOf(string model)
    {
        var tags = await db
            .Units.Where(u => u.ModelCode == model)
            .OrderBy(u => u.Tag)
            .Select(u => u.Tag)
            .Take(2)
            .ToListAsync();
        return (tags[0], tags[1]);
    }

    /// <summary>The first unit of a model that has never been in a repair.</summary>
    private Task<string> Idle(string model) =>
        db
            .Units.Where(u =>
                u.ModelCode == model
                && u.Tag != "SK-00417"
                && u.State == UnitState.InUse
                && !db.Repairs.Any(r => r.UnitId == u.Id)
            )
            .OrderBy(u => u.Tag)
            .Select(u => u.Tag)
            .FirstAsync();

    private async Task<long> TakeIn(
        string tag,
        string[] symptoms,
        string[] circumstances,
        string? note,
        int daysAgo,
        int? promisedIn,
        Actor by
    )
    {
        clock.Now = clock.Back(days: daysAgo, hour: 8 + (daysAgo % 5));
        var code = await Do<OpenRepair, string>(o =>
            o.Run(
                tag,
                new Intake
                {
                    Symptoms = symptoms,
                    Circumstances = circumstances,
                    Note = note,
                    PromisedOn = promisedIn is { } days ? Today.AddDays(days) : null,
                },
                by
            )
        );
        return Zenrik.Workshop.Book.Repair.NumberOf(code)!.Value;
    }

    private Task<int> Answer(long repair, TriageStep step, Actor by)
    {
        clock.Now += TimeSpan.FromMinutes(4);
        return Do<AnswerTriage, int>(a => a.Run(repair, Guid.CreateVersion7(), step, by));
    }

    /// <summary>Runs a use case as a request would, at the demo's hour.</summary>
    private async Task<T> Do<TUseCase, T>(Func<TUseCase, Task<Outcome<T>>> use)
        where TUseCase : notnull
    {
        await using var scope = Services.CreateAsyncScope();
        return (await use(scope.ServiceProvider.GetRequiredService<TUseCase>())).Value;
    }

    /// <summary>Does the next acts of a session, as a careful technician would.</summary>
    private async Task Work(long number, Actor by, int acts, CancellationToken stop)
    {
        var bench = await Do<BenchOf, BenchView>(b => b.Run(number, stop));
        for (var i = 0; i < acts && bench.Ledger.Current is { } step; i++)
        {
            clock.Now += TimeSpan.FromSeconds(step.Seconds * (0.7 + (0.7 * random.NextDouble())));
            Entry entry = step.Act.Kind switch
            {
                ActKind.Undo when Odd(number, step) is { } odd => odd,
                ActKind.ReadRemoved => new Entry.NumberRead(step.Number, Expected(bench.Ledger.Brief.Removed), false),
                ActKind.ReadFitted => new Entry.NumberRead(step.Number, Expected(bench.Ledger.Brief.Fitted), false),
                ActKind.PutIn when bench.Ledger.ToTick is [var item, ..] => new Entry.Moved(step.Number, item.Item),
                _ => new Entry.Done(step.Number, CautionRead: step.MustAcknowledge),
            };
            var sequence = bench.Sequence;
            bench = await Do<RecordEntry, BenchView>(r =>
                r.Run(number, Guid.CreateVersion7(), sequence, entry, by, stop)
            );

            string Expected(IReadOnlyDictionary<string, PartNumber> numbers) =>
                numbers[bench.Ledger.Plan.Map.Part(step.Act.Part).Slot!].Text;
        }
    }

    /// <summary>What two of the demo's closed sessions found to be other than the map says.</summary>
    private static Entry.CountDiffers? Odd(long repair, PlanStep step) =>
        (repair, step.Act.ToString()) switch
        {
            (1001, "undo:base-screws") => new Entry.CountDiffers(
                step.Number,
                8,
                Difference.MapWrong,
                "One more under the rear left foot."
            ),
            (1002, "undo:base-screws") => new Entry.CountDiffers(
                step.Number,
                6,
                Difference.MissingBefore,
                "Rear right hole was empty."
            ),
            _ => null,
        };

    /// <summary>A repair of a model nobody has made a map of, its things named as they came off.</summary>
    private async Task AddUnmapped(Actor by, CancellationToken stop)
    {
        var number = await TakeIn("SK-00442", ["fan-noisy"], [], "Rattles since it came.", 1, 6, by);
        clock.Now += TimeSpan.FromMinutes(12);
        await Do<StartSession, string>(s => s.Run(number, by, stop));
        await Work(number, by, 3, stop);
        NamedThing[] things =
        [
            new()
            {
                Kind = NamedKind.Screws,
                Name = "base, rear row",
                Count = 5,
                Drive = Drive.PH0,
                LengthMm = 6,
            },
            new()
            {
                Kind = NamedKind.Screws,
                Name = "base, front row",
                Count = 4,
                Drive = Drive.PH0,
                LengthMm = 4,
            },
            new() { Kind = NamedKind.Part, Name = "base cover" },
            new() { Kind = NamedKind.Isolation, Name = "battery plug" },
            new() { Kind = NamedKind.Tie, Name = "foil over the fan" },
        ];
        foreach (var thing in things)
        {
            clock.Now += TimeSpan.FromSeconds(40 + random.Next(60));
            var bench = await Do<BenchOf, BenchView>(b => b.Run(number, stop));
            var entry = new Entry.Named(bench.Ledger.Current!.Number, thing);
            await Do<RecordEntry, BenchView>(r =>
                r.Run(number, Guid.CreateVersion7(), bench.Sequence, entry, by, stop)
            );
        }
    }

    /// <summary>The rest of the fleet, with three years behind it, and what the stores keep of it all.</summary>
    private async Task AddHistory(int fleet, Action<string> say, CancellationToken stop)
    {
        var taken = (await db.Units.Select(u => u.Tag).ToListAsync(stop)).ToHashSet();
        var rest = Enumerable.Range(1, ScenarioUnits).Where(n => !taken.Contains(Tag(n))).ToList();
        var generated = await LargeFleet.Open(db, maps, shipped, catalogue, BuiltWith, bins, shelf: "C-13", stop);
        await generated.Add(
            new FleetPlan(rest, ChromebookShare: 70, MainOnly: false, null, Years: 3, today.GetUtcNow()),
            _ => { },
            stop
        );
        await PastOrders.Add(db, shipped, await ActorOf("odd"), today.GetUtcNow(), stop);
        if (fleet > 0)
        {
            await generated.AddLarge(fleet, today.GetUtcNow(), say, stop);
        }

        db.ChangeTracker.Clear();
        await AddCampaigns(stop);
        await LendSome(stop);
        await SetLevels(stop);
    }

    /// <summary>What has to be done on many units: a bad lot that nobody has begun with, and cleaning that is under way.</summary>
    private async Task AddCampaigns(CancellationToken stop)
    {
        var by = await ActorOf("mara");
        var worn = await db
            .Units.Where(u => u.State == UnitState.InUse)
            .Where(u => db.Items.Any(i => i.UnitId == u.Id && i.Batch == FailureProcess.BadLot))
            .OrderBy(u => u.Tag)
            .Select(u => u.Tag)
            .Take(200)
            .ToListAsync(stop);
        clock.Now = clock.Back(days: 12);
        await Begin(
            $"Keyboards of lot {FailureProcess.BadLot}",
            worn,
            RepairPurpose.Fault,
            "deck",
            "keys die early",
            45
        );

        var dusty = await db
            .Units.Where(u => u.ModelCode == "grebe-15" && u.State == UnitState.InUse)
            .OrderBy(u => u.Site)
            .ThenBy(u => u.Tag)
            .Select(u => u.Tag)
            .ToListAsync(stop);
        const string Cleaning = "Dust before the winter";
        clock.Now = clock.Back(days: 20);
        await Begin(Cleaning, dusty, RepairPurpose.Cleaning, null, "they run hot and slow down", 25);
        clock.Now = clock.Back(days: 6, hour: 15);
        await Do<ChangeUnits, string>(c => c.Done(Guid.CreateVersion7(), [.. dusty.Take(5)], Cleaning, by, stop));

        async Task Begin(
            string name,
            IReadOnlyList<string> tags,
            RepairPurpose purpose,
            string? assembly,
            string why,
            int days
        )
        {
            await Do<ChangeUnits, string>(c => c.Mark(Guid.CreateVersion7(), tags, name, by, stop));
            await Do<KeepCampaigns, string>(k => k.Say(name, purpose, assembly, why, Today.AddDays(days), by, stop));
        }
    }

    private async Task LendSome(CancellationToken stop)
    {
        var by = await ActorOf("tove");
        var pool = await db
            .Units.Where(u => u.InLoanPool && u.State == UnitState.InUse)
            .OrderBy(u => u.Tag)
            .Select(u => u.Tag)
            .Take(3)
            .ToListAsync(stop);
        foreach (
            var (tag, to, days) in pool.Zip(["Year 6, desk 4", "Sunniva Dale", "Exam room"], (tag, to) => (tag, to, 4))
        )
        {
            clock.Now = clock.Back(days);
            await Do<LendUnit, string>(l => l.Out(Guid.CreateVersion7(), tag, to, Today.AddDays(days), null, by, stop));
        }
    }

    /// <summary>Levels for what is exchanged most; some numbers are below theirs.</summary>
    private async Task SetLevels(CancellationToken stop)
    {
        string[] kept = [Sandpiper, "thimble-11", "thimble-11-r"];
        var numbers = shipped
            .Numbers.Where(p => p.AsBuilt && p.SupersededBy is null && p.Fits.Any(f => kept.Contains(f.Model)))
            .Where(p => p.Fits[0].Slot is "battery" or "keyboard" or "keyboard-deck" or "fan" or "drive-a" or "display")
            .Select(p => p.Number)
            .ToList();
        await db
            .CatalogueNumbers.Where(n => numbers.Contains(n.Number))
            .ExecuteUpdateAsync(n => n.SetProperty(x => x.MinimumLevel, 2).SetProperty(x => x.OrderUpTo, 4), stop);
    }

    private static string Tag(int number) => string.Create(CultureInfo.InvariantCulture, $"SK-{number:00000}");

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
