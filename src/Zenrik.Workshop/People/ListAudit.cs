using Microsoft.EntityFrameworkCore;

namespace Zenrik.Workshop.People;

/// <summary>Some of the audit trail, newest first.</summary>
/// <param name="Older">The number to ask for what lies further back; null at the end.</param>
public sealed record AuditView(IReadOnlyList<AuditLine> Lines, long? Older);

/// <summary>Reads who changed what, and when.</summary>
public sealed class ListAudit(WorkshopDb db)
{
    private const int PageSize = 50;

    /// <param name="about">A tag, a repair, a label, written out whole; blank: whatever it was about.</param>
    /// <param name="by">Sign-in name of who did it; blank: whoever did.</param>
    /// <param name="before">Only lines older than this one's number.</param>
    public async Task<AuditView> Run(
        string? about = null,
        string? by = null,
        long? before = null,
        CancellationToken stop = default
    )
    {
        var lines = Meant(about, by).Include(l => l.By).AsQueryable();
        if (before is { } number)
        {
            lines = lines.Where(l => l.Id < number);
        }

        var found = await lines.OrderByDescending(l => l.Id).Take(PageSize + 1).ToListAsync(stop);
        return new AuditView([.. found.Take(PageSize)], found.Count > PageSize ? found[PageSize - 1].Id : null);
    }

    /// <summary>All lines that are meant, in no order, for reading on.</summary>
    internal IQueryable<AuditLine> Meant(string? about, string? by)
    {
        var lines = db.AuditLines.AsNoTracking();
        if (!string.IsNullOrWhiteSpace(about))
        {
            var words = about.ToUpperInvariant().Split(' ', StringSplitOptions.RemoveEmptyEntries);
            lines = lines.Where(l => words.All(w => l.Words.Contains(w)));
        }

        if (!string.IsNullOrWhiteSpace(by))
        {
            var name = by.Trim().ToUpperInvariant();
            lines = lines.Where(l => l.By.NormalizedUserName == name);
        }

        return lines;
    }
}
