using Microsoft.EntityFrameworkCore;

namespace Zenrik.Workshop.Parts;

/// <summary>What stands on a label.</summary>
/// <param name="Code">Large, and in the QR code: what the scan line knows the thing by.</param>
/// <param name="Lines">Small, for people.</param>
public sealed record PrintedLabel(string Code, IReadOnlyList<string> Lines);

/// <summary>Gathers what labels say.</summary>
public sealed class LabelsFor(WorkshopDb db)
{
    private const int Most = 1000;

    /// <param name="kind">"unit", "item" or "bin".</param>
    /// <param name="codes">In upper case; those that name nothing are left out.</param>
    public async Task<IReadOnlyList<PrintedLabel>> Run(
        string kind,
        IReadOnlyList<string> codes,
        CancellationToken stop = default
    )
    {
        var wanted = codes.Take(Most).ToList();
        return kind switch
        {
            "item" =>
            [
                .. (
                    await db
                        .Items.AsNoTracking()
                        .Where(i => wanted.Contains(i.Code))
                        .OrderBy(i => i.Code)
                        .Select(i => new
                        {
                            i.Code,
                            i.Number.Number,
                            i.Number.Name,
                        })
                        .ToListAsync(stop)
                ).Select(i => new PrintedLabel(i.Code, [i.Number, i.Name])),
            ],
            "bin" =>
            [
                .. (
                    await db
                        .Bins.AsNoTracking()
                        .Where(b => wanted.Contains(b.Code))
                        .OrderBy(b => b.Code)
                        .Select(b => b.Code)
                        .ToListAsync(stop)
                ).Select(c => new PrintedLabel(c, ["bin"])),
            ],
            _ =>
            [
                .. (
                    await db
                        .Units.AsNoTracking()
                        .Where(u => wanted.Contains(u.Tag))
                        .OrderBy(u => u.Tag)
                        .Select(u => new
                        {
                            u.Tag,
                            u.Model.Name,
                            u.Site,
                        })
                        .ToListAsync(stop)
                ).Select(u => new PrintedLabel(u.Tag, [u.Name, u.Site])),
            ],
        };
    }
}
