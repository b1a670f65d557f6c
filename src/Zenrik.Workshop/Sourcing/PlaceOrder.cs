using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fit;
using Zenrik.Core.Parts;
using Zenrik.Core.Repairs;
using Zenrik.Core.Sourcing;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Mailing;
using Zenrik.Workshop.Parts;

namespace Zenrik.Workshop.Sourcing;

/// <summary>
/// Orders a part for a line of a repair. The order is in the book before the supplier hears of it, and keeps its key: a
/// program killed in between asks again and gets the same answer.
/// </summary>
public sealed class PlaceOrder(WorkshopDb db, OffersFor offers, SupplierClient suppliers, Post post, TimeProvider clock)
{
    /// <returns>What was ordered and when it is due, as a sentence.</returns>
    public async Task<Outcome<string>> Run(
        long repairNumber,
        string slot,
        Guid requestId,
        Guid supplierId,
        string number,
        string freight,
        Actor by,
        CancellationToken stop = default
    )
    {
        if (!(await Known(requestId, supplierId, number, by, stop)).Try(out var had, out var refused))
        {
            return refused;
        }

        var known = had.Order;
        if (known is null)
        {
            if (!(await offers.Run(repairNumber, slot, stop)).Try(out var view, out var missing))
            {
                return missing;
            }

            if (!view.Repair.Repair.TakesOrderFor(view.Line.Line))
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"Nothing is ordered for {view.Repair.Repair.Code} any more."
                );
            }

            var canonical = PartNumber.Canonicalise(number);
            var stored = view.Stored.FirstOrDefault(o => o.SupplierId == supplierId && o.Canonical == canonical);
            var bid = view.Comparison?.Bids.FirstOrDefault(b =>
                stored is not null && b.Bid.Offer == stored.Offer && b.Bid.Freight.Name == freight
            );
            if (bid is null || stored is null)
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    "That offer is no longer there. Look at the offers as they are now."
                );
            }

            var fit = view.Numbers.First(n => n.Number.Canonical == canonical).Answer;
            if (fit.Verdict is FitVerdict.NotKnown or FitVerdict.DoesNotFit)
            {
                var why = fit.Reasons.First(r => r.Weight is FitWeight.Missing or FitWeight.Against).Text;
                return new Refusal(RefusalReason.Conflict, $"{number} is not ordered before it is known to fit. {why}");
            }

            if (bid.Bid.Offer.InStock == 0)
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"{stored.Supplier.Name} had none of {number} when it was asked, at {Asked(stored)}."
                );
            }

            known = await Keep(
                New(
                    requestId,
                    supplierId,
                    bid.Bid,
                    bid.Landed.Quantity,
                    bid.Landed.Total,
                    bid.Landed.Arrives,
                    by,
                    view.Repair.Repair.Id,
                    view.Line.Line.Id
                ),
                by,
                stop
            );
        }

        return await Acknowledge(known, by, stop);
    }

    /// <summary>Orders a number for the shelf, as a proposal says.</summary>
    public async Task<Outcome<string>> ForShelf(
        Guid requestId,
        Guid supplierId,
        string number,
        string freight,
        int quantity,
        Actor by,
        CancellationToken stop = default
    )
    {
        if (!(await Known(requestId, supplierId, number, by, stop)).Try(out var had, out var refused))
        {
            return refused;
        }

        var known = had.Order;
        if (known is null)
        {
            var canonical = PartNumber.Canonicalise(number);
            var (stored, _) = await offers.Ask([number], stop);
            if (
                stored.FirstOrDefault(o => o.SupplierId == supplierId && o.Canonical == canonical) is not { } offer
                || offer.Offer.Freight.FirstOrDefault(f => f.Name == freight) is not { } way
            )
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    "That offer is no longer there. Look at the proposal as it is now."
                );
            }

            if (offer.Offer.InStock is { } there && there < quantity)
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"{offer.Supplier.Name} had {there} of {number} when it was asked, at {Asked(offer)}, not {quantity}. Order fewer, or elsewhere."
                );
            }

            var figures = await db.Figures(stop);
            var today = clock.Today();
            if (
                !LandedCost
                    .Of(
                        offer.Offer,
                        way,
                        quantity,
                        today,
                        figures.Exchange,
                        TimeOnly.FromDateTime(clock.GetLocalNow().DateTime)
                    )
                    .Try(out var landed, out var uncountable)
            )
            {
                return uncountable;
            }

            known = await Keep(
                New(
                    requestId,
                    supplierId,
                    new Bid(offer.Offer, way, WorkingChance.Before(offer.Offer.Grade)),
                    landed.Quantity,
                    landed.Total,
                    landed.Arrives,
                    by
                ),
                by,
                stop
            );
        }

        return await Acknowledge(known, by, stop);
    }

    /// <param name="landed">Of all pieces.</param>
    /// <param name="line">A line of a repair; null: for the shelf.</param>
    internal PartOrder New(
        Guid requestId,
        Guid supplierId,
        Bid bid,
        int quantity,
        Money landed,
        DateOnly expected,
        Actor by,
        RepairId? repair = null,
        Guid? line = null
    ) =>
        new()
        {
            Id = Guid.CreateVersion7(),
            RequestId = requestId,
            SupplierId = supplierId,
            Number = bid.Offer.Number,
            Grade = bid.Offer.Grade,
            Quantity = quantity,
            Freight = bid.Freight.Name,
            Landed = landed.Amount,
            Currency = landed.Currency,
            Expected = expected,
            RepairId = repair,
            LineId = line,
            At = clock.GetUtcNow(),
            ById = by.Id,
        };

    /// <summary>The order a request has placed already; none when it is new. What was placed must be what is asked.</summary>
    private async Task<Outcome<(PartOrder? Order, bool Seen)>> Known(
        Guid requestId,
        Guid supplierId,
        string number,
        Actor by,
        CancellationToken stop
    )
    {
        if (Writing.Missing(requestId) is { } missing)
        {
            return missing;
        }

        var order = await db
            .PartOrders.Include(o => o.Supplier)
            .SingleOrDefaultAsync(o => o.RequestId == requestId, stop);
        return order is null ? ((PartOrder?)null, false)
            : order.SupplierId == supplierId
            && order.ById == by.Id
            && PartNumber.Canonicalise(order.Number) == PartNumber.Canonicalise(number)
                ? ((PartOrder?)order, true)
            : Writing.UsedElsewhere;
    }

    /// <summary>Stores an order before the supplier hears of it; the one stored first where the request came twice.</summary>
    private async Task<PartOrder> Keep(PartOrder order, Actor by, CancellationToken stop)
    {
        var kept = await db.Write(by, order.Number, order.At, Work, stop);
        order = kept.Try(out var stored, out _)
            ? stored
            : await db.PartOrders.SingleAsync(o => o.RequestId == order.RequestId, stop);
        await db.Entry(order).Reference(o => o.Supplier).LoadAsync(stop);
        return order;

        async Task<Outcome<PartOrder>> Work()
        {
            db.PartOrders.Add(order);
            try
            {
                await db.SaveChangesAsync(stop);
            }
            catch (DbUpdateException e) when (e.Broke("ix_part_orders_request_id"))
            {
                return Writing.UsedElsewhere;
            }

            return order;
        }
    }

    /// <summary>Asks the supplier once more whether it has an order.</summary>
    public async Task<Outcome<string>> AskAgain(Guid orderId, Actor by, CancellationToken stop = default) =>
        await db.PartOrders.Include(o => o.Supplier).SingleOrDefaultAsync(o => o.Id == orderId, stop) is { } order
            ? await Acknowledge(order, by, stop)
            : new Refusal(RefusalReason.NotFound, "There is no such order.");

    /// <summary>Notes that a supplier that is written to by hand has an order, what it calls it, and when it is due.</summary>
    public Task<Outcome<string>> Sent(
        Guid orderId,
        string? reference,
        DateOnly? expected,
        Actor by,
        CancellationToken stop = default
    )
    {
        return db.Write(by, $"order {orderId}", clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            var called = reference?.Trim() is { Length: > 0 } said ? said : "sent";
            if (called.Length > MaxReference || called.Any(char.IsControl))
            {
                return new Refusal(
                    RefusalReason.Invalid,
                    $"The supplier's own number has at most {MaxReference} characters."
                );
            }

            if (!(await db.LockOrder(orderId, stop)).Try(out var order, out var missing))
            {
                return missing;
            }

            if (NotByHand(order) is { } refusal)
            {
                return refusal;
            }

            if (
                expected is { } day
                && (day < DateOnly.FromDateTime(order.At.LocalDateTime) || day.Year > order.At.Year + 2)
            )
            {
                return new Refusal(RefusalReason.Invalid, "It is due between the day it was ordered and two years on.");
            }

            (order.Acknowledged, order.Expected) = (called, expected ?? order.Expected);
            return $"{order.Supplier.Name} has the order of {order.Number}{(called == "sent" ? "" : $" as {called}")}; due on {order.Expected.ToString("ddd d MMM", CultureInfo.InvariantCulture)}.";
        }
    }

    /// <summary>Sends the order's text to a supplier that is written to by hand, and notes that it was sent.</summary>
    /// <param name="text">The order in words.</param>
    public Task<Outcome<string>> Mail(Guid orderId, string text, Actor by, CancellationToken stop = default)
    {
        return db.Write(by, $"order {orderId}", clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await db.LockOrder(orderId, stop)).Try(out var order, out var missing))
            {
                return missing;
            }

            if (NotByHand(order) is { } refusal)
            {
                return refusal;
            }

            // Pressed twice, or by two people: it has gone out once.
            if (order.Acknowledged is not null)
            {
                return $"{order.Supplier.Name} has the order of {order.Number} already.";
            }

            order.Acknowledged = "sent";
            return
                await post.Send(new Letter(order.Supplier.OrderTo ?? "", $"Order of {order.Number}", text), stop)
                    is { } unsent
                ? unsent
                : $"The order of {order.Number} is on its way to {order.Supplier.OrderTo}.";
        }
    }

    private static Refusal? NotByHand(PartOrder order) =>
        order.State != OrderState.Ordered
            ? new Refusal(RefusalReason.Conflict, $"The order of {order.Number} is not on its way any more.")
        : order.Supplier.Address is not null
            ? new Refusal(RefusalReason.Conflict, $"{order.Supplier.Name} acknowledges orders for itself.")
        : null;

    private const int MaxReference = 60;

    /// <summary>Says what becomes of a wrong delivery: the supplier took it back for its money, or sends the right one.</summary>
    public Task<Outcome<string>> SettleWrong(
        Guid orderId,
        bool refunded,
        string? why,
        Actor by,
        CancellationToken stop = default
    )
    {
        return db.Write(by, $"order {orderId}", clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (why?.Trim() is not { Length: >= 3 and <= 200 } reason || reason.Any(char.IsControl))
            {
                return new Refusal(RefusalReason.Invalid, "Say in 3 to 200 characters what was agreed.");
            }

            if (!(await db.LockOrder(orderId, stop)).Try(out var order, out var missing))
            {
                return missing;
            }

            if (order.State != OrderState.Wrong)
            {
                return new Refusal(RefusalReason.Conflict, $"The order of {order.Number} did not come wrong.");
            }

            order.State = refunded ? OrderState.Cancelled : OrderState.Ordered;
            order.Cancelled = refunded ? $"returned for refund: {reason} ({by.Name})" : null;
            order.ReceivedAt = null;
            return refunded
                ? $"The order of {order.Number} is closed: returned for refund."
                : $"The right {order.Number} is awaited again from {order.Supplier.Name}.";
        }
    }

    /// <summary>
    /// Cancels what has not arrived. The book forgets nothing: the order stays, with who cancelled it and why; the
    /// supplier is told where it can be.
    /// </summary>
    public async Task<Outcome<string>> Cancel(Guid orderId, string? why, Actor by, CancellationToken stop = default)
    {
        var reason = why?.Trim() ?? "";
        if (reason.Length is < 3 or > 200)
        {
            return new Refusal(RefusalReason.Invalid, "Say in 3 to 200 characters why it is cancelled.");
        }

        // The supplier hears of it once the book has it.
        if (
            !(await db.Write(by, $"order {orderId}", clock.GetUtcNow(), Work, stop)).Try(out var order, out var refused)
        )
        {
            return refused;
        }

        var told =
            order.Acknowledged is null
            || order.Supplier.Address is not null && await suppliers.Cancel(order.Supplier, order.RequestId, stop);
        return $"The order of {order.Number} from {order.Supplier.Name} is cancelled{(told ? "" : "; the supplier could not be told and must be: its order is " + order.Acknowledged)}.";

        async Task<Outcome<PartOrder>> Work()
        {
            if (!(await db.LockOrder(orderId, stop)).Try(out var found, out var missing))
            {
                return missing;
            }

            if (found.State is OrderState.Received or OrderState.Wrong)
            {
                return new Refusal(RefusalReason.Conflict, $"The order of {found.Number} has been taken in already.");
            }

            if (found.State == OrderState.Ordered)
            {
                found.State = OrderState.Cancelled;
                found.Cancelled = $"{reason} ({by.Name})";
            }

            return found;
        }
    }

    private static string Asked(StoredOffer offer) =>
        offer.FetchedAt.ToLocalTime().ToString("d MMM HH:mm", CultureInfo.InvariantCulture);

    /// <summary>What comes from outside, no longer than it may be.</summary>
    private static string Bounded(string text, int most) => text.Length > most ? text[..most] : text;

    /// <summary>Tells the supplier of an order in the book, unless it has it already.</summary>
    internal async Task<string> Acknowledge(PartOrder order, Actor by, CancellationToken stop)
    {
        var (what, id) = (
            $"{order.Number} from {order.Supplier.Name}, {new Money(order.Landed, order.Currency)} landed",
            order.Id
        );
        OrderAnswer? answer = null;
        if (order.Acknowledged is null && order.Supplier.Address is null)
        {
            return $"{what}: in the book. It is not sent by itself: open the order and send it.";
        }

        if (order.Acknowledged is null)
        {
            if (
                !(
                    await suppliers.Order(
                        order.Supplier,
                        order.RequestId,
                        order.Number,
                        order.Quantity,
                        order.Freight,
                        stop
                    )
                ).Try(out answer, out var why)
            )
            {
                return $"{what}: in the book. {why.Message} Ask again from the repair's page.";
            }

            if (!(await db.Write(by, order.Number, clock.GetUtcNow(), Heard, stop)).Try(out var kept, out var gone))
            {
                return gone.Message;
            }

            order = kept;

            if (answer.Remark is { Length: > 0 } remark)
            {
                // The supplier's own words, shortened: they come from outside.
                var asked = await db
                    .StoredOffers.Where(o =>
                        o.SupplierId == order.SupplierId && o.Canonical == PartNumber.Canonicalise(order.Number)
                    )
                    .SingleOrDefaultAsync(stop);
                var had = asked?.Offer.InStock is { } stock
                    ? $"; at {Asked(asked)} it had said {stock.ToString(CultureInfo.InvariantCulture)} in stock"
                    : "";
                what += $" (“{Bounded(remark, 120)}”{had})";
            }
        }

        return $"{what}, ordered as {order.Acknowledged}; due on {order.Expected.ToString("ddd d MMM", CultureInfo.InvariantCulture)}.";

        async Task<Outcome<PartOrder>> Heard()
        {
            if (!(await db.LockOrder(id, stop)).Try(out var stored, out var missing))
            {
                return missing;
            }

            if (stored.Acknowledged is null)
            {
                stored.Acknowledged = Bounded(answer!.Order, 60);
                stored.Expected = stored.Expected.AddDays(Math.Clamp(answer.DaysLate, 0, 365));
            }

            return stored;
        }
    }
}
