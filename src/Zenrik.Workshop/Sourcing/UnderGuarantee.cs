using Zenrik.Core.Reliability;
using Zenrik.Core.Sourcing;

namespace Zenrik.Workshop.Sourcing;

/// <summary>A part bought not long ago that has failed by itself.</summary>
/// <param name="Code">Its label.</param>
/// <param name="From">Who sold it.</param>
/// <param name="Came">The day it was delivered.</param>
public sealed record UnderGuarantee(string Code, string From, DateOnly Came)
{
    /// <param name="item">With its order and who took it, where it came by one.</param>
    /// <param name="cause">Why it came out, or is to.</param>
    /// <returns>Null where its seller owes nothing any more.</returns>
    public static UnderGuarantee? Of(Item? item, RemovalCause cause, TimeProvider clock) =>
        item?.Order is { ReceivedAt: { } at } order && SellersGuarantee.MayCover(clock.DayOf(at), clock.Today(), cause)
            ? new UnderGuarantee(item.Code, order.Supplier.Name, clock.DayOf(at))
            : null;
}
