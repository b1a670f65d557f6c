using CsCheck;
using Zenrik.Core.Stock;

namespace Zenrik.Core.Tests.Stock;

public sealed class StockBookTests
{
    private static readonly ItemId[] Items = [.. Enumerable.Range(1, 5).Select(i => new ItemId(Id(1, i)))];
    private static readonly RepairId[] Repairs = [.. Enumerable.Range(1, 3).Select(i => new RepairId(Id(2, i)))];
    private static readonly Place Supplier = new Place.InBin(new BinId(Id(3, 1)), BinKind.Outside);
    private static readonly Place Shelf = new Place.InBin(new BinId(Id(3, 2)), BinKind.Shelf);
    private static readonly Place Quarantine = new Place.InBin(new BinId(Id(3, 3)), BinKind.Quarantine);
    private static readonly Place.InBin Bench = new(new BinId(Id(3, 4)), BinKind.Bench);
    private static readonly Place[] Places =
    [
        Supplier,
        Shelf,
        new Place.InBin(new BinId(Id(3, 5)), BinKind.Shelf),
        Bench,
        Quarantine,
        new Place.InUnit(new UnitId(Id(4, 1)), "battery"),
        new Place.InUnit(new UnitId(Id(4, 2)), "battery"),
    ];

    private static Guid Id(int kind, int n) => new(n, (short)kind, 0, new byte[8]);

    [Fact]
    public void Whatever_is_asked_the_projection_equals_the_accepted_movements() =>
        Gen.Select(
                Gen.Int[0, Items.Length - 1].Select(i => Items[i]),
                Gen.Int[0, Places.Length - 1].Select(i => Places[i]),
                Gen.Int[0, Places.Length - 1].Select(i => Places[i]),
                Gen.Int[0, 4],
                Gen.Int[0, Repairs.Length - 1].Select(i => Repairs[i])
            )
            .Array[0, 60]
            .Sample(
                asked =>
                {
                    var (book, accepted) = (StockBook.Empty, new List<Movement>());
                    foreach (var (item, from, to, what, repair) in asked)
                    {
                        var movement = new Movement(item, from, to);
                        var outcome = what switch
                        {
                            0 => book.Receive(movement),
                            1 => book.Move(movement),
                            2 => book.Promise(item, repair),
                            3 => book.Issue(item, repair, Bench),
                            _ => book.Release(item),
                        };
                        if (outcome.Try(out var next, out _))
                        {
                            var before = book;
                            book = next;
                            if (what <= 1)
                            {
                                accepted.Add(movement);
                            }
                            else if (what == 3)
                            {
                                accepted.Add(new Movement(item, before.Places[item], Bench));
                            }
                        }
                    }

                    StockBook.From(accepted).Places.ShouldBe(book.Places, ignoreOrder: true);
                    book.Places.Values.OfType<Place.InUnit>().ShouldBeUnique();
                    book.Promised.Keys.ShouldAllBe(item =>
                        ((Place.InBin)book.Places[item]).Kind == BinKind.Shelf || book.Places[item] == Bench
                    );
                },
                iter: 2000
            );

    [Fact]
    public void The_last_battery_goes_to_one_repair()
    {
        var book = StockBook
            .Empty.Receive(new Movement(Items[0], Supplier, Shelf))
            .Value.Promise(Items[0], Repairs[0])
            .Value;
        book.Promise(Items[0], Repairs[0]).Refusal.ShouldBeNull();
        book.Promise(Items[0], Repairs[1]).Refusal!.Message.ShouldContain("promised to another repair");
    }

    [Fact]
    public void A_removed_part_is_not_fitted_again_from_quarantine()
    {
        var book = StockBook.Empty.Receive(new Movement(Items[0], Supplier, Quarantine)).Value;
        book.Move(new Movement(Items[0], Quarantine, Places[^1])).Refusal!.Message.ShouldContain("quarantine");
    }

    [Fact]
    public void What_is_handed_out_stays_promised_until_it_is_fitted_or_comes_back()
    {
        var book = StockBook.Empty.Receive(new Movement(Items[0], Supplier, Shelf)).Value;
        book.Issue(Items[0], Repairs[0], Bench).Refusal!.Message.ShouldContain("Promise it first");
        book.Move(new Movement(Items[0], Shelf, Bench)).Refusal!.Message.ShouldContain("promised to a repair");
        var out_ = book.Promise(Items[0], Repairs[0]).Value.Issue(Items[0], Repairs[0], Bench).Value;
        out_.Promised.ShouldContainKey(Items[0]);
        out_.Issue(Items[0], Repairs[0], Bench).Refusal!.Message.ShouldContain("already");
        out_.Promise(Items[0], Repairs[1]).Refusal!.Message.ShouldContain("handed out for another repair");
        out_.Move(new Movement(Items[0], Bench, Shelf)).Value.Promised.ShouldBeEmpty();
    }
}
