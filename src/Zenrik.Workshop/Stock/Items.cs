using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Parts;

namespace Zenrik.Workshop.Stock;

/// <summary>Makes items with the workshop's own labels.</summary>
internal static class Items
{
    /// <summary>A new item with the next free label; it has no place until it is moved to one.</summary>
    public static async Task<Item> Create(
        WorkshopDb db,
        CatalogueNumber number,
        string? serial,
        CancellationToken stop
    ) => Of((await Codes(db, 1, stop)).Dequeue(), number, serial);

    /// <summary>The next free labels, taken.</summary>
    public static async Task<Queue<string>> Codes(WorkshopDb db, int count, CancellationToken stop) =>
        new(
            (
                await db
                    .Database.SqlQuery<long>(
                        $"SELECT nextval('item_codes') AS \"Value\" FROM generate_series(1, {count})"
                    )
                    .ToListAsync(stop)
            ).Select(n => string.Create(CultureInfo.InvariantCulture, $"{Prefix}{n:00000}"))
        );

    /// <summary>Whether a code has the form of the workshop's own labels, as <see cref="LabelCode.Of"/> reads it.</summary>
    public static bool IsLabel(string code) =>
        code.Length > Prefix.Length
        && code.StartsWith(Prefix, StringComparison.Ordinal)
        && code.AsSpan(Prefix.Length).IndexOfAnyExceptInRange('0', '9') < 0;

    private const string Prefix = "IT-";

    /// <summary>An item with a label that was taken for it.</summary>
    public static Item Of(string code, CatalogueNumber number, string? serial) =>
        new()
        {
            Id = new ItemId(Guid.CreateVersion7()),
            Code = code,
            NumberId = number.Id,
            Serial = serial,
        };
}
