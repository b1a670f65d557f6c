using CsCheck;
using Zenrik.Core.Stock;

namespace Zenrik.Core.Tests.Stock;

/// <summary>Items walk through the table that the book moves them by; whatever is asked, what must hold holds.</summary>
public sealed class ItemLifeTests
{
    private static readonly RepairId[] Repairs = [.. Enumerable.Range(1, 3).Select(i => new RepairId(Id(2, i)))];
    private static readonly ItemId Item = new(Id(1, 1));
    private static readonly Place Outside = new Place.InBin(new BinId(Id(3, 1)), BinKind.Outside);
    private static readonly Place Shelf = new Place.InBin(new BinId(Id(3, 2)), BinKind.Shelf);
    private static readonly Place[] Places =
    [
        Outside,
        Shelf,
        new Place.InBin(new BinId(Id(3, 5)), BinKind.Shelf),
        new Place.InBin(new BinId(Id(3, 4)), BinKind.Bench),
        new Place.InBin(new BinId(Id(3, 3)), BinKind.Quarantine),
        new Place.InUnit(new UnitId(Id(4, 1)), "battery"),
        new Place.InUnit(new UnitId(Id(4, 2)), "battery"),
    ];

    private static readonly MovementReason[] Reasons = Enum.GetValues<MovementReason>();

    private static Guid Id(int kind, int n) => new(n, (short)kind, 0, new byte[8]);

    private static Whereabouts At(Place? place) =>
        place is Place.InUnit { Unit: var unit }
            ? ItemLife.At(null, unit)
            : ItemLife.At((place as Place.InBin)?.Kind, null);

    [Fact]
    public void However_an_item_walks_a_promise_lies_on_a_shelf_or_a_bench_and_the_movements_prove_the_place() =>
        Gen.Select(
                Gen.Int[0, Reasons.Length - 1].Select(i => Reasons[i]),
                Gen.Int[0, Places.Length - 1].Select(i => Places[i]),
                Gen.Int[0, 3],
                Gen.Int[0, Repairs.Length - 1].Select(i => Repairs[i])
            )
            .Array[0, 120]
            .Sample(
                asked =>
                {
                    (Place? at, RepairId? promised, var movements) = (null, null, new List<Movement>());
                    foreach (var (reason, to, what, repair) in asked)
                    {
                        if (what == 0)
                        {
                            if (ItemLife.MayPromise(at, promised, repair) is null)
                            {
                                promised = repair;
                            }

                            continue;
                        }

                        var handsOut = reason == MovementReason.Issued && to is Place.InBin { Kind: BinKind.Bench };
                        if (
                            at == to
                            || ItemLife.May(reason, At(at), At(to)) is not null
                            || (handsOut && ItemLife.MayIssue(at, promised, repair) is not null)
                        )
                        {
                            continue;
                        }

                        // What is set apart goes into a machine only after somebody released it, or by taking a mistake back.
                        (
                            at is Place.InBin { Kind: BinKind.Quarantine }
                            && to is Place.InUnit
                            && reason != MovementReason.PutRight
                        ).ShouldBeFalse();
                        movements.Add(new Movement(Item, at ?? Outside, to));
                        promised = ItemLife.KeepsPromise(At(at), At(to)) ? promised : null;
                        at = to;
                        if (promised is not null)
                        {
                            At(at).ShouldBeOneOf(Whereabouts.Shelf, Whereabouts.Bench);
                        }
                    }

                    var book = StockBook.From(movements.Where(m => m.From != m.To));
                    if (at is not null)
                    {
                        book.Places[Item].ShouldBe(at);
                    }
                },
                iter: 3000
            );

    [Fact]
    public void Every_reason_has_its_line_and_nothing_comes_to_be_new_again()
    {
        foreach (var reason in Reasons)
        {
            foreach (var from in Enum.GetValues<Whereabouts>())
            {
                ItemLife.May(reason, from, Whereabouts.New).ShouldNotBeNull();
            }

            _ = ItemLife.IsSaid(reason);
        }

        // From wherever an item is, something leads back to a shelf.
        foreach (var from in Enum.GetValues<Whereabouts>().Where(w => w != Whereabouts.Shelf))
        {
            Reasons.ShouldContain(r => ItemLife.May(r, from, Whereabouts.Shelf) == null, $"{from}");
        }
    }

    [Theory]
    [InlineData(MovementReason.SetApart, true)]
    [InlineData(MovementReason.Released, true)]
    [InlineData(MovementReason.Scrapped, true)]
    [InlineData(MovementReason.Counted, true)]
    [InlineData(MovementReason.PutRight, true)]
    [InlineData(MovementReason.Moved, false)]
    [InlineData(MovementReason.Fitted, false)]
    public void What_somebody_finds_later_and_wonders_at_is_said(MovementReason reason, bool said) =>
        ItemLife.IsSaid(reason).ShouldBe(said);

    [Fact]
    public void The_last_battery_goes_to_one_repair_and_stays_promised_until_it_is_fitted_or_comes_back()
    {
        ItemLife.MayPromise(Shelf, null, Repairs[0]).ShouldBeNull();
        ItemLife.MayPromise(Shelf, Repairs[0], Repairs[0]).ShouldBeNull();
        ItemLife.MayPromise(Shelf, Repairs[0], Repairs[1])!.Message.ShouldContain("promised to another repair");
        ItemLife.MayIssue(Shelf, null, Repairs[0])!.Message.ShouldContain("Promise it first");
        ItemLife.MayIssue(Shelf, Repairs[0], Repairs[0]).ShouldBeNull();
        ItemLife.KeepsPromise(Whereabouts.Shelf, Whereabouts.Bench).ShouldBeTrue();
        var bench = Places[3];
        ItemLife.MayIssue(bench, Repairs[0], Repairs[0])!.Message.ShouldContain("already");
        ItemLife.MayPromise(bench, Repairs[0], Repairs[1])!.Message.ShouldContain("handed out for another repair");
        ItemLife.KeepsPromise(Whereabouts.Bench, Whereabouts.Shelf).ShouldBeFalse();
        ItemLife
            .May(MovementReason.Fitted, Whereabouts.Quarantine, Whereabouts.Unit)!
            .Message.ShouldContain("never fitted");
    }

    [Fact]
    public void A_book_that_contradicts_itself_is_not_proved()
    {
        Should.Throw<InvalidOperationException>(() => StockBook.From([new Movement(Item, Shelf, Places[5])]));
        Should.Throw<InvalidOperationException>(() =>
            StockBook.From([new Movement(Item, Outside, Shelf), new Movement(Item, Places[2], Places[5])])
        );
        var other = new ItemId(Id(1, 2));
        Should.Throw<InvalidOperationException>(() =>
            StockBook.From([new Movement(Item, Outside, Places[5]), new Movement(other, Outside, Places[5])])
        );
    }
}
