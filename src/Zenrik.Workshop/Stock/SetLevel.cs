using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Parts;
using Zenrik.Core.Stock;

namespace Zenrik.Workshop.Stock;

/// <summary>Sets when a number is ordered for the shelf, or that it is not kept there.</summary>
public sealed class SetLevel(WorkshopDb db, TimeProvider clock)
{
    /// <param name="minimum">Null with <paramref name="orderUpTo"/>: no level is kept.</param>
    public async Task<Outcome<string>> Run(
        string number,
        int? minimum,
        int? orderUpTo,
        Actor by,
        CancellationToken stop = default
    )
    {
        var canonical = PartNumber.Canonicalise(number);
        return await db.Write(by, number, clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (await db.CatalogueNumbers.SingleOrDefaultAsync(n => n.Canonical == canonical, stop) is not { } known)
            {
                return new Refusal(RefusalReason.NotFound, $"The part number {number} is not known here.");
            }

            if (minimum is null && orderUpTo is null)
            {
                (known.MinimumLevel, known.OrderUpTo) = (null, null);
                return $"{known.Number} is not kept at a level any more.";
            }

            if (!StockLevel.Of(minimum ?? 0, orderUpTo ?? minimum ?? 0).Try(out var level, out var wrong))
            {
                return wrong;
            }

            (known.MinimumLevel, known.OrderUpTo) = (level.Minimum, level.OrderUpTo);
            return $"{known.Number} is ordered up to {level.OrderUpTo} when fewer than {level.Minimum} are free or coming.";
        }
    }
}
