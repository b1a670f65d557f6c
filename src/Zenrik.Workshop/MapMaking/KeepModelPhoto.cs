using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.MapMaking;
using Zenrik.Core.ServiceMaps;
using Zenrik.Workshop.Photographs;

namespace Zenrik.Workshop.MapMaking;

/// <summary>Keeps a photograph with a model where no repair is underway, and removes it again.</summary>
public sealed class KeepModelPhoto(WorkshopDb db, ViewDraft drafts, TimeProvider clock)
{
    /// <summary>Most photographs of a model beside those of its repairs.</summary>
    public const int MostPerModel = 120;

    /// <param name="file">The file as sent.</param>
    public async Task<Outcome<string>> Run(string modelCode, byte[] file, Actor by, CancellationToken stop = default)
    {
        if (!(await PhotoFile.Redrawn(file, stop)).Try(out var jpeg, out var unusable))
        {
            return unusable;
        }

        var now = clock.GetUtcNow();
        return await db.Write(by, modelCode, now, Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (await db.LockModel(modelCode, stop) is null)
            {
                return new Refusal(RefusalReason.NotFound, $"There is no model “{modelCode}”.");
            }

            // No two of one moment, whatever the clock says.
            var last = await db
                .ModelPhotos.Where(p => p.ModelCode == modelCode)
                .MaxAsync(p => (DateTimeOffset?)p.At, stop);
            var at = last >= now ? last.Value.AddMicroseconds(1) : now;
            return await db.KeepPhotos(modelCode, [new SharedPhoto(jpeg, null, at)], by, stop) is { } full
                ? full
                : "The photograph is kept with the model.";
        }
    }

    /// <summary>A photograph that was kept with the model itself goes; what was taken at a repair belongs to that.</summary>
    public Task<Outcome<string>> Remove(
        Guid request,
        string modelCode,
        Guid photo,
        Actor by,
        CancellationToken stop = default
    )
    {
        return db.WriteOnce(request, by, modelCode, clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            _ = await db.LockModel(modelCode, stop);
            if (
                await db.ModelPhotos.SingleOrDefaultAsync(p => p.Id == photo && p.ModelCode == modelCode, stop)
                is not { } kept
            )
            {
                return new Refusal(
                    RefusalReason.NotFound,
                    "Only a photograph that was kept with the model itself can be removed here."
                );
            }

            if ((await drafts.Run(modelCode, stop)).Try(out var view, out _) && view.Draft.Underlay?.Photo == photo)
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    "It lies under the drawing. Lay another one there, or take that step back, then remove it."
                );
            }

            db.ModelPhotos.Remove(kept);
            return "The photograph is removed.";
        }
    }

    /// <summary>The newest edition of a model with the photographs of it; null where it has none.</summary>
    public async Task<SharedMap?> WithPhotographs(string modelCode, CancellationToken stop = default)
    {
        if (await db.Edition(modelCode, stop) is not { } map)
        {
            return null;
        }

        var chosen = (await drafts.Photos(modelCode, stop)).Take(SharedMap.MostPhotos).ToList();
        var ids = chosen.ConvertAll(p => p.Id);
        var pictures = await db
            .RepairPhotos.Where(p => ids.Contains(p.Id))
            .Select(p => new { p.Id, p.Jpeg })
            .Concat(db.ModelPhotos.Where(p => ids.Contains(p.Id)).Select(p => new { p.Id, p.Jpeg }))
            .ToDictionaryAsync(p => p.Id, p => p.Jpeg, stop);
        return new SharedMap(
            ServiceMapReader.Write(map),
            [.. chosen.DistinctBy(p => p.At).Select(p => new SharedPhoto(pictures[p.Id], p.Act, p.At))]
        );
    }
}
