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
            await LastBackup(stop)
        );

    /// <summary>The last backup that was made and tried; null: none.</summary>
    public Task<BackupRecord?> LastBackup(CancellationToken stop = default) =>
        db.Set<BackupRecord>().AsNoTracking().OrderByDescending(b => b.Id).FirstOrDefaultAsync(stop);

    /// <summary>True while no unit was ever entered: one look at an index.</summary>
    public async Task<bool> IsEmpty(CancellationToken stop = default) => !await db.Units.AnyAsync(stop);
}
