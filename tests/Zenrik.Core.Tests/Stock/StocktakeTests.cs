using CsCheck;
using Zenrik.Core.Stock;

namespace Zenrik.Core.Tests.Stock;

public sealed class StocktakeTests
{
    private static readonly Place.InBin Counted = new(new BinId(Guid.NewGuid()), BinKind.Shelf);
    private static readonly Place.InBin Other = new(new BinId(Guid.NewGuid()), BinKind.Shelf);
    private static readonly Place.InBin Outside = new(new BinId(Guid.NewGuid()), BinKind.Outside);
    private static readonly ItemId[] Items = [.. Enumerable.Range(0, 12).Select(_ => new ItemId(Guid.NewGuid()))];

    [Fact]
    public void After_its_movements_the_bin_holds_what_was_counted_and_the_book_is_proved() =>
        Gen.Select(Gen.Int[0, 2].Array[Items.Length], Gen.Bool.Array[Items.Length])
            .Sample(
                (places, seen) =>
                {
                    // 0: in the bin counted, 1: in another, 2: gone from the house.
                    Place[] at = [Counted, Other, Outside];
                    var received = Items.Zip(places, (i, p) => new Movement(i, Outside, at[p])).ToList();
                    var book = StockBook.From(received);
                    var found = Items.Where((_, i) => seen[i]).ToHashSet();
                    var count = new BinCount(
                        Counted,
                        Items.Where((_, i) => places[i] == 0).ToHashSet(),
                        found,
                        Items.ToDictionary(i => i, i => book.Places[i]),
                        []
                    );
                    var posted = count.Movements(Outside);
                    var after = StockBook.From(received.Concat(posted));
                    after.Places.Where(p => p.Value == Counted).Select(p => p.Key).ShouldBe(found, ignoreOrder: true);
                    posted.Count.ShouldBe(count.Variances.Count);
                    (after.Places.Count(p => p.Value == Other)).ShouldBe(
                        Items.Where((_, i) => places[i] == 1 && !seen[i]).Count()
                    );
                },
                iter: 1000
            );

    [Fact]
    public void Only_what_was_counted_differs()
    {
        var (a, b, c) = (Guid.NewGuid(), Guid.NewGuid(), Guid.NewGuid());
        var count = new BinCount(
            Counted,
            new HashSet<ItemId>(),
            new HashSet<ItemId>(),
            new Dictionary<ItemId, Place>(),
            [(a, 5, 3), (b, 5, null), (c, 2, 2)]
        );
        count.Variances.ShouldBe([new Variance.Quantity(a, 5, 3)]);
        ((Variance.Quantity)count.Variances[0]).Difference.ShouldBe(-2);
    }

    [Theory]
    [InlineData(2, 5, 2, 0, 0)]
    [InlineData(2, 5, 1, 1, 0)]
    [InlineData(2, 5, 1, 0, 4)]
    [InlineData(1, 1, 0, 0, 1)]
    public void An_order_fills_up_only_when_too_few_are_free_or_coming(
        int minimum,
        int upTo,
        int free,
        int coming,
        int order
    ) => StockLevel.Of(minimum, upTo).Value.ToOrder(free, coming).ShouldBe(order);

    [Theory]
    [InlineData(0, 4)]
    [InlineData(5, 4)]
    [InlineData(1, 20_000)]
    public void A_level_that_makes_no_sense_is_refused(int minimum, int upTo) =>
        StockLevel.Of(minimum, upTo).Refusal.ShouldNotBeNull();
}
