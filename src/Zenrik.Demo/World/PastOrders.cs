using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Sourcing;
using Zenrik.Core.Stock;

namespace Zenrik.Demo.World;

/// <summary>The orders by which what the stores received in the last year had come. The house orders once or twice a week.</summary>
internal static class PastOrders
{
    /// <summary>Of whom and by what; of ten numbers so many, and the days from the order to the door.</summary>
    private sealed record Habit(string Supplier, string Freight, int OfTen, int Days);

    private static readonly Habit[] Habits =
    [
        new("Mainland Spares", "ground and ferry", 7, 5),
        new("Overseas Boards", "ground", 3, 17),
    ];

    public static async Task Add(
        WorkshopDb db,
        DemoCatalogue shipped,
        Actor storekeeper,
        DateTimeOffset today,
        CancellationToken stop
    )
    {
        var parts = shipped.Numbers.ToDictionary(n => n.Number);
        var suppliers = await db.Suppliers.ToDictionaryAsync(s => s.Name, s => s.Id, stop);
        var yearAgo = today.AddYears(-1);
        var received = await db
            .Movements.Where(m => m.Reason == MovementReason.Received && m.ItemId != null && m.At >= yearAgo)
            .OrderBy(m => m.At)
            .Select(m => new
            {
                m.At,
                Item = m.ItemId!.Value,
                m.Item!.Number.Number,
                m.Item.Cost,
            })
            .ToListAsync(stop);
        var (items, orders) = (new List<Guid>(), new List<Guid>());
        foreach (var (order, came) in received.GroupBy(r => (r.Number, Day: OrderedOn(r.At, Of(r.Number)))).Index())
        {
            var (number, ordered) = came.Key;
            var habit = Of(number);
            var id = Guid.CreateVersion7();
            db.PartOrders.Add(
                new PartOrder
                {
                    Id = id,
                    RequestId = Guid.CreateVersion7(),
                    SupplierId = suppliers[habit.Supplier],
                    Number = number,
                    Grade = parts[number].Grade,
                    Quantity = came.Count(),
                    Arrived = came.Count(),
                    Freight = habit.Freight,
                    Landed = came.Sum(c => c.Cost ?? decimal.Round(parts[number].Price * ToTheDoor, 2)),
                    Currency = "GBP",
                    Expected = DateOnly.FromDateTime(ordered.Date.AddDays(habit.Days)),
                    Acknowledged = string.Create(CultureInfo.InvariantCulture, $"{habit.Supplier[0]}-{70000 + order}"),
                    State = OrderState.Received,
                    At = ordered,
                    ById = storekeeper.Id,
                    ReceivedAt = came.Max(c => c.At),
                }
            );
            items.AddRange(came.Select(c => c.Item.Value));
            orders.AddRange(came.Select(_ => id));
        }

        await db.SaveChangesAsync(stop);
        await db.Database.ExecuteSqlAsync(
            $"""
            UPDATE items i SET order_id = o.order_id
            FROM unnest({items.ToArray()}, {orders.ToArray()}) AS o(item_id, order_id)
            WHERE i.id = o.item_id
            """,
            stop
        );
    }

    /// <summary>What a part costs here, of what its supplier asks for it.</summary>
    private const decimal ToTheDoor = 1.2m;

    private static Habit Of(string number)
    {
        // The same of a number in every world: string's own hash differs from run to run.
        var at = number.Sum(c => c) % Habits.Sum(h => h.OfTen);
        return Habits.First(h => (at -= h.OfTen) < 0);
    }

    /// <summary>The last Monday or Thursday that was early enough, at nine.</summary>
    private static DateTimeOffset OrderedOn(DateTimeOffset received, Habit habit)
    {
        var day = received.UtcDateTime.Date.AddDays(-habit.Days);
        while (day.DayOfWeek is not (DayOfWeek.Monday or DayOfWeek.Thursday))
        {
            day = day.AddDays(-1);
        }

        return new DateTimeOffset(day.AddHours(9), TimeSpan.Zero);
    }
}
