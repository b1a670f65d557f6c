using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Photographs;

namespace Zenrik.Workshop.Repairs;

/// <summary>Keeps a photograph with a repair.</summary>
public sealed class AddPhoto(WorkshopDb db, TimeProvider clock)
{
    /// <summary>Most photographs of one repair.</summary>
    public const int MaxPerRepair = 40;

    /// <param name="repairNumber">The repair.</param>
    /// <param name="file">The file as sent.</param>
    /// <param name="act">The act it was taken at; null: of the repair as a whole.</param>
    /// <returns>The photograph's id.</returns>
    public async Task<Outcome<Guid>> Run(
        long repairNumber,
        byte[] file,
        Actor by,
        string? act = null,
        CancellationToken stop = default
    )
    {
        if (!(await PhotoFile.Redrawn(file, stop)).Try(out var jpeg, out var unusable))
        {
            return unusable;
        }

        return await db.Write(by, Repair.CodeOf(repairNumber), clock.GetUtcNow(), Work, stop);

        async Task<Outcome<Guid>> Work()
        {
            var repair = await db.Repairs.SingleOrDefaultAsync(r => r.Number == repairNumber, stop);
            if (repair is null)
            {
                return new Refusal(RefusalReason.NotFound, $"There is no repair {Repair.CodeOf(repairNumber)}.");
            }

            if (await db.RepairPhotos.CountAsync(p => p.RepairId == repair.Id, stop) >= MaxPerRepair)
            {
                return new Refusal(RefusalReason.Conflict, $"{repair.Code} has {MaxPerRepair} photographs already.");
            }

            var photo = new RepairPhoto
            {
                Id = Guid.CreateVersion7(),
                RepairId = repair.Id,
                Jpeg = jpeg,
                Act = Core.Teardown.Act.TryParse(act, out var at) ? at.ToString() : null,
                At = clock.GetUtcNow(),
                ById = by.Id,
            };
            db.RepairPhotos.Add(photo);
            return photo.Id;
        }
    }

    /// <summary>Which photographs were taken at which acts of a repair, oldest first.</summary>
    public async Task<IReadOnlyList<(Guid Id, string Act, DateTimeOffset At)>> AtActs(
        RepairId repair,
        CancellationToken stop = default
    ) =>
        [
            .. (
                await db
                    .RepairPhotos.Where(p => p.RepairId == repair && p.Act != null)
                    .OrderBy(p => p.At)
                    .Select(p => new
                    {
                        p.Id,
                        p.Act,
                        p.At,
                    })
                    .ToListAsync(stop)
            ).Select(p => (p.Id, p.Act!, p.At)),
        ];
}
