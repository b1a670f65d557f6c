using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fit;
using Zenrik.Core.Importing;
using Zenrik.Core.Parts;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.ServiceMaps;

namespace Zenrik.Workshop.Importing;

/// <summary>
/// Makes part numbers known from a list, with what is known of them, and lists them for a slot of a model by whoever takes
/// the list in. What a row does not say of a known number stays.
/// </summary>
internal sealed class ImportNumbers(
    WorkshopDb db,
    AddNumber add,
    DescribeNumber describe,
    ServiceMapShelf maps,
    Actor by
) : SheetRun<ImportNumbers.Wanted>
{
    private readonly Dictionary<string, int> seen = new(StringComparer.Ordinal);
    private ModelNames? models;

    /// <param name="Values">Of <see cref="SpecificationForm"/>; null: nothing is said of it.</param>
    /// <param name="Listed">Model code and slot; null: not listed by this row.</param>
    internal sealed record Wanted(
        PartNumber Number,
        string Name,
        ItemKind Kind,
        IReadOnlyDictionary<string, string?>? Values,
        (string Model, string Slot)? Listed
    );

    protected override async Task<IReadOnlyList<(RowFate Fate, Wanted? Plan)>> Plan(
        IReadOnlyList<RowValues> batch,
        CancellationToken stop
    )
    {
        models ??= await db.ModelNames(stop);
        var canonical = batch
            .Select(r => PartNumber.Canonicalise(r["number"] ?? ""))
            .Where(c => c.Length is > 0 and <= PartNumber.MaxLength)
            .Distinct()
            .ToArray();
        var known = await db
            .CatalogueNumbers.AsNoTracking()
            .Include(n => n.Fits)
            .Where(n => canonical.Contains(n.Canonical))
            .ToDictionaryAsync(n => n.Canonical, stop);
        var judged = new List<(RowFate, Wanted?)>(batch.Count);
        foreach (var row in batch)
        {
            judged.Add(await Judge(row, known, stop));
        }

        return judged;
    }

    private async Task<(RowFate, Wanted?)> Judge(
        RowValues row,
        Dictionary<string, CatalogueNumber> all,
        CancellationToken stop
    )
    {
        if (!PartNumber.Read(row["number"]).Try(out var number, out var wrong))
        {
            return Refused(wrong.Message);
        }

        var known = all.GetValueOrDefault(number.Canonical);
        if (!Sheets.ReadKind(row["kind"] ?? "").Try(out var kind, out wrong))
        {
            return Refused(wrong.Message);
        }

        if (row["name"] is not { Length: >= 2 and <= AddNumber.MaxName } name || name.Any(char.IsControl))
        {
            return Refused($"Say what it is, in 2 to {AddNumber.MaxName} characters: battery 54 Wh.");
        }

        (string, string)? listed = null;
        if (row["model"] is { } model)
        {
            if (!models!.Find(model, null).Try(out var code, out wrong))
            {
                return Refused(wrong.Message);
            }

            if (code is null)
            {
                return Refused($"No model is called {model}, so it cannot be listed for one.");
            }

            if (row["slot"] is not { Length: <= 40 } slot)
            {
                return Refused("It names a model, but no slot of it.");
            }

            if (await maps.Lacks(code, slot, stop: stop) is { } lacking)
            {
                return Refused(lacking.Message);
            }

            listed = (code, slot);
        }

        // A number may stand in several lines, one for each slot it fits; what it is is said the same in all of them.
        var key = $"{number.Canonical} {listed}";
        if (!seen.TryAdd(key, row.Line))
        {
            return Refused($"{number.Text} stands in line {seen[key]} already.");
        }

        var fields = SpecificationForm.Of(kind).Select(f => f.Name).ToHashSet();
        var said = row.All.Where(v => fields.Contains(v.Key)).ToDictionary(v => v.Key, v => (string?)v.Value);
        var before =
            known?.Specification is { } had && known.Kind == kind
                ? SpecificationForm.Values(had)
                : new Dictionary<string, string>();
        var values = before.ToDictionary(v => v.Key, v => (string?)v.Value);
        foreach (var (field, value) in said)
        {
            values[field] = value;
        }

        if (!SpecificationForm.Read(kind, values).Try(out var specification, out wrong))
        {
            return Refused(wrong.Message);
        }

        var wanted = new Wanted(number, name, kind, said.Count > 0 || known?.Kind != kind ? values : null, listed);
        if (known is null)
        {
            return (new RowFate.New(), wanted);
        }

        var after = SpecificationForm.Values(specification);
        FactChange[] changes =
        [
            new("what it is", known.Name, name),
            new("kind", $"{known.Kind}".ToLowerInvariant(), $"{kind}".ToLowerInvariant()),
            .. said.Keys.Select(f => new FactChange(f, before.GetValueOrDefault(f), after.GetValueOrDefault(f))),
            .. listed is { } place && !known.Fits.Exists(f => f.ModelCode == place.Item1 && f.Slot == place.Item2)
                ? [new FactChange("listed for", null, $"{place.Item1} {place.Item2}")]
                : Array.Empty<FactChange>(),
        ];
        return (RowFate.Of([.. changes.Where(c => c.Before != c.After)]), wanted);
    }

    protected override async Task Write(
        IReadOnlyList<(RowFate Fate, Wanted Plan)> rows,
        Occasion occasion,
        CancellationToken stop
    )
    {
        foreach (var (_, wanted) in rows)
        {
            var canonical = wanted.Number.Canonical;
            var known = await db.CatalogueNumbers.SingleOrDefaultAsync(n => n.Canonical == canonical, stop);
            if (known is null)
            {
                // A list was made from labels or a maker's; numbers one slip apart are common in those.
                Require(await add.Add(wanted.Number.Text, wanted.Name, wanted.Kind, [], null, sure: true, by, stop));
            }
            else
            {
                known.Name = wanted.Name;
            }

            if (wanted.Values is { } values)
            {
                Require(await describe.SpecifyIn(wanted.Number.Text, wanted.Kind, values, stop));
            }

            if (wanted.Listed is var (model, slot))
            {
                Require(await describe.ListIn(wanted.Number.Text, model, slot, by, stop));
            }

            await db.SaveChangesAsync(stop);
        }

        static void Require<T>(Outcome<T> outcome)
        {
            if (outcome.Refusal is { } refusal)
            {
                throw new RowRefusedException(refusal);
            }
        }
    }
}
