using Microsoft.EntityFrameworkCore;
using Zenrik.Workshop.Repairs;

namespace Zenrik.Workshop.Fleet;

public sealed record UnitRow(
    string Tag,
    string Model,
    string Site,
    string? UserName,
    string Serial,
    DateOnly BoughtOn,
    long? Repair
);

/// <summary>The fleet, narrowed by what is typed.</summary>
public sealed class ListUnits(WorkshopDb db)
{
    /// <summary>More rows than this are not sent; the count says how many there are.</summary>
    public const int Most = 100;

    /// <param name="search">Part of a tag, serial, site, user or model name; empty for all.</param>
    public async Task<(IReadOnlyList<UnitRow> Rows, int Total)> Run(string? search, CancellationToken stop = default)
    {
        var units = db.Units.AsNoTracking();
        if (!string.IsNullOrWhiteSpace(search))
        {
            var pattern = $"%{Escape(search.Trim())}%";
            units = units.Where(u =>
                EF.Functions.ILike(u.Tag, pattern)
                || EF.Functions.ILike(u.Serial, pattern)
                || EF.Functions.ILike(u.Site, pattern)
                || EF.Functions.ILike(u.UserName!, pattern)
                || EF.Functions.ILike(u.Model.Name, pattern)
            );
        }

        var rows = await units
            .OrderBy(u => u.Tag)
            .Take(Most)
            .Select(u => new UnitRow(
                u.Tag,
                u.Model.Name,
                u.Site,
                u.UserName,
                u.Serial,
                u.BoughtOn,
                db.Repairs.Where(r =>
                        r.UnitId == u.Id
                        && (
                            r.State == RepairState.Open
                            || r.State == RepairState.OnBench
                            || r.State == RepairState.Stopped
                        )
                    )
                    .Select(r => (long?)r.Number)
                    .FirstOrDefault()
            ))
            .ToListAsync(stop);
        return (rows, rows.Count < Most ? rows.Count : await units.CountAsync(stop));
    }

    private static string Escape(string text) =>
        text.Replace("\\", "\\\\", StringComparison.Ordinal)
            .Replace("%", "\\%", StringComparison.Ordinal)
            .Replace("_", "\\_", StringComparison.Ordinal);
}
