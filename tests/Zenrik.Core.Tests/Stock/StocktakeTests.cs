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
    public void What_differs_is_what_is_missing_and_what_is_too_many_and_the_rules_let_it_be_posted() =>
        Gen.Select(Gen.Int[0, 2].Array[Items.Length], Gen.Bool.Array[Items.Length])
            .Sample(
                (places, seen) =>
                {
                    // 0: in the bin counted, 1: in another, 2: gone from the house.
                    Place.InBin[] at = [Counted, Other, Outside];
                    var found = Items.Where((_, i) => seen[i]).ToHashSet();
                    var count = new BinCount(
                        Counted,
                        Items.Where((_, i) => places[i] == 0).ToHashSet(),
                        found,
                        Items.Zip(places).ToDictionary(p => p.First, p => (Place)at[p.Second]),
                        []
                    );
                    var after = Items.Where((_, i) => places[i] == 0).ToHashSet();
                    foreach (var variance in count.Variances)
                    {
                        var (item, from, to) = variance switch
                        {
                            Variance.Missing m => (m.Item, Counted.Kind, Outside.Kind),
                            Variance.Surplus s => (s.Item, ((Place.InBin)s.Book).Kind, Counted.Kind),
                            _ => throw new InvalidOperationException(),
                        };
                        ItemLife
                            .May(MovementReason.Counted, ItemLife.At(from, null), ItemLife.At(to, null))
                            .ShouldBeNull();
                        (to == Counted.Kind ? after.Add(item) : after.Remove(item)).ShouldBeTrue();
                    }

                    after.ShouldBe(found, ignoreOrder: true);
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
