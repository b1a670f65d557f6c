using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Stock;

namespace Zenrik.Workshop.Tests.Stock;

/// <summary>The database keeps the rules of the stock by itself, whoever writes to it.</summary>
public sealed class StockConstraintTests(TemplateDatabase databases)
{
    [Theory]
    [InlineData(
        "UPDATE items SET bin_id = (SELECT id FROM bins LIMIT 1) WHERE unit_id IS NOT NULL",
        "ck_items_one_place"
    )]
    [InlineData("UPDATE items SET bin_id = NULL WHERE unit_id IS NULL", "ck_items_one_place")]
    [InlineData("UPDATE items SET bin_kind = 'Bench' WHERE bin_kind = 'Shelf'", "fk_items_bins")]
    [InlineData("UPDATE items SET slot = NULL WHERE unit_id IS NOT NULL", "ck_items_slot_of_unit")]
    [InlineData("UPDATE items SET slot = 'battery' WHERE slot = 'board'", "ix_items_unit_id_slot")]
    [InlineData("UPDATE lots SET on_hand = -1, promised = 0", "ck_lots_not_negative")]
    [InlineData("UPDATE lots SET promised = on_hand + 1", "ck_lots_promised_on_hand")]
    [InlineData("UPDATE movements SET reason = 'Fitted'", "never changed or deleted")]
    [InlineData("DELETE FROM movements", "never changed or deleted")]
    [InlineData("DELETE FROM bench_entries", "never changed or deleted")]
    [InlineData(
        "UPDATE repairs SET state = 'Open', unit_id = (SELECT id FROM units LIMIT 1)",
        "ix_repairs_one_open_per_unit"
    )]
    public async Task What_must_not_be_cannot_be_written(string sql, string rule)
    {
        await using var book = await databases.NewBook();
        (await book.Sql(sql)).ShouldNotBeNull().ShouldContain(rule);
    }

    [Fact]
    public async Task Where_every_item_is_follows_from_the_movements_alone()
    {
        await using var book = await databases.NewBook();
        var bins = await book.Ask(db => db.Bins.ToDictionaryAsync(b => b.Id, b => b.Kind));
        var outside = new Place.InBin(bins.First(b => b.Value == BinKind.Outside).Key, BinKind.Outside);
        var movements = await book.Ask(db =>
            db.Movements.Where(m => m.ItemId != null).OrderBy(m => m.Id).ToListAsync()
        );
        Place At(BinId? bin, UnitId? unit, string? slot) =>
            unit is { } u ? new Place.InUnit(u, slot!)
            : bin is { } b ? new Place.InBin(b, bins[b])
            : outside;

        var proved = StockBook.From(
            movements.Select(m => new Movement(
                m.ItemId!.Value,
                At(m.FromBinId, m.FromUnitId, m.FromSlot),
                At(m.ToBinId, m.ToUnitId, m.ToSlot)
            ))
        );

        var items = await book.Ask(db => db.Items.Include(i => i.Bin).ToListAsync());
        items.Count.ShouldBeGreaterThan(400);
        foreach (var item in items)
        {
            proved.Places[item.Id].ShouldBe(item.Place, item.Code);
        }
    }
}
