using Microsoft.EntityFrameworkCore;
using Zenrik.Core.ServiceMaps;
using Zenrik.Workshop.ServiceMaps;

namespace Zenrik.Workshop.Practice;

/// <summary>A model one can practise on.</summary>
/// <param name="Units">How many of it the fleet has.</param>
public sealed record PracticeModel(string Code, string Name, DeviceClass Class, int Units, ServiceMap Map);

internal static class PracticeModelRows
{
    /// <summary>Models with a published map, those of the most units first.</summary>
    public static async Task<IReadOnlyList<PracticeModel>> PracticeModels(
        this WorkshopDb db,
        ServiceMapShelf maps,
        CancellationToken stop
    )
    {
        var known = await db
            .Models.AsNoTracking()
            .Select(m => new
            {
                m.Code,
                m.Name,
                m.Class,
                Units = db.Units.Count(u => u.ModelCode == m.Code),
            })
            .OrderByDescending(m => m.Units)
            .ThenBy(m => m.Name)
            .ToListAsync(stop);
        var models = new List<PracticeModel>();
        foreach (var m in known)
        {
            if (!await maps.IsDraft(m.Code, stop) && await maps.Newest(m.Code, stop) is { } map)
            {
                models.Add(new PracticeModel(m.Code, m.Name, m.Class, m.Units, map));
            }
        }

        return models;
    }
}
