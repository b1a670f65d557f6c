using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fit;
using Zenrik.Core.Importing;
using Zenrik.Core.Parts;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Importing;

/// <summary>
/// Enters what lies in the bins when the book is begun, or lies there without being in it. A line says how much of a number
/// is in a bin: what is missing in the book is entered, what is there already stays, so the same list taken in twice enters
/// nothing twice. Less than the book has is for a count to say, which asks why.
/// </summary>
internal sealed class ImportStock(WorkshopDb db, AddNumber add, Actor by) : SheetRun<ImportStock.Wanted>
{
    private const int MostPieces = 5000;

    private readonly Dictionary<string, int> seen = new(StringComparer.Ordinal);

    /// <param name="More">How many are entered.</param>
    internal sealed record Wanted(
        BinCode Bin,
        PartNumber Number,
        string? Name,
        ItemKind Kind,
        int More,
        string? Serial,
        string? Lot,
        decimal? Cost
    );

    private sealed record Line(
        BinCode Bin,
        PartNumber Number,
        int Quantity,
        string? Serial,
        string? Lot,
        decimal? Cost,
        string? Name,
        ItemKind Kind
    );

    protected override async Task<IReadOnlyList<(RowFate Fate, Wanted? Plan)>> Plan(
        IReadOnlyList<RowValues> batch,
        CancellationToken stop
    )
    {
        var lines = batch.Select(Read).ToList();
        var good = lines.Where(l => l.Refusal is null).Select(l => l.Value).ToList();
        var (codes, canonical) = (
            good.Select(l => l.Bin.Text).Distinct().ToArray(),
            good.Select(l => l.Number.Canonical).Distinct().ToArray()
        );
        var bins = await db.Bins.AsNoTracking().Where(b => codes.Contains(b.Code)).ToDictionaryAsync(b => b.Code, stop);
        var numbers = await db
            .CatalogueNumbers.AsNoTracking()
            .Where(n => canonical.Contains(n.Canonical))
            .ToDictionaryAsync(n => n.Canonical, stop);
        var ids = numbers.Values.Select(n => n.Id).ToArray();
        var loose = (
            await db
                .Items.Where(i => ids.Contains(i.NumberId) && i.BinId != null && i.Serial == null)
                .GroupBy(i => new { i.NumberId, i.Bin!.Code })
                .Select(g => new
                {
                    g.Key.NumberId,
                    g.Key.Code,
                    Count = g.Count(),
                })
                .ToListAsync(stop)
        ).ToDictionary(g => (g.NumberId, g.Code), g => g.Count);
        var lots = (
            await db
                .Lots.Where(l => ids.Contains(l.NumberId))
                .Select(l => new
                {
                    l.NumberId,
                    l.Bin.Code,
                    l.OnHand,
                })
                .ToListAsync(stop)
        ).ToDictionary(l => (l.NumberId, l.Code), l => l.OnHand);
        var serials = good.Select(l => l.Serial).OfType<string>().Distinct().ToArray();
        var labelled = await db
            .Items.AsNoTracking()
            .Include(i => i.Bin)
            .Include(i => i.Unit)
            .Where(i => ids.Contains(i.NumberId) && serials.Contains(i.Serial!))
            .ToListAsync(stop);
        return
        [
            .. batch.Select(
                (row, i) => lines[i].Try(out var line, out var wrong) ? Judge(row.Line, line) : Refused(wrong.Message)
            ),
        ];

        (RowFate, Wanted?) Judge(int at, Line line)
        {
            if (bins.GetValueOrDefault(line.Bin.Text) is { Kind: not BinKind.Shelf })
            {
                return Refused($"{line.Bin} is not a shelf bin.");
            }

            var key = $"{(line.Serial is null ? line.Bin.Text : "")} {line.Number.Canonical} {line.Serial}";
            if (!seen.TryAdd(key, at))
            {
                return Refused(
                    line.Serial is { } twice
                        ? $"The serial {twice} stands in line {seen[key]} already."
                        : $"{line.Number.Text} in {line.Bin} stands in line {seen[key]} already. Add the two together."
                );
            }

            var number = numbers.GetValueOrDefault(line.Number.Canonical);
            if (number is null && line.Name is null)
            {
                return Refused(
                    $"{line.Number.Text} is not known here. Take the part numbers in first, or add a column that says what it is."
                );
            }

            if (number?.Consumable is not null && line.Serial is not null)
            {
                return Refused($"{number.Number} is counted, not told apart by serials.");
            }

            if (line.Serial is { } serial && number is not null)
            {
                var there = labelled.Find(i => i.NumberId == number.Id && i.Serial == serial);
                return there is null ? New(line, line.Quantity)
                    : there.Bin?.Code == line.Bin.Text ? (new RowFate.Same(), null)
                    : Refused(
                        $"The serial {serial} is that of {there.Code}, in {there.Where()}. One part is in one place."
                    );
            }

            var has =
                number is null ? 0
                : number.Consumable is null ? loose.GetValueOrDefault((number.Id, line.Bin.Text))
                : lots.GetValueOrDefault((number.Id, line.Bin.Text));
            return line.Quantity == has ? (new RowFate.Same(), null)
                : line.Quantity < has
                    ? Refused(
                        $"The book has {has} of {number!.Number} in {line.Bin}, this says {line.Quantity}. Count the bin: a count says what became of the others."
                    )
                : has == 0 ? New(line, line.Quantity)
                : (
                    new RowFate.Changed([
                        new FactChange(
                            "how many",
                            has.ToString(CultureInfo.InvariantCulture),
                            line.Quantity.ToString(CultureInfo.InvariantCulture)
                        ),
                    ]),
                    Plan(line, line.Quantity - has)
                );
        }

        (RowFate, Wanted?) New(Line line, int more)
        {
            string?[] with =
            [
                numbers.ContainsKey(line.Number.Canonical) ? null : "the number",
                bins.ContainsKey(line.Bin.Text) ? null : $"the bin {line.Bin}",
            ];
            var also = string.Join(" and ", with.OfType<string>());
            return (new RowFate.New(also.Length == 0 ? null : $"and {also} with it"), Plan(line, more));
        }

        static Wanted Plan(Line line, int more) =>
            new(line.Bin, line.Number, line.Name, line.Kind, more, line.Serial, line.Lot, line.Cost);
    }

    private static Outcome<Line> Read(RowValues row)
    {
        var cells = new RowReader(row);
        var bin = cells.Needed("bin", BinCode.Read);
        var number = PartNumber.Read(row["number"]);
        var pieces = cells.Value("quantity", c => Sheets.ReadWhole(c, 0, MostPieces, "a number of pieces")) ?? 1;
        var serial = cells.Text("serial", SerialNumber.Read);
        var cost = cells.Value("cost", Sheets.ReadAmount);
        var kind = cells.Value("kind", Sheets.ReadKind) ?? ItemKind.Other;
        if (number.Refusal is { } unreadable)
        {
            cells.Refuse(unreadable.Message);
        }

        if (serial is not null && pieces != 1)
        {
            cells.Refuse($"A serial is that of one piece, and this says {pieces}.");
        }

        if (row["lot"] is { Length: > 40 })
        {
            cells.Refuse("A maker's lot has at most 40 characters.");
        }

        if (row["name"] is { } name && (name.Length is < 2 or > AddNumber.MaxName || name.Any(char.IsControl)))
        {
            cells.Refuse($"What it is is said in 2 to {AddNumber.MaxName} characters.");
        }

        return cells.Or(() => new Line(bin!, number.Value, pieces, serial, row["lot"], cost, row["name"], kind));
    }

    protected override async Task Write(
        IReadOnlyList<(RowFate Fate, Wanted Plan)> rows,
        Occasion occasion,
        CancellationToken stop
    )
    {
        var canonical = rows.Select(r => r.Plan.Number.Canonical).Distinct().ToArray();
        foreach (
            var plan in rows.Select(r => r.Plan).Where(p => p.Name is not null).DistinctBy(p => p.Number.Canonical)
        )
        {
            if (!await db.CatalogueNumbers.AnyAsync(n => n.Canonical == plan.Number.Canonical, stop))
            {
                var made = await add.Add(plan.Number.Text, plan.Name, plan.Kind, [], null, sure: true, by, stop);
                if (made.Refusal is { } refusal)
                {
                    throw new RowRefusedException(refusal);
                }
            }
        }

        foreach (var code in rows.Select(r => r.Plan.Bin.Text).Distinct())
        {
            await AddBin.EnsureShelf(db, code, stop);
        }

        var codes = rows.Select(r => r.Plan.Bin.Text).Distinct().ToArray();
        var bins = await db.Bins.Where(b => codes.Contains(b.Code)).ToDictionaryAsync(b => b.Code, stop);
        var numbers = await db
            .CatalogueNumbers.Where(n => canonical.Contains(n.Canonical))
            .ToDictionaryAsync(n => n.Canonical, stop);
        var labels = await Items.Codes(
            db,
            rows.Where(r => numbers[r.Plan.Number.Canonical].Consumable is null).Sum(r => r.Plan.More),
            stop
        );
        foreach (var plan in rows.Select(r => r.Plan))
        {
            var (number, bin) = (numbers[plan.Number.Canonical], bins[plan.Bin.Text]);
            if (number.Consumable is not null)
            {
                await db.IntoLot(number, bin, plan.More, MovementReason.Entered, occasion, stop);
                continue;
            }

            for (var i = 0; i < plan.More; i++)
            {
                var item = Items.Of(labels.Dequeue(), number, plan.Serial);
                (item.Batch, item.Cost) = (plan.Lot, plan.Cost);
                db.Items.Add(item);
                db.Movements.Add(item.MoveTo(bin, MovementReason.Entered, occasion));
            }
        }

        await db.SaveChangesAsync(stop);
        db.ChangeTracker.Clear();
    }
}
