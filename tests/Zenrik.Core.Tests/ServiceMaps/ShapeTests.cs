using CsCheck;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.Tests.ServiceMaps;

public sealed class ShapeTests
{
    private static readonly Gen<double> Mm = Gen.Double[1, 300];

    [Fact]
    public void A_shape_moved_there_and_back_has_the_same_bounds_and_keeps_its_size() =>
        Gen.OneOf<Shape>(
                Gen.Select(Mm, Mm, Mm, Mm, (x, y, w, h) => (Shape)new Shape.Rect(x, y, w, h)),
                Gen.Select(Mm, Mm, Mm, (x, y, r) => (Shape)new Shape.Circle(x, y, r)),
                Gen.Select(Mm, Mm)
                    .Array[3, 8]
                    .Select(ps =>
                        (Shape)
                            new Shape.Rings([
                                [.. ps.Select(p => new Point(p.Item1, p.Item2))],
                            ])
                    )
            )
            .Select(Mm, Mm)
            .Sample(
                (shape, right, down) =>
                {
                    var (was, there) = (shape.Bounds, shape.Moved(right, down).Bounds);
                    there.Left.ShouldBe(was.Left + right, 1e-9);
                    there.Top.ShouldBe(was.Top + down, 1e-9);
                    there.Width.ShouldBe(was.Width, 1e-9);
                    there.Height.ShouldBe(was.Height, 1e-9);
                }
            );

    [Fact]
    public void The_way_to_a_point_outside_leaves_a_box_at_its_edge_and_goes_on_straight() =>
        Gen.Select(Mm, Mm, Mm, Mm, Gen.Double[-800, 800], Gen.Double[-800, 800])
            .Sample(
                (left, top, width, height, x, y) =>
                {
                    var box = new Box(left, top, left + width, top + height);
                    var (centre, outside) = (box.Centre, new Point(x, y));
                    var edge = box.EdgeTowards(outside);
                    var off = Math.Max(
                        Math.Abs(edge.X - centre.X) * 2 / width,
                        Math.Abs(edge.Y - centre.Y) * 2 / height
                    );
                    off.ShouldBe(1, 1e-6, "on the edge");
                    var turned = ((edge.X - centre.X) * (y - centre.Y)) - ((edge.Y - centre.Y) * (x - centre.X));
                    (turned / centre.DistanceTo(edge) / centre.DistanceTo(outside)).ShouldBe(0, 1e-6);
                }
            );

    [Theory]
    [InlineData("M", "M", true)]
    [InlineData("B+M", "M", true)]
    [InlineData("B+M", "B", true)]
    [InlineData("A+E", "E", true)]
    [InlineData("B", "M", false)]
    [InlineData("A", "E", false)]
    public void A_card_goes_over_the_key_it_is_cut_for(string card, string socket, bool goes) =>
        M2Key.Find(card)!.Value.GoesInto(M2Key.Find(socket)!.Value).ShouldBe(goes);

    [Fact]
    public void Every_key_is_found_by_its_name_and_nothing_else_is_one()
    {
        M2Key.All.ShouldAllBe(k => M2Key.Find($"{k}") == k);
        default(M2Key).ShouldBe(M2Key.M);
        new[] { null, "", "m", "M+B", "C" }.ShouldAllBe(text => M2Key.Find(text) == null);
    }

    [Fact]
    public void A_believed_order_is_drawn_between_things_that_lie_apart_in_the_machine()
    {
        var map = Maps.Shipped("coot-14");
        SeenWait After(string what, string first) =>
            new()
            {
                What = $"{Act.LiftOut(PartId.Of(what))}",
                After = $"{Act.LiftOut(PartId.Of(first))}",
                Sessions = 1,
                People = 1,
            };

        var (battery, fan) = (map.Part(PartId.Of("battery")).Shape!.Bounds, map.Part(PartId.Of("fan")).Shape!.Bounds);
        var cover = map
            .Parts.First(p => !p.Fixed && p.Id.Value != "battery" && p.Shape?.Bounds.Overlaps(battery) == true)
            .Id.Value;
        var arrow = MachineView
            .Opened(map, map)
            .WithWaits([After("battery", cover), After("battery", "fan")])
            .Waits.ShouldHaveSingleItem("what lies over the battery has no room for an arrow");
        arrow.Number.ShouldBe(2);
        arrow.From.ShouldBe(battery.EdgeTowards(fan.Centre));
        arrow.To.ShouldBe(fan.EdgeTowards(battery.Centre));
    }
}
