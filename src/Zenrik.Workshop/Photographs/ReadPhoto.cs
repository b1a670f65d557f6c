using Microsoft.EntityFrameworkCore;

namespace Zenrik.Workshop.Photographs;

/// <summary>Reads photographs that were kept, of repairs and of models.</summary>
public sealed class ReadPhoto(WorkshopDb db)
{
    private sealed class Kept
    {
        public Guid Id { get; init; }

        public byte[] Jpeg { get; init; } = [];
    }

    private IQueryable<Kept> All =>
        db
            .RepairPhotos.Select(p => new Kept { Id = p.Id, Jpeg = p.Jpeg })
            .Concat(db.ModelPhotos.Select(p => new Kept { Id = p.Id, Jpeg = p.Jpeg }));

    /// <returns>The JPEG; null when there is none of this id.</returns>
    public Task<byte[]?> Run(Guid id, CancellationToken stop = default) =>
        All.Where(p => p.Id == id).Select(p => (byte[]?)p.Jpeg).SingleOrDefaultAsync(stop);

    /// <summary>Several at once, by their ids.</summary>
    public Task<Dictionary<Guid, byte[]>> Several(IReadOnlyCollection<Guid> ids, CancellationToken stop = default) =>
        All.Where(p => ids.Contains(p.Id)).ToDictionaryAsync(p => p.Id, p => p.Jpeg, stop);

    /// <summary>The ids of all there are, in their order.</summary>
    public Task<List<Guid>> Ids(CancellationToken stop = default) => All.Select(p => p.Id).Order().ToListAsync(stop);
}
