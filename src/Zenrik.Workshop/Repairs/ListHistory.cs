using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Parts;
using Zenrik.Core.Repairs;
using Zenrik.Workshop.Parts;

namespace Zenrik.Workshop.Repairs;

/// <summary>Which ended repairs are wanted. Conditions that are given all hold.</summary>
/// <param name="Search">
/// Words; each is a repair, part of a tag, serial, user, site or model, the beginning of a number that went in or out, part of what
/// was wrong, or of the name of who closed it.
/// </param>
/// <param name="From">Closed on this day or later.</param>
/// <param name="Until">Closed on this day or earlier.</param>
/// <param name="Page">From 0.</param>
public sealed record HistoryQuery(string? Search = null, DateOnly? From = null, DateOnly? Until = null, int Page = 0)
{
    /// <summary>True when nothing narrows it.</summary>
    public bool IsAll => this with { Page = 0 } == new HistoryQuery();
}

/// <summary>Closed repairs, newest first, narrowed by what is typed and chosen.</summary>
public sealed class ListHistory(WorkshopDb db)
{
    public const int PageSize = 60;

    private const int DeepestPage = 200;

    /// <summary>Fewer characters of a part number would mean half of the catalogue.</summary>
    private const int NumberPrefix = 4;

    /// <returns>A page, and whether there is another one.</returns>
    public async Task<(IReadOnlyList<Repair> Repairs, bool More)> Run(
        HistoryQuery query,
        CancellationToken stop = default
    )
    {
        var page = Math.Clamp(query.Page, 0, DeepestPage);
        var repairs = await Meant(query)
            .Include(r => r.Unit.Model)
            .Include(r => r.ClosedBy)
            .Include(r => r.Lines.OrderBy(l => l.Position))
            .OrderByDescending(r => r.ClosedAt)
            .Skip(page * PageSize)
            .Take(PageSize + 1)
            .ToListAsync(stop);
        var more = repairs.Count > PageSize;
        return (more ? repairs[..PageSize] : repairs, more);
    }

    /// <summary>All that a query means, in no order.</summary>
    internal IQueryable<Repair> Meant(HistoryQuery query)
    {
        var repairs = db.Repairs.AsNoTracking().Where(r => r.State == RepairState.Closed);
        if (query.From is { } from)
        {
            var since = new DateTimeOffset(from.ToDateTime(TimeOnly.MinValue, DateTimeKind.Local)).ToUniversalTime();
            repairs = repairs.Where(r => r.ClosedAt >= since);
        }

        if (query.Until is { } until)
        {
            var before = new DateTimeOffset(
                until.AddDays(1).ToDateTime(TimeOnly.MinValue, DateTimeKind.Local)
            ).ToUniversalTime();
            repairs = repairs.Where(r => r.ClosedAt < before);
        }

        foreach (var word in (query.Search ?? "").Split(' ', StringSplitOptions.RemoveEmptyEntries).Take(6))
        {
            repairs = Matching(repairs, word);
        }

        return repairs;
    }

    private static IQueryable<Repair> Matching(IQueryable<Repair> repairs, string word)
    {
        if (Repair.NumberOf(word) is { } number)
        {
            return repairs.Where(r => r.Number == number);
        }

        var pattern = Patterns.Containing(word.ToLowerInvariant());
        var canonical = PartNumber.Canonicalise(word);
        var prefix = canonical.Length >= NumberPrefix ? Patterns.Beginning(canonical) : null;
        return repairs.Where(r =>
            EF.Functions.Like(EF.Property<string>(r.Unit, Unit.SearchText), pattern)
            || EF.Functions.ILike(r.Unit.Model.Name, pattern)
            || EF.Functions.ILike(r.ClosedBy!.Name, pattern)
            || r.Lines.Any(l =>
                EF.Functions.ILike(l.Fault, pattern)
                || EF.Functions.ILike(l.AssemblyName, pattern)
                || (
                    prefix != null
                    && (
                        EF.Functions.Like(l.ItemIn!.Number.Canonical, prefix)
                        || EF.Functions.Like(l.ItemOut!.Number.Canonical, prefix)
                    )
                )
            )
        );
    }
}
