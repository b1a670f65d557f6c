using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Parts;
using Zenrik.Core.Sourcing;

namespace Zenrik.Workshop.Sourcing;

/// <summary>Orders what goes together of one supplier: an order for each line, each with its share of the freight.</summary>
public sealed class OrderShipment(
    WorkshopDb db,
    ProposeOrders propose,
    WantedLines wanted,
    OffersFor offers,
    PlaceOrder orders,
    TimeProvider clock
)
{
    /// <param name="lines">Lines of the proposal by their key, and the number to order for each.</param>
    /// <returns>What was ordered and when it is due, as a sentence. All lines are ordered or none.</returns>
    public async Task<Outcome<string>> Run(
        Guid requestId,
        Guid supplierId,
        string freight,
        IReadOnlyList<(string Key, string Number)> lines,
        Actor by,
        CancellationToken stop = default
    )
    {
        if (Writing.Missing(requestId) is { } missing)
        {
            return missing;
        }

        if (lines.Count == 0 || lines.DistinctBy(l => l.Key).Count() < lines.Count)
        {
            return new Refusal(RefusalReason.Invalid, "Tick at least one line, each once. Nothing was ordered.");
        }

        var ids = lines.ToDictionary(l => l.Key, l => Writing.PartOf(requestId, l.Key));
        if (await Placed(ids.Values, stop) is { Count: > 0 } before)
        {
            return IsThis(before) ? await Said(before, by, stop) : Writing.UsedElsewhere;
        }

        if (!(await Chosen(supplierId, freight, lines, stop)).Try(out var chosen, out var refused))
        {
            return refused;
        }

        var plan = wanted.InShipments(chosen, await db.Figures(stop));
        if (plan.Left is [var (_, why), ..])
        {
            return new Refusal(RefusalReason.Conflict, $"{why} Nothing was ordered.");
        }

        var placed = await db.Write(by, $"{plan.Shipments[0].Supplier} {freight}", clock.GetUtcNow(), Work, stop);
        // The same request at the same time: the one that came first is what is told.
        var stored = await Placed(ids.Values, stop);
        return IsThis(stored) ? await Said(stored, by, stop)
            : placed.Try(out _, out refused) ? Writing.UsedElsewhere
            : refused;

        bool IsThis(List<PartOrder> orders) =>
            orders.Count == lines.Count && orders.TrueForAll(o => o.ById == by.Id && o.SupplierId == supplierId);

        async Task<Outcome<int>> Work()
        {
            foreach (var repair in chosen.Select(c => c.Wanted.Repair).OfType<long>().Distinct().Order())
            {
                if (!(await db.LockRepair(repair, stop)).Try(out _, out var gone))
                {
                    return gone;
                }
            }

            await db.LockSupplier(supplierId, stop);
            var still = (await WantedLines.Waiting(db).Select(l => l.Id).ToListAsync(stop)).ToHashSet();
            var shelf = (await propose.ForShelf(stop)).Select(w => w.Key).ToHashSet();
            foreach (var (want, _) in chosen)
            {
                if (!(want.Line is { } line ? still.Contains(line) : shelf.Contains(want.Key)))
                {
                    return Changed($"{want.What} for {want.For} is ordered or promised meanwhile.");
                }
            }

            db.PartOrders.AddRange(
                plan.Shipments.SelectMany(shipment =>
                    shipment.Lines.Select(line =>
                    {
                        var (want, _) = chosen.First(c => c.Wanted.Key == line.Line.Key);
                        return orders.New(
                            ids[want.Key],
                            supplierId,
                            line.Bid,
                            line.Quantity,
                            line.Landed,
                            shipment.Arrives,
                            by,
                            want.RepairId,
                            want.Line
                        );
                    })
                )
            );
            try
            {
                await db.SaveChangesAsync(stop);
            }
            catch (DbUpdateException e) when (e.Broke("ix_part_orders_request_id"))
            {
                return Writing.UsedElsewhere;
            }

            return lines.Count;
        }
    }

    private async Task<List<PartOrder>> Placed(IEnumerable<Guid> requests, CancellationToken stop) =>
        await db
            .PartOrders.Include(o => o.Supplier)
            .Where(o => requests.Contains(o.RequestId))
            .OrderBy(o => o.Id)
            .ToListAsync(stop);

    /// <summary>
    /// The lines as they are wanted now, each with the one offer and way of sending that was chosen for it. What is not known
    /// to go into its machine is not among the numbers that are wanted.
    /// </summary>
    private async Task<Outcome<IReadOnlyList<(Wanted Wanted, Outcome<Comparison> Offers)>>> Chosen(
        Guid supplierId,
        string freight,
        IReadOnlyList<(string Key, string Number)> lines,
        CancellationToken stop
    )
    {
        var (repairs, _) = await wanted.OfRepairs(stop);
        var all = repairs.Concat(await propose.ForShelf(stop)).ToDictionary(w => w.Key);
        var mine = new List<Wanted>();
        foreach (var (key, number) in lines)
        {
            var canonical = PartNumber.Canonicalise(number);
            if (!all.TryGetValue(key, out var want))
            {
                return Changed($"{number} is not wanted as it was any more.");
            }

            mine.Add(want with { Numbers = [.. want.Numbers.Where(n => n.Canonical == canonical)] });
        }

        var (stored, _) = await offers.Ask([.. mine.SelectMany(w => w.Numbers).Select(n => n.Number).Distinct()], stop);
        var chosen = new List<(Wanted, Outcome<Comparison>)>();
        foreach (
            var (want, offered) in await wanted.Compared(
                mine,
                [.. stored.Where(o => o.SupplierId == supplierId)],
                await db.Figures(stop),
                stop
            )
        )
        {
            if (
                !offered.Try(out var compared, out _)
                || compared.Bids.Where(b => b.Bid.Freight.Name == freight).ToList() is not { Count: > 0 } so
            )
            {
                return Changed($"The offer for {want.What} ({want.For}) is no longer there.");
            }

            chosen.Add((want, compared with { Bids = so }));
        }

        return chosen;
    }

    private async Task<string> Said(List<PartOrder> placed, Actor by, CancellationToken stop)
    {
        var first = placed[0];
        var total = new Money(placed.Sum(o => o.Landed), first.Currency);
        var due = placed.Max(o => o.Expected).ToString("ddd d MMM", CultureInfo.InvariantCulture);
        foreach (var order in placed)
        {
            _ = await orders.Acknowledge(order, by, stop);
        }

        var requests = placed.ConvertAll(o => o.RequestId);
        var unsent = await db.PartOrders.CountAsync(
            o => requests.Contains(o.RequestId) && o.Acknowledged == null,
            stop
        );
        var rest =
            unsent == 0 ? ""
            : first.Supplier.Address is null ? " They are not sent by themselves: open each order and send it."
            : $" {unsent} of them the supplier has not acknowledged: open the order and ask again.";
        return $"{placed.Count} {(placed.Count == 1 ? "line" : "lines")} ordered of {first.Supplier.Name}, {total} landed; due on {due}.{rest}";
    }

    private static Refusal Changed(string what) =>
        new(RefusalReason.Conflict, $"{what} Look at the proposal as it is now; nothing was ordered.");
}
