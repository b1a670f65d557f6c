using CsvHelper;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fit;

namespace Zenrik.Workshop.Parts;

/// <summary>
/// Takes in many numbers with what is known of them from a CSV file (RFC 4180): a header, then a line a number. Columns
/// "number", "name" and "kind"; "model" and "slot" list it there by whoever takes the file in; every further column is a
/// field of <see cref="SpecificationForm"/>. A known number is described anew. All lines or none; taking the same file
/// in twice changes nothing more.
/// </summary>
public sealed class ImportNumbers(WorkshopDb db, AddNumber add, DescribeNumber describe, TimeProvider clock)
{
    public const int MaxLength = 1024 * 1024;

    private const int MaxLines = 2000;

    private static readonly string[] Own = ["number", "name", "kind", "model", "slot"];

    /// <returns>How many were added and described, or the first line that is wrong and why.</returns>
    public async Task<Outcome<string>> Run(string? text, Actor by, CancellationToken stop = default)
    {
        if (!Read(text).Try(out var lines, out var unreadable))
        {
            return unreadable;
        }

        return await db.Write(by, "numbers", clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            var (added, described) = (0, 0);
            foreach (var (at, values) in lines)
            {
                if (!(await Take(values, by, stop)).Try(out var isNew, out var wrong))
                {
                    return wrong with { Message = $"Line {at}: {wrong.Message} Nothing of the file was kept." };
                }

                (added, described) = isNew ? (added + 1, described) : (added, described + 1);
            }

            return $"{added} new, {described} described anew.";
        }
    }

    private async Task<Outcome<bool>> Take(
        IReadOnlyDictionary<string, string?> values,
        Actor by,
        CancellationToken stop
    )
    {
        var number = values.GetValueOrDefault("number");
        var kindText = values.GetValueOrDefault("kind")?.Replace("-", "", StringComparison.Ordinal);
        if (!Enum.TryParse<ItemKind>(kindText, ignoreCase: true, out var kind) || !Enum.IsDefined(kind))
        {
            return new Refusal(
                RefusalReason.Invalid,
                $"“{values.GetValueOrDefault("kind")}” is no kind. Kinds: {string.Join(", ", Enum.GetNames<ItemKind>())}."
            );
        }

        var canonical = Core.Parts.PartNumber.Canonicalise(number ?? "");
        var isNew = !await db.CatalogueNumbers.AnyAsync(n => n.Canonical == canonical, stop);
        if (isNew)
        {
            // A file was made from labels or a maker's list; numbers one slip apart are common in those.
            var made = await add.Add(number, values.GetValueOrDefault("name"), kind, [], null, sure: true, by, stop);
            if (!made.Try(out number, out var refused))
            {
                return refused;
            }
        }

        var specified = await describe.SpecifyIn(number!, kind, values, stop);
        if (!specified.Try(out _, out var wrong))
        {
            return wrong;
        }

        if (values.GetValueOrDefault("model") is { Length: > 0 } model)
        {
            var listed = await describe.ListIn(number!, model, values.GetValueOrDefault("slot"), by, stop);
            if (!listed.Try(out _, out wrong))
            {
                return wrong;
            }
        }

        return isNew;
    }

    private static Outcome<List<(int At, IReadOnlyDictionary<string, string?> Values)>> Read(string? text)
    {
        if (string.IsNullOrWhiteSpace(text))
        {
            return Invalid("The file is empty.");
        }

        if (text.Length > MaxLength)
        {
            return Invalid("The file is over 1 MB. Take it in in pieces.");
        }

        var lines = new List<(int, IReadOnlyDictionary<string, string?>)>();
        try
        {
            using var csv = CsvReader.FromText(text);
            csv.ReadHeader();
            var known = Enum.GetValues<ItemKind>().SelectMany(SpecificationForm.Of).Select(f => f.Name).ToHashSet();
            var columns = csv.Headers.ToArray();
            if (columns.FirstOrDefault(c => !Own.Contains(c) && !known.Contains(c)) is { } odd)
            {
                return Invalid(
                    $"There is no column “{odd}”. Columns: {string.Join(", ", Own.Concat(known.Order(StringComparer.Ordinal)))}."
                );
            }

            if (Own.Take(3).FirstOrDefault(c => !columns.Contains(c)) is { } lacking)
            {
                return Invalid($"The column “{lacking}” is missing.");
            }

            while (csv.Read())
            {
                lines.Add(
                    (lines.Count + 2, columns.ToDictionary(c => c, c => (string?)csv.GetString(csv.GetFieldIndex(c))))
                );
            }
        }
        catch (Exception e) when (e is CsvFormatException or IndexOutOfRangeException or ArgumentException)
        {
            return Invalid($"The file cannot be read after line {lines.Count + 1}: {e.Message}");
        }

        return lines.Count is 0 or > MaxLines
            ? Invalid($"A file has between 1 and {MaxLines} numbers; this one has {lines.Count}.")
            : lines;
    }

    private static Refusal Invalid(string message) => new(RefusalReason.Invalid, message);
}
