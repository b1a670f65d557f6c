using Microsoft.EntityFrameworkCore;

namespace Zenrik.Workshop.Preparing;

/// <summary>How far an organisation is with its book.</summary>
/// <param name="Waiting">Of the people, how many have not taken their invitation up.</param>
/// <param name="Rules">House rules somebody has decided; those at their default are not counted.</param>
/// <param name="Parts">Items on the shelves.</param>
/// <param name="LastBackup">Null: none was ever made.</param>
public sealed record Beginning(
    HouseFigures Figures,
    int People,
    int Waiting,
    int Rules,
    int Models,
    int Units,
    int Inside,
    int Numbers,
    int Parts,
    int Suppliers,
    int Repairs,
    BackupRecord? LastBackup
)
{
    /// <summary>After so many days without a backup the house is told.</summary>
    public const int BackupDays = 7;

    /// <summary>True while nothing can be done at the counter yet.</summary>
    public bool IsEmpty => Units == 0;
}

/// <summary>Looks how far an organisation has come: what is said, entered, backed up.</summary>
public sealed class ViewBeginning(WorkshopDb db)
{
    /// <summary>Counting on tells no more than that there are many.</summary>
    private const int Many = 100_000;

    public async Task<Beginning> Run(CancellationToken stop = default) =>
        new(
            await db.Figures(stop),
            await db.Users.CountAsync(p => p.DisabledAt == null, stop),
            await db.Users.CountAsync(p => p.DisabledAt == null && p.PasswordHash == null, stop),
            await db.HouseChoices.CountAsync(stop),
            await db.Models.CountAsync(m => m.MergedInto == null, stop),
            await db.Units.Select(u => u.Id).Take(Many).CountAsync(stop),
            await db.Items.Where(i => i.UnitId != null).Select(i => i.Id).Take(Many).CountAsync(stop),
            await db.CatalogueNumbers.Select(n => n.Id).Take(Many).CountAsync(stop),
            await db
                .Items.Where(i => i.BinKind == Core.Stock.BinKind.Shelf)
                .Select(i => i.Id)
                .Take(Many)
                .CountAsync(stop),
            await db.Suppliers.CountAsync(stop),
            await db.Repairs.Select(r => r.Id).Take(Many).CountAsync(stop),
            (await Backup(stop)).Last
        );

    /// <summary>The last backup that was made and tried, null where there is none; and whether there is work to lose.</summary>
    public async Task<(BackupRecord? Last, bool HasWork)> Backup(CancellationToken stop = default)
    {
        var found = await db
            .Models.OrderBy(m => m.Code)
            .Take(1)
            .Select(_ => new
            {
                Last = db.Set<BackupRecord>().OrderByDescending(b => b.Id).FirstOrDefault(),
                HasWork = db.Repairs.Any(),
            })
            .FirstOrDefaultAsync(stop);
        return (found?.Last, found?.HasWork == true);
    }

    /// <summary>True when what would be lost is more than a week's work.</summary>
    public static bool IsDue((BackupRecord? Last, bool HasWork) backup, DateTimeOffset now) =>
        backup.HasWork && (backup.Last is null || now - backup.Last.At > TimeSpan.FromDays(Beginning.BackupDays));

    /// <summary>True while no unit was ever entered: one look at an index.</summary>
    public async Task<bool> IsEmpty(CancellationToken stop = default) => !await db.Units.AnyAsync(stop);
}
