using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fleet;
using Zenrik.Core.Stock;
using Zenrik.Web.Drawing;
using Zenrik.Workshop.Book;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Tests.Fleet;

/// <summary>The fleet's wall shows every unit once, in the state it is in, and what the list means.</summary>
public sealed class WallTests(TemplateDatabase databases)
{
    [Fact]
    public async Task Every_unit_is_one_tile_and_a_query_lights_up_what_it_means()
    {
        await using var book = await databases.NewBook();
        var all = await Wall(new UnitQuery());
        all.Sum(g => g.Tiles.Count).ShouldBe(await book.Ask(db => db.Units.CountAsync()));
        all.SelectMany(g => g.Tiles).ShouldAllBe(t => t.Meant);
        all.Select(g => g.Site)
            .Distinct()
            .Count()
            .ShouldBe(all.Zip(all.Skip(1)).Count(p => p.First.Site != p.Second.Site) + 1);

        var of = new UnitQuery(Search: "sandpiper 13");
        var meant = await Wall(of);
        var tags = await book.Do<ListUnits, IReadOnlyList<string>>(l => l.Tags(of));
        meant.Sum(g => g.Tiles.Count(t => t.Meant)).ShouldBe(tags.Count);
        meant.Where(g => g.Tiles.Any(t => t.Meant)).ShouldAllBe(g => g.ModelCode == "sandpiper-13-turn");

        // What the old battery said is not said of the one that has been put in.
        var aled = await book.Person("aled");
        const string says = "POWER_SUPPLY_ENERGY_FULL=27000000\nPOWER_SUPPLY_ENERGY_FULL_DESIGN=54000000\n";
        _ = (await book.Do<HearUnit, Outcome<Heard>>(h => h.Power(Job.Unit, says, aled))).Value;
        (await Health()).ShouldBe(0.5);
        var repair = await book.OnBench(aled, "battery", "battery worn");
        await book.Work(aled, repair);
        _ = (await book.Close(aled, repair)).Value;
        (await Health()).ShouldBeNull();
        (await Wall(new UnitQuery()))
            .Sum(g => g.Tiles.Count(t => t.Health is not null))
            .ShouldBe(all.Sum(g => g.Tiles.Count(t => t.Health is not null)));

        // Nor what one said of which no item was recorded, but of the one that speaks afterwards.
        (await Said("now() - interval '2 days'", 0.3)).ShouldBeNull();
        (await Said("now() + interval '1 hour'", 0.9)).ShouldBe(0.9);

        async Task<double?> Said(string at, double health)
        {
            (
                await book.Sql(
                    FormattableString.Invariant(
                        $"INSERT INTO battery_readings (unit_id, at, health) SELECT id, {at}, {health} FROM units WHERE tag = '{Job.Unit}'"
                    )
                )
            ).ShouldBeNull();
            return await Health();
        }

        async Task<double?> Health() =>
            (await book.Do<ListUnits, UnitPage>(l => l.Run(new UnitQuery(Search: Job.Unit)))).Rows.Single().Health;

        Task<IReadOnlyList<WallGroup>> Wall(UnitQuery query) =>
            book.Do<WallOf, IReadOnlyList<WallGroup>>(w => w.Run(query));
    }

    [Theory]
    [InlineData(1)]
    [InlineData(25)]
    [InlineData(700)]
    public void No_two_groups_touch_and_none_leaves_the_wall(int units)
    {
        WallTile[] tiles = [.. Enumerable.Repeat(new WallTile(0.8, UnitState.InUse, true), units)];
        WallGroup[] groups =
        [
            .. from site in new[] { "North", "South" }
            from model in Enumerable.Range(1, 7)
            select new WallGroup(site, $"m-{model}", $"Model {model} of the longer names", tiles.Length, tiles),
        ];
        var wall = new FleetWall(groups, new UnitQuery());
        foreach (var place in wall.Places)
        {
            place.X.ShouldBeGreaterThanOrEqualTo(0);
            (place.X + place.W).ShouldBeLessThanOrEqualTo(FleetWall.Width);
            (place.Y + place.H).ShouldBeLessThanOrEqualTo(wall.Height);
            wall.Places.Where(o => o != place)
                .ShouldAllBe(o =>
                    o.X >= place.X + place.W || place.X >= o.X + o.W || o.Y >= place.Y + place.H || place.Y >= o.Y + o.H
                );
        }
    }

    [Theory]
    [InlineData(6, 3)]
    [InlineData(40, 30)]
    [InlineData(150, 200)]
    public void Every_bin_stands_on_its_shelf_with_all_it_holds_and_none_touches_another(int bins, int items)
    {
        var random = new Random(bins);
        List<BinLine> lines =
        [
            .. Enumerable
                .Range(0, bins)
                .Select(i => new Bin
                {
                    Id = new BinId(Guid.NewGuid()),
                    Code = $"{(char)('A' + (i / 20))}-{i % 20:00}",
                    Kind = BinKind.Shelf,
                })
                .Select(b => (b, All: random.Next(items)))
                .Select(b => new BinLine(b.b, b.All, random.Next(b.All + 1))),
        ];
        var wall = ShelfWall.Of(lines, null)!;
        wall.Places.Count.ShouldBe(bins);
        foreach (var place in wall.Places)
        {
            (place.X + place.W).ShouldBeLessThanOrEqualTo(ShelfWall.Width);
            place.Floor.ShouldBeLessThan(wall.Height);
            var drawn = place.Boxes(true).Count(c => c == 'M');
            (drawn + place.Boxes(false).Count(c => c == 'M') + place.Beyond).ShouldBe(place.Line.Items);
            drawn.ShouldBe(Math.Min(place.Line.Promised, place.Line.Items - place.Beyond));
            wall.Places.Where(o => o != place && o.Floor == place.Floor)
                .ShouldAllBe(o => o.X >= place.X + place.W || place.X >= o.X + o.W);
        }

        ShelfWall.Of([], null).ShouldBeNull();
    }
}
