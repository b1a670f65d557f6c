using System.Globalization;
using Zenrik.Core.ServiceMaps;
using Zenrik.Web.Hosting;

namespace Zenrik.Web.Drawing;

/// <summary>SVG path data for outlines that no basic element draws.</summary>
public static class Paths
{
    /// <summary>Closed rings, to be filled by the even-odd rule.</summary>
    public static string Rings(IReadOnlyList<IReadOnlyList<Point>> rings) =>
        string.Concat(rings.Select(ring => $"M{string.Join('L', ring.Select(At))}Z"));

    /// <summary>A cable along its points, corners rounded.</summary>
    public static string Cable(IReadOnlyList<Point> route)
    {
        var path = $"M{At(route[0])}";
        for (var i = 1; i < route.Count - 1; i++)
        {
            var half = new Point((route[i].X + route[i + 1].X) / 2, (route[i].Y + route[i + 1].Y) / 2);
            path += $"Q{At(route[i])} {At(half)}";
        }

        return $"{path}L{At(route[^1])}";
    }

    /// <summary>A recess with lobes, of the given outer radius (six: the look of ISO 10664).</summary>
    public static string Lobes(int lobes, double radius)
    {
        var points = 8 * lobes;
        return $"M{string.Join('L', Enumerable.Range(0, points).Select(Lobe))}Z";

        string Lobe(int i)
        {
            var angle = 2 * Math.PI * i / points;
            var r = radius * (0.84 + (0.16 * Math.Cos(lobes * angle)));
            return At(new Point(r * Math.Cos(angle), r * Math.Sin(angle)));
        }
    }

    /// <summary>A hexagon, as one looks onto a standoff; the corners lie at the radius.</summary>
    public static string Hexagon(double radius) =>
        $"M{string.Join('L', Enumerable.Range(0, 6).Select(i => At(new Point(radius * Math.Cos(i * Math.PI / 3), radius * Math.Sin(i * Math.PI / 3)))))}Z";

    private static string At(Point p) => string.Create(CultureInfo.InvariantCulture, $"{Show.Mm(p.X)},{Show.Mm(p.Y)}");
}
