using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Fit;
using Zenrik.Core.Importing;
using Zenrik.Core.MapMaking;
using Zenrik.Core.Reliability;
using Zenrik.Core.Repairs;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Batteries;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.MapMaking;
using Zenrik.Workshop.People;
using Zenrik.Workshop.Reliability;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.Scheduling;

namespace Zenrik.Workshop.Exporting;

/// <summary>A list as it leaves: rows are read from the database as they are written, however many they are.</summary>
/// <param name="Id">Names its file: "units".</param>
/// <param name="Headings">Those of the sheet it can be taken in as again, where there is one.</param>
public sealed record OutList(
    string Id,
    string Name,
    IReadOnlyList<string> Headings,
    IAsyncEnumerable<IReadOnlyList<string?>> Rows
);

/// <summary>Every list of the book, to be used elsewhere. What is given out can be taken in again and changes nothing.</summary>
public sealed class GiveOutLists(
    WorkshopDb db,
    ListUnits units,
    ListHistory history,
    ListAudit audit,
    FleetBatteries batteries,
    FleetLives lives,
    ExpectedDemand demand,
    ViewCalendar calendar
)
{
    /// <summary>What can be given out, by id.</summary>
    public static IReadOnlyList<(string Id, string Name, string Says)> Known { get; } =
    [
        ("models", "Models", "what the organisation owns"),
        ("units", "Units", "every machine, its site and user"),
        ("inside", "What is inside", "every slot of every unit with its number and serial"),
        ("teardown", "What comes off, in order", "of each model whose map is made here"),
        ("numbers", "Part numbers", "with what is known of them and where they are listed"),
        ("stock", "Stock by bin", "every item on the shelves, and what is counted without labels"),
        ("prices", "Price lists", "what suppliers kept by hand ask"),
        ("movements", "Movements", "every part that ever moved: when, who, why, from where, to where"),
        ("repairs", "Repairs", "open and closed, with their minutes"),
        ("orders", "Orders", "from whom, what, when, what it cost landed"),
        ("batteries", "Batteries", "the health of each that has spoken, and when it comes under the limit"),
        ("watch", "Worse than their peers", "lots, numbers and sites whose parts live shorter than others"),
        ("lives", "How long parts served", "each part's time in each unit, and why it came out"),
        ("spares", "Spares wanted", "what each slot will want of the shelf in two months, enough in 95 of 100 cases"),
        ("bench", "Bench calendar", "who does which repair when"),
        ("loans", "Loans", "who had what, and until when"),
        ("people", "People", "who may sign in, and as what"),
        ("audit", "Who changed what", "every change of the book: when, who, what about, before and after"),
    ];

    /// <summary>A list; null where there is none of that id.</summary>
    /// <param name="query">Which units, for the list of units.</param>
    /// <param name="ended">Which ended repairs, for that list; null: all repairs, open ones too.</param>
    /// <param name="about">What the changes are about, for that list.</param>
    /// <param name="by">Who made them.</param>
    public OutList? Find(
        string? id,
        UnitQuery? query = null,
        HistoryQuery? ended = null,
        string? about = null,
        string? by = null
    ) =>
        id switch
        {
            "models" => List(
                id,
                Sheets.Models,
                ["maker", "name", "class", "price", "life", "warranty", "supportEnds"],
                Models()
            ),
            "units" => List(
                id,
                Sheets.Units,
                ["tag", "serial", "model", "maker", "site", "user", "bought", "warranty", "loan"],
                Units(query ?? new UnitQuery()),
                "state"
            ),
            "inside" => List(
                id,
                Sheets.Inside([]),
                ["tag", "slot", "number", "serial"],
                Inside(),
                "what it is",
                "since"
            ),
            "teardown" => List(
                id,
                Sheets.Teardown,
                ["model", "maker", "thing", "kind", "count", "drive", "length", "of"],
                Teardowns()
            ),
            "numbers" => List(id, Sheets.Numbers, ["number", "name", "kind", "model", "slot", .. Facts], Numbers()),
            "stock" => List(
                id,
                Sheets.Stock,
                ["bin", "number", "quantity", "serial", "lot", "cost", "name", "kind"],
                Stock(),
                "label",
                "promised to"
            ),
            "prices" => List(
                id,
                Sheets.Prices,
                ["supplier", "number", "price", "from", "days", "grade", "weight", "stock"],
                Prices()
            ),
            "batteries" => new OutList(
                id,
                "Batteries",
                ["tag", "site", "model", "number", "Wh", "health", "a year", "earliest", "due", "latest"],
                Batteries()
            ),
            "watch" => new OutList(
                id,
                "Worse than their peers",
                [
                    "by",
                    "value",
                    "model",
                    "slot",
                    "parts",
                    "in service",
                    "failed",
                    "expected",
                    "chance",
                    "how sure",
                    "since",
                ],
                Watched()
            ),
            "lives" => new OutList(
                id,
                "How long parts served",
                ["model", "slot", "tag", "number", "lot", "supplier", "site", "from", "to", "days", "how it ended"],
                Lives()
            ),
            "spares" => new OutList(
                id,
                "Spares wanted",
                [
                    "model",
                    "slot",
                    "part number",
                    "in service",
                    "will fail",
                    "low",
                    "high",
                    "enough",
                    "free",
                    "coming",
                    "order",
                ],
                Spares()
            ),
            "bench" => new OutList(
                id,
                "Bench calendar",
                ["repair", "unit", "what", "hand", "begins", "ends", "promised", "minutes late", "chance late"],
                Bench()
            ),
            "movements" => new OutList(
                id,
                "Movements",
                ["when", "who", "why", "note", "repair", "label", "part number", "how many", "from", "to"],
                Movements()
            ),
            "repairs" => new OutList(
                id,
                "Repairs",
                [
                    "repair",
                    "unit",
                    "model",
                    "site",
                    "trouble",
                    "state",
                    "taken in",
                    "promised for",
                    "closed",
                    "closed by",
                    "minutes planned",
                    "minutes taken",
                    "out",
                    "in",
                ],
                Repairs(ended is null or { IsAll: true } ? db.Repairs.AsNoTracking() : history.Meant(ended))
            ),
            "orders" => new OutList(
                id,
                "Orders",
                [
                    "ordered",
                    "by",
                    "supplier",
                    "part number",
                    "how many",
                    "arrived",
                    "state",
                    "expected",
                    "landed",
                    "currency",
                    "landed in fact",
                    "repair",
                ],
                Orders()
            ),
            "loans" => new OutList(id, "Loans", ["unit", "to", "out", "due", "back", "repair"], Loans()),
            "audit" => new OutList(
                id,
                "Who changed what",
                ["when", "who", "did", "about", "what", "which", "before", "after"],
                Audit(about, by)
            ),
            "people" => List(id, Sheets.People, ["signIn", "name", "role"], People(), "left"),
            _ => null,
        };

    private static readonly string[] Facts =
    [
        .. Enum.GetValues<ItemKind>()
            .SelectMany(SpecificationForm.Of)
            .Select(f => f.Name)
            .Where(n => Sheets.Numbers.Column(n) is not null)
            .Distinct(),
    ];

    private static OutList List(
        string id,
        Sheet sheet,
        IReadOnlyList<string> columns,
        IAsyncEnumerable<IReadOnlyList<string?>> rows,
        params string[] more
    ) => new(id, sheet.Name, [.. columns.Select(c => sheet.Column(c)!.Name), .. more], rows);

    private IAsyncEnumerable<IReadOnlyList<string?>> Models() =>
        db
            .Models.AsNoTracking()
            .Where(m => m.MergedInto == null)
            .OrderBy(m => m.Maker)
            .ThenBy(m => m.Name)
            .AsAsyncEnumerable()
            .Select(
                IReadOnlyList<string?> (m) =>
                    [
                        m.Maker,
                        m.Name,
                        $"{m.Class}",
                        Text(m.NewPrice),
                        Text(m.LifeMonths),
                        Text(m.WarrantyMonths),
                        Text(m.SupportEnds),
                    ]
            );

    private async IAsyncEnumerable<IReadOnlyList<string?>> Batteries()
    {
        foreach (
            var b in (await batteries.Run())
                .Batteries.OrderBy(b => b.Forecast.Due ?? DateOnly.MaxValue)
                .ThenBy(b => b.Tag, StringComparer.Ordinal)
        )
        {
            yield return
            [
                b.Tag,
                b.Site,
                b.Model,
                b.Number,
                Figure(b.Wh),
                Figure(Math.Round(b.Forecast.Now, 4)),
                Figure(Math.Round(b.Forecast.PerDay * 365.25, 4)),
                Figure(b.Forecast.Earliest),
                Figure(b.Forecast.Due),
                Figure(b.Forecast.Latest),
            ];
        }
    }

    private async IAsyncEnumerable<IReadOnlyList<string?>> Watched()
    {
        foreach (var f in (await lives.Run()).Found)
        {
            yield return
            [
                $"{f.By}".ToLowerInvariant(),
                f.Value,
                f.Model,
                f.Slot,
                Figure(f.Parts),
                Figure(f.InService),
                Figure(f.Test.Failed),
                Figure(Math.Round(f.Test.Expected, 2)),
                Figure(Math.Round(f.Test.Worse, 5)),
                f.Suspected ? "suspected" : "believed",
                Figure(f.Since),
            ];
        }
    }

    private async IAsyncEnumerable<IReadOnlyList<string?>> Lives()
    {
        foreach (var part in (await lives.Run()).Parts)
        {
            var life = part.Life;
            yield return
            [
                life.Model,
                life.Slot,
                part.Tag,
                life.Number,
                life.Lot,
                life.Supplier,
                life.Site,
                Figure(life.Life.From),
                Figure(life.Life.To),
                Figure(life.Life.Days),
                part.Cause switch
                {
                    RemovalCause.Wear => "failed",
                    RemovalCause.Accident => "came to harm",
                    not null => "taken out",
                    null => part.Serves ? "serves" : "its unit is out of use",
                },
            ];
        }
    }

    /// <summary>Days the shelf is to last, and in what share of cases.</summary>
    private const int SparesDays = 60;

    private const double SparesLevel = 0.95;

    private async IAsyncEnumerable<IReadOnlyList<string?>> Spares()
    {
        foreach (var d in await demand.Run(SparesDays, SparesLevel))
        {
            yield return
            [
                d.Slot.Model,
                d.Slot.Slot,
                d.Numbers.Count > 0 ? d.Numbers[0] : null,
                Figure(d.InService),
                Figure(Math.Round(d.Expected, 3)),
                Figure(d.Low),
                Figure(d.High),
                Figure(d.Enough),
                Figure(d.Free),
                Figure(d.Coming),
                Figure(d.ToOrder),
            ];
        }
    }

    private async IAsyncEnumerable<IReadOnlyList<string?>> Bench()
    {
        foreach (var j in (await calendar.Run()).Jobs)
        {
            yield return
            [
                j.Task.Code,
                j.Task.Unit.Tag,
                j.Task.What,
                j.Placed.Hand.Name,
                Figure(j.Placed.Begins),
                Figure(j.Placed.Ends),
                Figure(j.Task.PromisedOn),
                Figure(j.Placed.MinutesLate),
                Figure(Math.Round(j.Placed.ChanceLate, 4)),
            ];
        }
    }

    /// <summary>A figure as it was reckoned, to be reckoned with.</summary>
    private static string? Figure(IFormattable? value) =>
        value?.ToString(value is DateOnly or DateTimeOffset ? "O" : null, CultureInfo.InvariantCulture);

    private async IAsyncEnumerable<IReadOnlyList<string?>> Units(UnitQuery query)
    {
        var meant = await units.Meant(query);
        await foreach (
            var u in meant
                .OrderBy(u => u.Tag)
                .Select(u => new
                {
                    u.Tag,
                    u.Serial,
                    Model = u.Model.Name,
                    u.Model.Maker,
                    u.Site,
                    u.UserName,
                    u.BoughtOn,
                    u.WarrantyUntil,
                    u.InLoanPool,
                    u.State,
                })
                .AsAsyncEnumerable()
        )
        {
            yield return
            [
                u.Tag,
                u.Serial,
                u.Model,
                u.Maker,
                u.Site,
                u.UserName,
                Text(u.BoughtOn),
                Text(u.WarrantyUntil),
                u.InLoanPool ? "yes" : "no",
                Core.Fleet.UnitLife.Name(u.State),
            ];
        }
    }

    private IAsyncEnumerable<IReadOnlyList<string?>> Inside() =>
        db
            .Items.AsNoTracking()
            .Where(i => i.UnitId != null)
            .OrderBy(i => i.Unit!.Tag)
            .ThenBy(i => i.Slot)
            .Select(i => new
            {
                i.Unit!.Tag,
                i.Slot,
                i.Number.Number,
                i.Serial,
                i.Number.Name,
                Since = db
                    .Movements.Where(m => m.ItemId == i.Id && m.ToUnitId == i.UnitId)
                    .OrderByDescending(m => m.Id)
                    .Select(m => (DateTimeOffset?)m.At)
                    .FirstOrDefault(),
            })
            .AsAsyncEnumerable()
            .Select(IReadOnlyList<string?> (i) => [i.Tag, i.Slot, i.Number, i.Serial, i.Name, Text(i.Since)]);

    private async IAsyncEnumerable<IReadOnlyList<string?>> Teardowns()
    {
        var models = await db
            .Models.AsNoTracking()
            .Where(m => m.MergedInto == null && db.DraftSteps.Any(s => s.ModelCode == m.Code))
            .OrderBy(m => m.Name)
            .ToListAsync();
        foreach (var model in models)
        {
            var draft = await db.DraftOf(model.Code, int.MaxValue, default);
            foreach (var (_, thing, of) in WrittenOrder.Of(draft))
            {
                yield return
                [
                    model.Name,
                    model.Maker,
                    thing.Name,
                    WrittenOrder.KindOf(thing),
                    thing.Kind == Core.BenchLedger.NamedKind.Screws
                        ? thing.Count.ToString(CultureInfo.InvariantCulture)
                        : null,
                    thing.Drive?.Name(),
                    thing.LengthMm?.ToString("0.##", CultureInfo.InvariantCulture),
                    of,
                ];
            }
        }
    }

    private async IAsyncEnumerable<IReadOnlyList<string?>> Numbers()
    {
        var models = await db.Models.AsNoTracking().ToDictionaryAsync(m => m.Code, m => m.Name);
        await foreach (
            var n in db
                .CatalogueNumbers.AsNoTracking()
                .Include(n => n.Fits)
                .OrderBy(n => n.Number)
                .AsSplitQuery()
                .AsAsyncEnumerable()
        )
        {
            var facts = n.Specification is { } known
                ? SpecificationForm.Values(known)
                : new Dictionary<string, string>();
            // A line for each slot it is listed for, one for a number that is listed for none.
            foreach (
                var fit in n
                    .Fits.OrderBy(f => f.ModelCode, StringComparer.Ordinal)
                    .ThenBy(f => f.Slot, StringComparer.Ordinal)
                    .DefaultIfEmpty()
            )
            {
                yield return
                [
                    n.Number,
                    n.Name,
                    $"{n.Kind}".ToLowerInvariant(),
                    fit is null ? null : models.GetValueOrDefault(fit.ModelCode),
                    fit?.Slot,
                    .. Facts.Select(f => facts.GetValueOrDefault(f)),
                ];
            }
        }
    }

    private async IAsyncEnumerable<IReadOnlyList<string?>> Stock()
    {
        // Pieces told apart by a serial or a price stand by themselves; the rest of a bin's number is one line.
        var items = db
            .Items.AsNoTracking()
            .Where(i => i.BinKind == BinKind.Shelf)
            .GroupBy(i => new
            {
                i.Bin!.Code,
                i.Number.Number,
                i.Number.Name,
                i.Number.Kind,
                i.Serial,
            })
            .OrderBy(g => g.Key.Code)
            .ThenBy(g => g.Key.Number)
            .ThenBy(g => g.Key.Serial)
            .Select(g => new
            {
                g.Key,
                Count = g.Count(),
                Lot = g.Min(i => i.Batch),
                Cost = g.Max(i => i.Cost),
                Label = g.Min(i => i.Code),
                Promised = g.Max(i => i.Reservation == null ? (long?)null : i.Reservation.Repair.Number),
            });
        await foreach (var i in items.AsAsyncEnumerable())
        {
            yield return
            [
                i.Key.Code,
                i.Key.Number,
                Text(i.Count),
                i.Key.Serial,
                i.Lot,
                Text(i.Cost),
                i.Key.Name,
                $"{i.Key.Kind}".ToLowerInvariant(),
                i.Count == 1 ? i.Label : $"from {i.Label} on",
                i.Promised is { } repair ? Repair.CodeOf(repair) : null,
            ];
        }

        await foreach (
            var l in db
                .Lots.AsNoTracking()
                .Where(l => l.Bin.Kind == BinKind.Shelf && l.OnHand > 0)
                .OrderBy(l => l.Bin.Code)
                .ThenBy(l => l.Number.Number)
                .Select(l => new
                {
                    l.Bin.Code,
                    l.Number.Number,
                    l.OnHand,
                    l.Number.Name,
                    l.Number.Kind,
                })
                .AsAsyncEnumerable()
        )
        {
            yield return
            [
                l.Code,
                l.Number,
                Text(l.OnHand),
                null,
                null,
                null,
                l.Name,
                $"{l.Kind}".ToLowerInvariant(),
                null,
                null,
            ];
        }
    }

    private IAsyncEnumerable<IReadOnlyList<string?>> Prices() =>
        db
            .StoredOffers.AsNoTracking()
            .Include(o => o.Supplier)
            .Where(o => o.Supplier.Address == null)
            .OrderBy(o => o.Supplier.Name)
            .ThenBy(o => o.Canonical)
            .AsAsyncEnumerable()
            .Select(
                IReadOnlyList<string?> (o) =>
                    [
                        o.Supplier.Name,
                        o.Offer.Number,
                        Text(o.Offer.Price.Amount),
                        Text(o.Offer.MinimumQuantity),
                        Text(o.Offer.HandlingDays),
                        $"{o.Offer.Grade}".ToLowerInvariant(),
                        o.Offer.WeightKg.ToString("0.###", CultureInfo.InvariantCulture),
                        Text(o.Offer.InStock),
                    ]
            );

    private IAsyncEnumerable<IReadOnlyList<string?>> Movements() =>
        db
            .Movements.AsNoTracking()
            .OrderBy(m => m.Id)
            .Select(m => new
            {
                m.At,
                By = m.By.Name,
                m.Reason,
                m.Note,
                Repair = m.Repair == null ? (long?)null : m.Repair.Number,
                Label = m.Item == null ? null : m.Item.Code,
                Number = m.Item == null
                    ? db.Lots.Where(l => l.Id == m.LotId).Select(l => l.Number.Number).FirstOrDefault()
                    : m.Item.Number.Number,
                m.Quantity,
                FromBin = db.Bins.Where(b => b.Id == m.FromBinId).Select(b => b.Code).FirstOrDefault(),
                FromUnit = db.Units.Where(u => u.Id == m.FromUnitId).Select(u => u.Tag).FirstOrDefault(),
                m.FromSlot,
                ToBin = db.Bins.Where(b => b.Id == m.ToBinId).Select(b => b.Code).FirstOrDefault(),
                ToUnit = db.Units.Where(u => u.Id == m.ToUnitId).Select(u => u.Tag).FirstOrDefault(),
                m.ToSlot,
            })
            .AsAsyncEnumerable()
            .Select(
                IReadOnlyList<string?> (m) =>
                    [
                        Text(m.At),
                        m.By,
                        $"{m.Reason}",
                        m.Note,
                        m.Repair is { } repair ? Repair.CodeOf(repair) : null,
                        m.Label,
                        m.Number,
                        Text(m.Quantity),
                        m.FromUnit is null ? m.FromBin : $"{m.FromUnit} {m.FromSlot}",
                        m.ToUnit is null ? m.ToBin : $"{m.ToUnit} {m.ToSlot}",
                    ]
            );

    private static IAsyncEnumerable<IReadOnlyList<string?>> Repairs(IQueryable<Repair> repairs) =>
        repairs
            .Include(r => r.Unit.Model)
            .Include(r => r.ClosedBy)
            .Include(r => r.Lines)
            .OrderBy(r => r.Number)
            .AsSplitQuery()
            .AsAsyncEnumerable()
            .Select(
                IReadOnlyList<string?> (r) =>
                    [
                        r.Code,
                        r.Unit.Tag,
                        r.Unit.Model.Name,
                        r.Unit.Site,
                        string.Join(
                            ", ",
                            r.Lines.Count > 0 ? r.Lines.OrderBy(l => l.Position).Select(l => l.Fault) : r.Symptoms
                        ),
                        $"{r.State}",
                        Text(r.OpenedAt),
                        Text(r.PromisedOn),
                        Text(r.ClosedAt),
                        r.ClosedBy?.Name,
                        Text(r.MinutesPlanned),
                        Text(r.MinutesTaken),
                        string.Join(" ", r.Lines.OrderBy(l => l.Position).Select(l => l.NumberOut).OfType<string>()),
                        string.Join(" ", r.Lines.OrderBy(l => l.Position).Select(l => l.NumberIn).OfType<string>()),
                    ]
            );

    private IAsyncEnumerable<IReadOnlyList<string?>> Orders() =>
        db
            .PartOrders.AsNoTracking()
            .Include(o => o.Supplier)
            .Include(o => o.By)
            .Include(o => o.Repair)
            .OrderBy(o => o.At)
            .AsAsyncEnumerable()
            .Select(
                IReadOnlyList<string?> (o) =>
                    [
                        Text(o.At),
                        o.By.Name,
                        o.Supplier.Name,
                        o.Number,
                        Text(o.Quantity),
                        Text(o.Arrived),
                        $"{o.State}",
                        Text(o.Expected),
                        Text(o.Landed),
                        o.Currency,
                        Text(o.LandedInFact),
                        o.Repair?.Code,
                    ]
            );

    private IAsyncEnumerable<IReadOnlyList<string?>> Loans() =>
        db
            .Loans.AsNoTracking()
            .Include(l => l.Unit)
            .Include(l => l.Repair)
            .OrderBy(l => l.OutAt)
            .AsAsyncEnumerable()
            .Select(
                IReadOnlyList<string?> (l) =>
                    [l.Unit.Tag, l.To, Text(l.OutAt), Text(l.DueOn), Text(l.BackAt), l.Repair?.Code]
            );

    private IAsyncEnumerable<IReadOnlyList<string?>> People() =>
        (
            from p in db.Users.AsNoTracking()
            join ur in db.UserRoles on p.Id equals ur.UserId
            join r in db.Roles on ur.RoleId equals r.Id
            orderby p.UserName
            select new
            {
                p.UserName,
                p.Name,
                Role = r.Name,
                p.DisabledAt,
            }
        )
            .AsAsyncEnumerable()
            .Select(IReadOnlyList<string?> (p) => [p.UserName, p.Name, p.Role, Text(p.DisabledAt)]);

    /// <summary>A line for each value that changed; one for a row that came or went.</summary>
    private async IAsyncEnumerable<IReadOnlyList<string?>> Audit(string? about, string? by)
    {
        await foreach (
            var line in audit.Meant(about, by).Include(l => l.By).OrderByDescending(l => l.Id).AsAsyncEnumerable()
        )
        {
            foreach (var change in line.Changes)
            {
                var columns = (change.Before?.Keys ?? []).Union(change.After?.Keys ?? []).DefaultIfEmpty();
                foreach (var column in columns)
                {
                    yield return
                    [
                        Text(line.At),
                        line.By.Name,
                        line.Act,
                        line.Target,
                        column is null ? change.What : $"{change.What}.{column}",
                        change.Key,
                        column is null
                            ? change.After is null && change.Before is null
                                ? "added"
                                : null
                            : change.Before?.GetValueOrDefault(column),
                        column is null ? null : change.After?.GetValueOrDefault(column),
                    ];
                }
            }
        }
    }

    private static string? Text(IFormattable? value) =>
        value switch
        {
            null => null,
            DateOnly day => day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
            DateTimeOffset at => at.ToLocalTime().ToString("yyyy-MM-dd HH:mm", CultureInfo.InvariantCulture),
            decimal amount => amount.ToString("0.##", CultureInfo.InvariantCulture),
            double number => number.ToString("0.#", CultureInfo.InvariantCulture),
            _ => value.ToString(null, CultureInfo.InvariantCulture),
        };
}
