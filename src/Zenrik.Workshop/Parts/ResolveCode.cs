using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Parts;

namespace Zenrik.Workshop.Parts;

/// <summary>What a scanned or typed code stands for.</summary>
public abstract record Resolved
{
    private Resolved() { }

    public sealed record Unit(string Tag) : Resolved;

    public sealed record Repair(string Code) : Resolved;

    public sealed record Item(string Code) : Resolved;

    public sealed record Number(string Text) : Resolved;

    public sealed record Bin(string Code) : Resolved;

    /// <param name="Nearest">At most three known codes, best first.</param>
    public sealed record Unknown(string Code, IReadOnlyList<string> Nearest) : Resolved;
}

/// <summary>Finds what a code stands for: asset tag, serial, repair, item, part number or bin.</summary>
public sealed class ResolveCode(WorkshopDb db)
{
    private const int Suggestions = 3;

    /// <summary>Codes looked at more closely, of each kind and reading.</summary>
    private const int Pool = 25;

    public async Task<Resolved> Run(string? scanned, CancellationToken stop = default)
    {
        // A part's or a machine's whole label names that very one, where its serial is known.
        if (
            ScannedLabel.Read(scanned ?? "").Try(out var label, out _)
            && label?.Serial is { } own
            && await OfSerial(own, stop) is { } itself
        )
        {
            return itself;
        }

        if (!PartNumber.Read(scanned).Try(out var read, out _))
        {
            return new Resolved.Unknown((scanned ?? "").Trim() is var s && s.Length > 40 ? s[..40] + "…" : s, []);
        }

        var (text, upper) = (read.Text, read.Text.ToUpperInvariant());
        if (
            await db
                .Units.Where(u => u.Tag == upper || u.Serial == upper || u.Serial == text)
                .Select(u => u.Tag)
                .FirstOrDefaultAsync(stop) is
            { } tag
        )
        {
            return new Resolved.Unit(tag);
        }

        if (Repair.NumberOf(text) is { } number && await db.Repairs.AnyAsync(r => r.Number == number, stop))
        {
            return new Resolved.Repair(Repair.CodeOf(number));
        }

        if (
            await db
                .Items.Where(i => i.Code == upper || i.Serial == text)
                .Select(i => i.Code)
                .FirstOrDefaultAsync(stop) is
            { } item
        )
        {
            return new Resolved.Item(item);
        }

        var readings = read.Readings;
        var numbers = await db
            .CatalogueNumbers.Where(n => readings.Contains(n.Canonical))
            .Select(n => new { n.Canonical, n.Number })
            .ToListAsync(stop);
        if (readings.Select(r => numbers.Find(n => n.Canonical == r)).FirstOrDefault(n => n is not null) is { } known)
        {
            return new Resolved.Number(known.Number);
        }

        if (await db.Bins.AnyAsync(b => b.Code == upper, stop))
        {
            return new Resolved.Bin(upper);
        }

        return ScannedLabel.SerialWithoutIdentifier(text) is { } bare && await OfSerial(bare, stop) is { } found
            ? found
            : new Resolved.Unknown(text, await Nearest(upper, stop));
    }

    /// <summary>The unit or item of a serial; null where none has it.</summary>
    private async Task<Resolved?> OfSerial(string serial, CancellationToken stop)
    {
        // A unit's is kept in capitals.
        var upper = serial.ToUpperInvariant();
        if (await db.Units.Where(u => u.Serial == upper).Select(u => u.Tag).FirstOrDefaultAsync(stop) is { } tag)
        {
            return new Resolved.Unit(tag);
        }

        return await db.Items.Where(i => i.Serial == serial).Select(i => i.Code).FirstOrDefaultAsync(stop) is { } item
            ? new Resolved.Item(item)
            : null;
    }

    /// <summary>
    /// Candidates by trigrams from the indexes, then put in order by the look-alike distance: trigrams find codes that
    /// share stretches, the distance knows which characters are misread. Those indexes are on (tag || '') and the like:
    /// on the column itself PostgreSQL takes them for plain equality too, a hundred times slower than the key's own.
    /// </summary>
    private async Task<IReadOnlyList<string>> Nearest(string code, CancellationToken stop)
    {
        var candidates = new List<string>();
        // As read, and with letters that are taken for digits read as digits: SK-OO4I7 shares no stretch with SK-00417.
        foreach (var reading in new[] { code, Confusables.Fold(code) }.Distinct())
        {
            candidates.AddRange(await NearestOf(db.Units.Select(u => u.Tag + ""), reading, stop));
            candidates.AddRange(await NearestOf(db.Units.Select(u => u.Serial + ""), reading, stop));
            candidates.AddRange(await NearestOf(db.Items.Select(i => i.Code + ""), reading, stop));
            candidates.AddRange(await NearestOf(db.CatalogueNumbers.Select(n => n.Number), reading, stop));
        }

        return Confusables.Nearest(code, candidates.Distinct(), Suggestions);
    }

    private static Task<List<string>> NearestOf(IQueryable<string> codes, string reading, CancellationToken stop) =>
        codes.OrderBy(c => EF.Functions.TrigramsSimilarityDistance(c, reading)).Take(Pool).ToListAsync(stop);
}
