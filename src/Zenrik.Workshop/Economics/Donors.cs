using Zenrik.Core;
using Zenrik.Core.Fleet;

namespace Zenrik.Workshop.Economics;

internal static class Donors
{
    /// <summary>A unit that may be stripped, held until the write ends.</summary>
    public static async Task<Outcome<Unit>> LockDonor(this WorkshopDb db, string tag, CancellationToken stop) =>
        await db.LockUnit(tag, stop) is not { } unit ? UnitTag.Unknown(tag)
        : unit.State != UnitState.Donor
            ? new Refusal(
                RefusalReason.Conflict,
                $"{unit.Tag} is {UnitLife.Name(unit.State)}, not a donor. Parts come out of it by a repair."
            )
        : unit;
}
