using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Parts;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.People;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Sourcing;

/// <summary>
/// Takes an order in by the number on the part. The right number goes to the shelf, promised to the repair it was
/// ordered for; another one goes into quarantine, and the order stays open to be put right.
/// </summary>
public sealed class ReceiveOrder(WorkshopDb db, TimeProvider clock)
{
    /// <param name="printed">The number on the part that arrived.</param>
    public async Task<Outcome<string>> Run(
        Guid orderId,
        string? printed,
        string? binCode,
        Actor by,
        CancellationToken stop = default
    )
    {
        if (!PartNumber.Read(printed).Try(out var read, out var unreadable))
        {
            return unreadable;
        }

        await using var transaction = await db.Database.BeginTransactionAsync(stop);
        await db.Database.ExecuteSqlAsync($"SELECT 1 FROM part_orders WHERE id = {orderId} FOR UPDATE", stop);
        var order = await db.PartOrders.Include(o => o.Repair).SingleOrDefaultAsync(o => o.Id == orderId, stop);
        if (order is null)
        {
            return new Refusal(RefusalReason.NotFound, "There is no such order.");
        }

        if (order.State != OrderState.Ordered)
        {
            return new Refusal(RefusalReason.Conflict, $"The order of {order.Number} has been taken in already.");
        }

        var canonical = read.Canonical;
        var number = await db
            .CatalogueNumbers.Include(n => n.SupersededBy)
            .SingleOrDefaultAsync(n => n.Canonical == canonical, stop);
        var right = canonical == PartNumber.Canonicalise(order.Number);
        if (number is null)
        {
            return new Refusal(
                RefusalReason.NeedsConfirmation,
                $"{read.Text} is not known here, and {order.Number} was ordered. Read it once more; if it is printed so, it is the wrong part: send it back as the supplier says."
            );
        }

        var wanted = binCode?.Trim().ToUpperInvariant();
        var bin = await db
            .Bins.Where(b =>
                right
                    ? b.Kind == BinKind.Shelf && (string.IsNullOrEmpty(wanted) || b.Code == wanted)
                    : b.Kind == BinKind.Quarantine
            )
            .OrderBy(b => b.Code)
            .FirstOrDefaultAsync(stop);
        if (bin is null)
        {
            return new Refusal(RefusalReason.NotFound, $"There is no shelf bin {wanted}.");
        }

        var occasion = new Occasion(by, clock.GetUtcNow(), order.RepairId);
        Item? first = null;
        for (var i = 0; i < order.Quantity; i++)
        {
            var item = await Items.Create(db, number, serial: null, stop);
            db.Items.Add(item);
            db.Movements.Add(item.MoveTo(bin, MovementReason.Received, occasion));
            first ??= item;
        }

        order.State = right ? OrderState.Received : OrderState.Wrong;
        order.ReceivedAt = occasion.At;
        await db.SaveChangesAsync(stop);
        var promised =
            right
            && order is { LineId: { } line, Repair.State: Repairs.RepairState.Open }
            && !await db.Reservations.AnyAsync(r => r.LineId == line, stop);
        if (promised)
        {
            db.Reservations.Add(
                new Reservation
                {
                    Id = Guid.CreateVersion7(),
                    RepairId = order.RepairId!.Value,
                    LineId = order.LineId,
                    ItemId = first!.Id,
                    Quantity = 1,
                    At = occasion.At,
                    ById = by.Id,
                }
            );
            (await db.RepairLines.SingleAsync(l => l.Id == order.LineId, stop)).ExpectedIn = number.Number;
            await db.SaveChangesAsync(stop);
        }

        await transaction.CommitAsync(stop);
        return right
            ? $"{first!.Code} is in bin {bin.Code}{(promised ? $", promised to {order.Repair!.Code}" : "")}."
            : $"{read.Text} is not the {order.Number} ordered. {first!.Code} is in quarantine; write to the supplier.";
    }
}
