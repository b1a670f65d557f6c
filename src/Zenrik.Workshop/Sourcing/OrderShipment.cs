using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fit;
using Zenrik.Core.Parts;
using Zenrik.Core.Repairs;
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

        var now = clock.GetLocalNow().DateTime;
        var figures = await db.Figures(stop);
        var plan = Shipments.Best(
            [.. chosen.Select(c => c.Offered)],
            DateOnly.FromDateTime(now),
            TimeOnly.FromDateTime(now),
            figures.Exchange,
            figures.LoanPerDay
        );
        if (plan.Left is [var (_, why), ..])
        {
            return new Refusal(RefusalReason.Conflict, $"{why} Nothing was ordered.");
        }

        var placed = await db.Write(by, $"{chosen[0].Supplier} {freight}", clock.GetUtcNow(), Work, stop);
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
            if (
                chosen.FirstOrDefault(c =>
                    !(c.Wanted.Line is { } line ? still.Contains(line) : shelf.Contains(c.Wanted.Key))
                ) is
                { Supplier: not null } changed
            )
            {
                return Changed($"{changed.Wanted.What} for {changed.Wanted.For} is ordered or promised meanwhile.");
            }

            var repairs = await db
                .RepairLines.Where(l => chosen.Select(c => c.Wanted.Line).Contains(l.Id))
                .ToDictionaryAsync(l => l.Id, l => l.RepairId, stop);
            foreach (var shipment in plan.Shipments)
            {
                foreach (var line in shipment.Lines)
                {
                    var (want, _, _) = chosen.First(c => c.Offered.Key == line.Line.Key);
                    db.PartOrders.Add(
                        new PartOrder
                        {
                            Id = Guid.CreateVersion7(),
                            RequestId = ids[line.Line.Key],
                            SupplierId = supplierId,
                            Number = line.Bid.Offer.Number,
                            Grade = line.Bid.Offer.Grade,
                            Quantity = line.Quantity,
                            Freight = freight,
                            Landed = line.Landed.Amount,
                            Currency = line.Landed.Currency,
                            Expected = shipment.Arrives,
                            RepairId = want.Line is { } of ? repairs[of] : null,
                            LineId = want.Line,
                            At = clock.GetUtcNow(),
                            ById = by.Id,
                        }
                    );
                }
            }

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

    /// <summary>The lines as they are wanted now, each with the one offer and way of sending that was chosen for it.</summary>
    private async Task<Outcome<IReadOnlyList<(Wanted Wanted, WantedLine Offered, string Supplier)>>> Chosen(
        Guid supplierId,
        string freight,
        IReadOnlyList<(string Key, string Number)> lines,
        CancellationToken stop
    )
    {
        var (repairs, _) = await wanted.OfRepairs(stop);
        var all = repairs.Concat(await propose.ForShelf(stop)).ToDictionary(w => w.Key);
        var mine = new List<(Wanted Wanted, string Canonical)>();
        foreach (var (key, number) in lines)
        {
            if (!all.TryGetValue(key, out var want))
            {
                return Changed($"{number} is not wanted as it was any more.");
            }

            mine.Add((want, PartNumber.Canonicalise(number)));
        }

        var (stored, _) = await offers.Ask(
            [.. mine.SelectMany(m => m.Wanted.Numbers).Select(n => n.Number).Distinct()],
            stop
        );
        var theirs = stored.Where(o => o.SupplierId == supplierId).ToList();
        var offered = await wanted.Offered([.. mine.Select(m => m.Wanted)], theirs, await db.Figures(stop), stop);
        var chosen = new List<(Wanted, WantedLine, string)>();
        foreach (var ((want, canonical), line) in mine.Zip(offered))
        {
            var ways = line
                .Ways.Where(w =>
                    w.Bid.Freight.Name == freight && PartNumber.Canonicalise(w.Bid.Offer.Number) == canonical
                )
                .ToList();
            if (ways.Count == 0)
            {
                return Changed($"The offer for {want.What} ({want.For}) is no longer there.");
            }

            if (want.Repair is { } repair && await Unfit(repair, want.Slot, canonical, stop) is { } unfit)
            {
                return unfit;
            }

            chosen.Add((want, line with { Ways = ways }, ways[0].Bid.Offer.Supplier));
        }

        return chosen;
    }

    /// <summary>What a machine has in it may tell against a number that is listed for its model.</summary>
    private async Task<Refusal?> Unfit(long repair, string slot, string canonical, CancellationToken stop) =>
        !(await offers.Run(repair, slot, stop)).Try(out var view, out var missing) ? missing
        : view.Numbers.FirstOrDefault(n => n.Number.Canonical == canonical) is { } number
        && number.Answer.Verdict is not (FitVerdict.NotKnown or FitVerdict.DoesNotFit)
            ? null
        : new Refusal(
            RefusalReason.Conflict,
            $"{view.Line.Line.AssemblyName} for {Repair.CodeOf(repair)} is not known to fit. Untick it and look at the offers on its repair's page. Nothing was ordered."
        );

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
