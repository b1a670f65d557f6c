using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Stock;

namespace Zenrik.Workshop.Batteries;

internal static class ReadingsOf
{
    /// <summary>What a battery said of its health while it was in a unit, the earliest first; 0 to 1.</summary>
    public static async Task<IReadOnlyList<(DateTimeOffset At, double Health)>> HealthOf(
        this WorkshopDb db,
        ItemId battery,
        UnitId unit,
        CancellationToken stop
    ) =>
        [
            .. (
                await db
                    .BatteryReadings.AsNoTracking()
                    .Where(r => r.UnitId == unit && r.ItemId == battery)
                    .OrderBy(r => r.At)
                    .Select(r => new { r.At, r.Health })
                    .ToListAsync(stop)
            ).Select(r => (r.At, r.Health)),
        ];
}
