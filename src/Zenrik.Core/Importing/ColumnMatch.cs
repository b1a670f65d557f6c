namespace Zenrik.Core.Importing;

/// <summary>Which heading of a file is which column of a sheet.</summary>
/// <param name="Matched">Column ids by the index of their heading.</param>
/// <param name="Notes">What a person should look at: a heading that stands twice, a column found by its contents.</param>
public sealed record ColumnMatch(IReadOnlyDictionary<int, string> Matched, IReadOnlyList<string> Notes)
{
    /// <summary>Of so many cells that say anything, how many must look like a column for it to be taken for that.</summary>
    private const double Enough = 0.8;

    /// <summary>Required columns no heading was found for.</summary>
    public static IReadOnlyList<SheetColumn> Missing(Sheet sheet, IReadOnlyDictionary<int, string> matched) =>
        [.. sheet.Columns.Where(c => c.Required && !matched.Values.Contains(c.Id))];

    /// <summary>
    /// Matches by what a person chose the last time, then by name, then, for required columns nobody has named, by what
    /// stands in the cells.
    /// </summary>
    /// <param name="headings">As they stand in the file.</param>
    /// <param name="sample">The first rows.</param>
    /// <param name="remembered">Column ids by plain heading (<see cref="Plain"/>), from the last file; empty: it was left out.</param>
    public static ColumnMatch Of(
        Sheet sheet,
        IReadOnlyList<string> headings,
        IReadOnlyList<SourceRow> sample,
        IReadOnlyDictionary<string, string> remembered
    )
    {
        var matched = new Dictionary<int, string>();
        var notes = new List<string>();
        var left = new HashSet<int>();
        var seen = new HashSet<string>(StringComparer.Ordinal);
        var names = sheet
            .Columns.SelectMany(c => (c.AlsoCalled ?? []).Prepend(c.Name).Prepend(c.Id).Select(n => (Plain(n), c.Id)))
            .DistinctBy(n => n.Item1)
            .ToDictionary(n => n.Item1, n => n.Id, StringComparer.Ordinal);
        foreach (var (at, heading) in headings.Index())
        {
            var plain = Plain(heading);
            if (plain.Length > 0 && !seen.Add(plain))
            {
                notes.Add($"The heading “{heading.Trim()}” stands twice; the first of them is read.");
                continue;
            }

            if (remembered.TryGetValue(plain, out var chosen))
            {
                if (chosen.Length > 0 && sheet.Column(chosen) is not null && !matched.ContainsValue(chosen))
                {
                    matched[at] = chosen;
                }

                continue;
            }

            if (names.TryGetValue(plain, out var named) && !matched.ContainsValue(named))
            {
                matched[at] = named;
            }
            else
            {
                left.Add(at);
            }
        }

        foreach (var column in Missing(sheet, matched).Where(c => c.Looks is not null))
        {
            var fitting = left.Where(at => LooksLike(column, at)).ToList();
            if (fitting is [var only])
            {
                matched[only] = column.Id;
                left.Remove(only);
                notes.Add(
                    $"“{headings[only].Trim()}” is taken for {column.Name.ToLowerInvariant()} by what stands in it."
                );
            }
        }

        return new ColumnMatch(matched, notes);

        bool LooksLike(SheetColumn column, int at)
        {
            var said = sample.Where(r => at < r.Cells.Count && r.Cells[at].Trim().Length > 0).ToList();
            return said.Count > 0 && said.Count(r => column.Looks!(r.Cells[at].Trim())) >= Enough * said.Count;
        }
    }

    /// <summary>A heading without what people write differently: letters and digits, small.</summary>
    public static string Plain(string heading) =>
        string.Concat(heading.Where(char.IsLetterOrDigit).Select(char.ToLowerInvariant));
}
