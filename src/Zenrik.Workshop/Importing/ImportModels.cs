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
        var cells = new RowReader(row);
        var maker = cells.Needed("maker", c => ModelName.Read(c, "The maker"));
        var name = cells.Needed("name", c => ModelName.Read(c, "The model's name"));
        var facts = new ModelFacts(
            maker,
            name,
            cells.Value("class", Sheets.ReadClass),
            cells.Value("supportEnds", c => Days.Read(c, days)),
            cells.Value("life", c => Sheets.ReadWhole(c, 6, 240, "a number of months")),
            cells.Value("price", Sheets.ReadAmount),
            cells.Value("warranty", c => Sheets.ReadWhole(c, 1, 120, "a number of months"))
        );
        if (facts.Class is null)
        {
            cells.Refuse("It is not said whether it is a laptop or a Chromebook.");
        }

        return cells.Or(() => facts);
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
