using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Importing;
using Zenrik.Core.MapMaking;
using Zenrik.Core.ServiceMaps;
using Zenrik.Workshop.MapMaking;

namespace Zenrik.Workshop.Importing;

/// <summary>Enters models from a list, and brings what is said of those that are known up to it. A model is known by maker and name.</summary>
internal sealed class ImportModels(WorkshopDb db, KeepModel keep, DayOrder days) : SheetRun<ImportModels.Wanted>
{
    private readonly Dictionary<(string, string), int> seen = [];

    /// <param name="Code">Null for a new one.</param>
    internal sealed record Wanted(string? Code, ModelFacts Facts);

    protected override async Task<IReadOnlyList<(RowFate Fate, Wanted? Plan)>> Plan(
        IReadOnlyList<RowValues> batch,
        CancellationToken stop
    )
    {
        var known = (await db.Models.AsNoTracking().Where(m => m.MergedInto == null).ToListAsync(stop)).ToDictionary(
            m => (ColumnMatch.Plain(m.Maker), ColumnMatch.Plain(m.Name))
        );
        return [.. batch.Select(Judge)];

        (RowFate, Wanted?) Judge(RowValues row)
        {
            if (!Read(row).Try(out var said, out var wrong))
            {
                return Refused(wrong.Message);
            }

            var key = (ColumnMatch.Plain(said.Maker!), ColumnMatch.Plain(said.Name!));
            if (!seen.TryAdd(key, row.Line) && seen[key] != row.Line)
            {
                return Refused($"The {said.Maker} {said.Name} stands in line {seen[key]} already.");
            }

            if (known.GetValueOrDefault(key) is not { } model)
            {
                return (new RowFate.New(), new Wanted(null, said));
            }

            var facts = said with
            {
                SupportEnds = said.SupportEnds ?? model.SupportEnds,
                LifeMonths = said.LifeMonths ?? model.LifeMonths,
                NewPrice = said.NewPrice ?? model.NewPrice,
                WarrantyMonths = said.WarrantyMonths ?? model.WarrantyMonths,
                Retired = model.IsRetired,
                // As it is written here; a list that writes it in capitals changes nothing.
                Name = model.Name,
                Maker = model.Maker,
            };
            FactChange[] changes =
            [
                new("class", $"{model.Class}", $"{facts.Class}"),
                new("updates end", Text(model.SupportEnds), Text(facts.SupportEnds)),
                new("months in use", Text(model.LifeMonths), Text(facts.LifeMonths)),
                new("price of a new one", Text(model.NewPrice), Text(facts.NewPrice)),
                new("months of warranty", Text(model.WarrantyMonths), Text(facts.WarrantyMonths)),
            ];
            return (RowFate.Of([.. changes.Where(c => c.Before != c.After)]), new Wanted(model.Code, facts));
        }
    }

    protected override async Task Write(
        IReadOnlyList<(RowFate Fate, Wanted Plan)> rows,
        Occasion occasion,
        CancellationToken stop
    )
    {
        foreach (var (_, wanted) in rows)
        {
            var kept = wanted.Code is { } code
                ? await keep.ChangeIn(code, wanted.Facts, stop)
                : await keep.AddIn(wanted.Facts, stop);
            if (kept.Refusal is { } refusal)
            {
                throw new RowRefusedException(refusal);
            }

            await db.SaveChangesAsync(stop);
        }
    }

    private Outcome<ModelFacts> Read(RowValues row)
    {
        if (
            !ModelName.Read(row["maker"], "The maker").Try(out var maker, out var wrong)
            || !ModelName.Read(row["name"], "The model's name").Try(out var name, out wrong)
            || !Sheets.ReadClass(row["class"] ?? "").Try(out var kind, out wrong)
        )
        {
            return wrong;
        }

        var facts = new ModelFacts(maker, name, kind, null, null, null);
        if (row["price"] is { } price)
        {
            if (!Sheets.ReadAmount(price).Try(out var amount, out wrong))
            {
                return wrong;
            }

            facts = facts with { NewPrice = amount };
        }

        if (row["life"] is { } life)
        {
            if (!Sheets.ReadWhole(life, 6, 240, "a number of months").Try(out var months, out wrong))
            {
                return wrong;
            }

            facts = facts with { LifeMonths = months };
        }

        if (row["warranty"] is { } warranty)
        {
            if (!Sheets.ReadWhole(warranty, 1, 120, "a number of months").Try(out var months, out wrong))
            {
                return wrong;
            }

            facts = facts with { WarrantyMonths = months };
        }

        if (row["supportEnds"] is { } ends)
        {
            if (!Days.Read(ends, days).Try(out var day, out wrong))
            {
                return wrong;
            }

            facts = facts with { SupportEnds = day };
        }

        return facts;
    }

    private static string? Text(IFormattable? value) =>
        value switch
        {
            null => null,
            DateOnly day => day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
            decimal amount => amount.ToString("0.##", CultureInfo.InvariantCulture),
            _ => value.ToString(null, CultureInfo.InvariantCulture),
        };
}
