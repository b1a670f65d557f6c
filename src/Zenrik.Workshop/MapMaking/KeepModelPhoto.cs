using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
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
            return await Keep(db, modelCode, [new SharedPhoto(jpeg, null, at)], by, stop) is { } full
                ? full
                : "The photograph is kept with the model.";
        }
    }

    /// <summary>Keeps photographs with a model, which the caller has locked; what it has of one moment already is left out.</summary>
    /// <returns>Why they cannot be kept; null when they are.</returns>
    internal static async Task<Refusal?> Keep(
        WorkshopDb db,
        string modelCode,
        IReadOnlyList<SharedPhoto> photos,
        Actor by,
        CancellationToken stop
    )
    {
        var known = await db.ModelPhotos.Where(p => p.ModelCode == modelCode).Select(p => p.At).ToListAsync(stop);
        var more = photos.DistinctBy(p => p.At).Where(p => !known.Contains(p.At)).ToList();
        if (more.Count > 0 && known.Count + more.Count > MostPerModel)
        {
            return new Refusal(
                RefusalReason.Conflict,
                $"A model keeps {MostPerModel} photographs beside those of its repairs; this one has {known.Count}. Remove what is no longer needed first."
            );
        }

        db.ModelPhotos.AddRange(
            more.Select(p => new ModelPhoto
            {
                Id = Guid.CreateVersion7(),
                ModelCode = modelCode,
                Jpeg = p.Jpeg,
                Act = p.Act,
                At = p.At,
                ById = by.Id,
            })
        );
        return null;
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
}
