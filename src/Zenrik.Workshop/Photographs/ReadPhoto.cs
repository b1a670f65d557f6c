using Microsoft.EntityFrameworkCore;

namespace Zenrik.Workshop.Photographs;

/// <summary>Reads a photograph that was kept, of a repair or of a model.</summary>
public sealed class ReadPhoto(WorkshopDb db)
{
    /// <returns>The JPEG; null when there is none of this id.</returns>
    public async Task<byte[]?> Run(Guid id, CancellationToken stop = default) =>
        await db
            .RepairPhotos.Where(p => p.Id == id)
            .Select(p => p.Jpeg)
            .Concat(db.ModelPhotos.Where(p => p.Id == id).Select(p => p.Jpeg))
            .SingleOrDefaultAsync(stop);
}
