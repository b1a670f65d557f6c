using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Importing;
using Zenrik.Core.Parts;
using Zenrik.Core.Sourcing;
using Zenrik.Workshop.Sourcing;

namespace Zenrik.Workshop.Importing;

/// <summary>Takes in what suppliers kept by hand ask for numbers. What a row does not say of a known price stays.</summary>
internal sealed class ImportPrices(WorkshopDb db, KeepSuppliers suppliers) : SheetRun<ImportPrices.Wanted>
{
    private readonly Dictionary<string, int> seen = new(StringComparer.Ordinal);

    internal sealed record Wanted(Guid Supplier, KeptPrice Price);

    protected override async Task<IReadOnlyList<(RowFate Fate, Wanted? Plan)>> Plan(
        IReadOnlyList<RowValues> batch,
        CancellationToken stop
    )
    {
        var known = (await db.Suppliers.AsNoTracking().ToListAsync(stop)).ToDictionary(
            s => ColumnMatch.Plain(s.Name),
            StringComparer.Ordinal
        );
        var canonical = batch
            .Select(r => PartNumber.Canonicalise(r["number"] ?? ""))
            .Where(c => c.Length is > 0 and <= PartNumber.MaxLength)
            .Distinct()
            .ToArray();
        var prices = (
            await db.StoredOffers.AsNoTracking().Where(o => canonical.Contains(o.Canonical)).ToListAsync(stop)
        ).ToDictionary(o => (o.SupplierId, o.Canonical));
        return [.. batch.Select(Judge)];

        (RowFate, Wanted?) Judge(RowValues row)
        {
            if (known.GetValueOrDefault(ColumnMatch.Plain(row["supplier"] ?? "")) is not { } supplier)
            {
                return Refused($"No supplier is called {row["supplier"]}. Enter it under Stores, suppliers.");
            }

            if (supplier.Terms is null)
            {
                return Refused(
                    $"{supplier.Name} answers for itself over HTTP; its prices are asked for, not taken in."
                );
            }

            if (!PartNumber.Read(row["number"]).Try(out var number, out var wrong))
            {
                return Refused(wrong.Message);
            }

            if (!seen.TryAdd($"{supplier.Id} {number.Canonical}", row.Line))
            {
                return Refused($"{number.Text} stands in line {seen[$"{supplier.Id} {number.Canonical}"]} already.");
            }

            var had = prices.GetValueOrDefault((supplier.Id, number.Canonical)) is { } stored
                ? KeepSuppliers.PriceOf(stored.Offer)
                : null;
            if (!Read(row, had ?? new KeptPrice(number.Text, PartGrade.Brand, 0)).Try(out var price, out wrong))
            {
                return Refused(wrong.Message);
            }

            if (price.Impossible() is { } impossible)
            {
                return Refused(impossible.Message);
            }

            if (had is null)
            {
                return (new RowFate.New(), new Wanted(supplier.Id, price));
            }

            FactChange[] changes =
            [
                new("price", Text(had.Price), Text(price.Price)),
                new("from how many", Text(had.Minimum), Text(price.Minimum)),
                new("handling, days", Text(had.HandlingDays), Text(price.HandlingDays)),
                new("in stock", Text(had.InStock), Text(price.InStock)),
                new("weight, kg", Text(had.WeightKg), Text(price.WeightKg)),
                new("grade", $"{had.Grade}", $"{price.Grade}"),
            ];
            return (RowFate.Of([.. changes.Where(c => c.Before != c.After)]), new Wanted(supplier.Id, price));
        }
    }

    /// <summary>What a row says read over a price; what it does not say stays.</summary>
    private static Outcome<KeptPrice> Read(RowValues row, KeptPrice price)
    {
        var cells = new RowReader(row);
        var amount = cells.Value("price", Sheets.ReadAmount);
        var read = new KeptPrice(
            price.Number,
            cells.Value("grade", ReadGrade) ?? price.Grade,
            amount ?? 0,
            cells.Value("weight", Sheets.ReadAmount) ?? price.WeightKg,
            cells.Value("from", c => Sheets.ReadWhole(c, 1, 1000, "a number of pieces")) ?? price.Minimum,
            cells.Value("stock", c => Sheets.ReadWhole(c, 0, 1_000_000, "a number of pieces")) ?? price.InStock,
            cells.Value("days", c => Sheets.ReadWhole(c, 0, 250, "a number of days")) ?? price.HandlingDays
        );
        if (amount is null)
        {
            cells.Refuse("It has no price.");
        }

        return cells.Or(() => read);
    }

    private static Outcome<PartGrade> ReadGrade(string cell) =>
        ColumnMatch.Plain(cell) switch
        {
            "brand" or "original" or "genuine" or "oem" or "maker" => PartGrade.Brand,
            "compatible" or "aftermarket" => PartGrade.Compatible,
            "unbranded" or "noname" => PartGrade.Unbranded,
            "used" or "refurbished" or "pulled" => PartGrade.Used,
            _ => new Refusal(RefusalReason.Invalid, $"“{cell}” is no grade: brand, compatible, unbranded or used."),
        };

    private static string? Text(IFormattable? value) => value?.ToString("0.###", CultureInfo.InvariantCulture);

    protected override async Task Write(
        IReadOnlyList<(RowFate Fate, Wanted Plan)> rows,
        Occasion occasion,
        CancellationToken stop
    )
    {
        foreach (var (_, wanted) in rows)
        {
            if ((await suppliers.PriceIn(wanted.Supplier, wanted.Price, stop)).Refusal is { } refusal)
            {
                throw new RowRefusedException(refusal);
            }

            await db.SaveChangesAsync(stop);
        }
    }
}
