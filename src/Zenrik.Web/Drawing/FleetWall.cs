using System.Text;
using Zenrik.Core.Batteries;
using Zenrik.Core.Fleet;
using Zenrik.Workshop.Fleet;

namespace Zenrik.Web.Drawing;

/// <summary>Where the groups of the fleet's wall lie; the partial draws them.</summary>
/// <param name="Query">What the list below means: its group is marked, and each group leads to itself.</param>
public sealed record FleetWall(IReadOnlyList<WallGroup> Groups, UnitQuery Query)
{
    public const double Width = 1248;

    private const double Left = 176;
    private const double Tile = 11;
    private const double Pitch = 14;
    private const double Name = 15;
    private const double Gap = 26;
    private const double NameWidth = 7.2;

    /// <summary>One group where it lies.</summary>
    /// <param name="Across">Tiles side by side.</param>
    public sealed record Place(WallGroup Group, double X, double Y, double W, double H, int Across)
    {
        public bool IsChosen(UnitQuery query) => query.Site == Group.Site && query.Model == Group.ModelCode;

        /// <summary>The outlines of the tiles that are meant, or of the others.</summary>
        public string Outlines(bool meant) =>
            Path(t => t.Meant == meant, (x, y, _) => $"M{x} {y}h{Tile}v{Tile}h-{Tile}z");

        /// <summary>Filled as high as the battery still is.</summary>
        public string Fills(bool worn) =>
            Path(
                t => t is { Meant: true, Health: { } h } && BatteryReading.IsWorn(h) == worn,
                (x, y, t) =>
                {
                    var high = Math.Round(Tile * Math.Clamp(t.Health!.Value, 0.08, 1), 1);
                    return FormattableString.Invariant($"M{x} {y + Tile - high}h{Tile}v{high}h-{Tile}z");
                }
            );

        /// <summary>Out of use.</summary>
        public string Crosses() =>
            Path(
                t => t.Meant && !UnitLife.Serves(t.State),
                (x, y, _) =>
                    FormattableString.Invariant(
                        $"M{x - 1} {y - 1}l{Tile + 2} {Tile + 2}m0 {-Tile - 2}l{-Tile - 2} {Tile + 2}"
                    )
            );

        /// <summary>Middles of those at the counter or on the bench.</summary>
        public IEnumerable<(double X, double Y)> Rings() =>
            Group
                .Tiles.Select((t, i) => (Tile: t, At: At(i)))
                .Where(t => t.Tile is { Meant: true, State: UnitState.AtCounter or UnitState.OnBench })
                .Select(t => (t.At.X + (Tile / 2), t.At.Y + (Tile / 2)));

        private (double X, double Y) At(int index) =>
            (X + (Pitch * (index % Across)), Y + Name + (Pitch * (index / Across)));

        private string Path(Func<WallTile, bool> which, Func<double, double, WallTile, string> draw)
        {
            var path = new StringBuilder();
            foreach (var (i, tile) in Group.Tiles.Index().Where(t => which(t.Item)))
            {
                var (x, y) = At(i);
                path.Append(draw(x, y, tile));
            }

            return path.ToString();
        }
    }

    public IReadOnlyList<Place> Places => Laid.Places;

    /// <summary>Each site's name, level with its first row.</summary>
    public IReadOnlyList<(string Site, double Y)> Sites => Laid.Sites;

    public double Height => Laid.Height;

    private (IReadOnlyList<Place> Places, IReadOnlyList<(string, double)> Sites, double Height) Laid => laid ??= Lay();

    private (IReadOnlyList<Place>, IReadOnlyList<(string, double)>, double)? laid;

    private (IReadOnlyList<Place>, IReadOnlyList<(string, double)>, double) Lay()
    {
        var (places, sites, y) = (new List<Place>(), new List<(string, double)>(), 0.0);
        foreach (var site in Groups.GroupBy(g => g.Site))
        {
            sites.Add((site.Key, y));
            var (x, high) = (Left, 0.0);
            foreach (var group in site)
            {
                var rows = group.Tiles.Count > 24 ? 2 : 1;
                var across = Math.Max(1, (group.Tiles.Count + rows - 1) / rows);
                var most = (int)((Width - Left) / Pitch);
                if (across > most)
                {
                    (across, rows) = (most, (group.Tiles.Count + most - 1) / most);
                }

                var wide = Math.Max(across * Pitch, (group.Model.Length + 5) * NameWidth);
                var tall = Name + (group.Tiles.Count == 0 ? 4 : rows * Pitch);
                if (x > Left && x + wide > Width)
                {
                    (x, y, high) = (Left, y + high + 6, 0);
                }

                places.Add(new Place(group, x, y, wide, tall, across));
                (x, high) = (x + wide + Gap, Math.Max(high, tall));
            }

            y += high + 4;
        }

        return (places, sites, y);
    }
}
