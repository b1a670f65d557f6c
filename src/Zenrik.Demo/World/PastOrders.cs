using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Sourcing;
using Zenrik.Core.Stock;

namespace Zenrik.Demo.World;

/// <summary>The orders by which what the stores received in the last year had come. The house orders once or twice a week.</summary>
internal static class PastOrders
{
    /// <summary>Of whom, in which grade and by what; of ten numbers so many, and the days from the order to the door.</summary>
    private sealed record Habit(string Supplier, PartGrade Grade, string Freight, int OfTen, int Days);

    private static readonly Habit[] Habits =
    [
        new("Mainland Spares", PartGrade.Brand, "ground and ferry", 7, 5),
        new("Overseas Boards", PartGrade.Compatible, "ground", 3, 17),
    ];

    public static async Task Add(
        WorkshopDb db,
        DemoCatalogue shipped,
        Actor storekeeper,
        DateTimeOffset today,
        CancellationToken stop
    )
    {
        // What neither of them sells was bought by hand.
        var prices = shipped
            .Numbers.Where(n => n.Grade == PartGrade.Brand)
            .ToDictionary(n => n.Number, n => decimal.Round(n.Price * ToTheDoor, 2));
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
        var bought = received.Where(r => prices.ContainsKey(r.Number));
        foreach (var (order, came) in bought.GroupBy(r => (r.Number, Day: OrderedOn(r.At, Of(r.Number)))).Index())
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
                    Grade = habit.Grade,
                    Quantity = came.Count(),
                    Arrived = came.Count(),
                    Freight = habit.Freight,
                    Landed = came.Sum(c => c.Cost ?? prices[number]),
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
