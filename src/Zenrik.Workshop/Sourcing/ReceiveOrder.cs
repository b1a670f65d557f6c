using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Parts;
using Zenrik.Core.Repairs;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Sourcing;

/// <summary>What came of an order, as read off the parts and their papers.</summary>
/// <param name="Printed">The number on the part.</param>
/// <param name="Bin">The shelf bin; empty: the first one where such parts lie, or the first of all.</param>
/// <param name="Quantity">How many arrived; may be fewer than were ordered.</param>
/// <param name="Serials">Read off the parts, as many as there are or fewer.</param>
/// <param name="Batch">The maker's lot, where the label carries one.</param>
/// <param name="Landed">What all of the order really cost; null when the papers do not say.</param>
public sealed record Delivery(
    string? Printed,
    string? Bin = null,
    int Quantity = 1,
    IReadOnlyList<string>? Serials = null,
    string? Batch = null,
    decimal? Landed = null
);

/// <summary>
/// Takes a delivery in against its order, by the number on the parts. The right number goes to the shelf, the first of it
/// promised to the repair it was ordered for; another one goes into quarantine, and the order stays open to be put right.
/// </summary>
public sealed class ReceiveOrder(WorkshopDb db, TimeProvider clock)
{
    private const decimal MostLanded = 1_000_000;

    public Task<Outcome<string>> Run(
        Guid request,
        Guid orderId,
        Delivery delivery,
        Actor by,
        CancellationToken stop = default
    )
    {
        var now = clock.GetUtcNow();
        return db.WriteOnce(request, by, $"{orderId}", now, () => Receive(orderId, delivery, by, now, stop), stop);
    }

    private async Task<Outcome<string>> Receive(
        Guid orderId,
        Delivery delivery,
        Actor by,
        DateTimeOffset now,
        CancellationToken stop
    )
    {
        if (!PartNumber.Read(delivery.Printed).Try(out var read, out var unreadable))
        {
            return unreadable;
        }

        if (!(await db.LockOrder(orderId, stop)).Try(out var order, out var missing))
        {
            return missing;
        }

        if (order.State != OrderState.Ordered)
        {
            return new Refusal(RefusalReason.Conflict, $"The order of {order.Number} has been taken in already.");
        }

        read = await db.Meant(read, stop);
        delivery = WithLabel(delivery);
        if (!Check(order, delivery).Try(out var serials, out var wrong))
        {
            return wrong;
        }

        var canonical = read.Canonical;
        var right = canonical == PartNumber.Canonicalise(order.Number);
        if (await db.CatalogueNumbers.SingleOrDefaultAsync(n => n.Canonical == canonical, stop) is not { } number)
        {
            var near =
                PartNumber.Read(order.Number).Value.Compare(read) is Likeness.Near or Likeness.SameButForLookAlikes;
            return new Refusal(
                RefusalReason.NeedsConfirmation,
                $"{read.Text} is not known here, and {order.Number} was ordered{(near ? ", one slip away from it" : "")}. Read it once more; if it is printed so, it is the wrong part: send it back as the supplier says."
            );
        }

        if (await SerialKnown(number, serials, stop) is { } twice)
        {
            return twice;
        }

        if (!(await BinFor(number, delivery.Bin, right, stop)).Try(out var bin, out var none))
        {
            return none;
        }

        var occasion = new Occasion(by, now, order.RepairId);
        var cost = decimal.Round((delivery.Landed ?? order.LandedInFact ?? order.Landed) / order.Quantity, 2);
        Item? first = null;
        if (right && number.Consumable is not null)
        {
            await db.IntoLot(number, bin, delivery.Quantity, MovementReason.Received, occasion, stop);
        }
        else
        {
            for (var i = 0; i < delivery.Quantity; i++)
            {
                var item = await Items.Create(db, number, i < serials.Count ? serials[i] : null, stop);
                item.Batch = string.IsNullOrWhiteSpace(delivery.Batch) ? null : delivery.Batch.Trim();
                item.Cost = cost;
                item.OrderId = order.Id;
                db.Items.Add(item);
                db.Movements.Add(item.MoveTo(bin, MovementReason.Received, occasion));
                first ??= item;
            }
        }

        order.Arrived += right ? delivery.Quantity : 0;
        order.LandedInFact = delivery.Landed ?? order.LandedInFact;
        order.State =
            !right ? OrderState.Wrong
            : order.Arrived == order.Quantity ? OrderState.Received
            : OrderState.Ordered;
        order.ReceivedAt = now;
        await db.SaveChangesAsync(stop);
        var promised = right && first is not null && await Promise(order, first, number, occasion, stop);
        var what = first is null ? $"{delivery.Quantity} of {number.Number}" : Labels(first, delivery.Quantity);
        return right
            ? $"{what} {(delivery.Quantity == 1 ? "is" : "are")} in bin {bin.Code}{(promised ? $", {(delivery.Quantity == 1 ? "" : "the first ")}promised to {order.Repair!.Code}" : "")}.{(order.State == OrderState.Ordered ? $" {order.Quantity - order.Arrived} still to come." : "")}"
            : $"{read.Text} is not the {order.Number} ordered. {what} {(delivery.Quantity == 1 ? "is" : "are")} in quarantine; write to the supplier.";
    }

    /// <summary>A single part's serial and lot where its whole label was scanned and nothing else is said.</summary>
    private static Delivery WithLabel(Delivery delivery) =>
        ScannedLabel.Read(delivery.Printed ?? "").Try(out var label, out _) && label is not null
            ? delivery with
            {
                Serials =
                    delivery.Quantity == 1
                    && label.Serial is { } serial
                    && delivery.Serials?.Any(s => !string.IsNullOrWhiteSpace(s)) != true
                        ? [serial]
                        : delivery.Serials,
                Batch = string.IsNullOrWhiteSpace(delivery.Batch) ? label.Lot : delivery.Batch,
            }
            : delivery;

    /// <summary>The serials, cleaned; or what is wrong with what was typed.</summary>
    private static Outcome<IReadOnlyList<string>> Check(PartOrder order, Delivery delivery)
    {
        var left = order.Quantity - order.Arrived;
        if (delivery.Quantity < 1 || delivery.Quantity > left)
        {
            return Invalid(
                $"{left} of {order.Number} {(left == 1 ? "is" : "are")} still to come, and {delivery.Quantity} cannot have arrived. Count once more."
            );
        }

        if (delivery.Landed is < 0 or > MostLanded)
        {
            return Invalid("What it cost is an amount from 0 up. Correct it.");
        }

        if (delivery.Batch?.Trim() is { } batch && (batch.Length > 40 || batch.Any(char.IsControl)))
        {
            return Invalid("A lot has at most 40 characters. Scan it once more.");
        }

        var serials = new List<string>();
        foreach (var typed in (delivery.Serials ?? []).Where(s => !string.IsNullOrWhiteSpace(s)))
        {
            if (!SerialNumber.Read(typed).Try(out var serial, out var unreadable))
            {
                return unreadable;
            }

            if (serials.Contains(serial))
            {
                return Invalid($"The serial {serial} was scanned twice. Each part has its own.");
            }

            serials.Add(serial);
        }

        return serials.Count > delivery.Quantity
            ? Invalid($"{serials.Count} serials for {delivery.Quantity} parts. Correct one of the two.")
            : serials;
    }

    private async Task<Refusal?> SerialKnown(
        CatalogueNumber number,
        IReadOnlyList<string> serials,
        CancellationToken stop
    )
    {
        var known = await db
            .Items.Include(i => i.Bin)
            .Include(i => i.Unit)
            .Where(i => i.NumberId == number.Id && serials.Contains(i.Serial!))
            .FirstOrDefaultAsync(stop);
        return known is null
            ? null
            : new Refusal(
                RefusalReason.Conflict,
                $"The serial {known.Serial} is in the book already: it is {known.Code}, in {known.Where()}. A part is taken in once; look which of the two it is."
            );
    }

    private async Task<Outcome<Bin>> BinFor(CatalogueNumber number, string? typed, bool right, CancellationToken stop)
    {
        if (!right)
        {
            return await db.TheBin(BinKind.Quarantine, stop);
        }

        if (!string.IsNullOrWhiteSpace(typed))
        {
            return await db.FindBin(typed, stop, BinKind.Shelf);
        }

        return await db
                .Items.Where(i => i.NumberId == number.Id && i.BinKind == BinKind.Shelf)
                .OrderBy(i => i.Code)
                .Select(i => i.Bin)
                .FirstOrDefaultAsync(stop)
            ?? await db
                .Lots.Where(l => l.NumberId == number.Id && l.Bin.Kind == BinKind.Shelf)
                .Select(l => l.Bin)
                .FirstOrDefaultAsync(stop)
            ?? await db.TheBin(BinKind.Shelf, stop);
    }

    /// <summary>Promises the first of a delivery to the line of the repair that waits for it.</summary>
    private async Task<bool> Promise(
        PartOrder order,
        Item item,
        CatalogueNumber number,
        Occasion occasion,
        CancellationToken stop
    )
    {
        if (
            order.LineId is not { } line
            || await WantedLines.WithoutPart(db).SingleOrDefaultAsync(l => l.Id == line, stop) is not { } waits
            || !waits.MayBe(number.Number)
        )
        {
            return false;
        }

        db.Promise(waits, item, occasion.By, occasion.At);
        waits.ExpectedIn = number.Number;
        await db.SaveChangesAsync(stop);
        return true;
    }

    private static string Labels(Item first, int quantity) =>
        quantity == 1 ? first.Code : $"{quantity} items from {first.Code} on";

    private static Refusal Invalid(string message) => new(RefusalReason.Invalid, message);
}
