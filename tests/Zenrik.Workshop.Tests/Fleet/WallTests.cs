using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Fleet;
using Zenrik.Web.Drawing;
using Zenrik.Workshop.Fleet;

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

        // A battery that is in no more says nothing of the one that is.
        var worn = all.SelectMany(g => g.Tiles).Count(t => t.Health is not null);
        (
            await book.Sql(
                """
                UPDATE battery_readings SET item_id = (SELECT id FROM items WHERE unit_id IS NULL LIMIT 1)
                WHERE unit_id = (SELECT i.unit_id FROM battery_readings r JOIN items i ON i.id = r.item_id AND i.unit_id = r.unit_id LIMIT 1)
                """
            )
        ).ShouldBeNull();
        (await Wall(new UnitQuery())).SelectMany(g => g.Tiles).Count(t => t.Health is not null).ShouldBe(worn - 1);

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
}
