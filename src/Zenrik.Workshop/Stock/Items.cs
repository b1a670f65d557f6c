using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Parts;

namespace Zenrik.Workshop.Stock;

/// <summary>Makes items with the workshop's own labels.</summary>
internal static class Items
{
    /// <summary>A new item with the next free label; it has no place until it is moved to one.</summary>
    public static async Task<Item> Create(WorkshopDb db, CatalogueNumber number, string? serial, CancellationToken stop)
    {
        var next = await db.Database.SqlQuery<long>($"SELECT nextval('item_codes') AS \"Value\"").SingleAsync(stop);
        return new Item
        {
            Id = new ItemId(Guid.CreateVersion7()),
            Code = string.Create(CultureInfo.InvariantCulture, $"IT-{next:00000}"),
            NumberId = number.Id,
            Serial = serial,
        };
    }
}
