using Zenrik.Core.ServiceMaps;
using Zenrik.Workshop.Photographs;

namespace Zenrik.Workshop.MapMaking;

/// <summary>Gives a map out to another workshop.</summary>
public sealed class ShareMap(WorkshopDb db, ViewDraft drafts, ReadPhoto pictures)
{
    /// <summary>The newest edition of a model with the photographs of it, newest first; null where it has none.</summary>
    public async Task<SharedMap?> Run(string modelCode, CancellationToken stop = default)
    {
        if (await db.Edition(modelCode, stop) is not { } map)
        {
            return null;
        }

        var chosen = (await drafts.Photos(modelCode, stop)).DistinctBy(p => p.At).Take(SharedMap.MostPhotos).ToList();
        var jpegs = await pictures.Several(chosen.ConvertAll(p => p.Id), stop);
        return new SharedMap(
            ServiceMapReader.Write(map),
            [.. chosen.Select(p => new SharedPhoto(jpegs[p.Id], p.Act, p.At))]
        );
    }
}
