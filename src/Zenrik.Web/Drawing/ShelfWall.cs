using System.Text;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Stock;

namespace Zenrik.Web.Drawing;

/// <summary>The bins as they stand on their shelves, each item a box in its bin; the partial draws them.</summary>
/// <param name="Bins">Those of the shelves alone.</param>
/// <param name="Meant">Codes of the bins that hold what is searched for; null: nothing is.</param>
public sealed record ShelfWall(IReadOnlyList<BinLine> Bins, IReadOnlySet<string>? Meant)
{
    public const double Width = 940;

    private const double Left = 34;
    private const double Box = 8;
    private const double Pitch = 10;
    private const int High = 3;

    /// <summary>More boxes than this are a number.</summary>
    private const int MostBoxes = 36;
    private const double RowHeight = (High * Pitch) + 24;

    /// <summary>More bins are a list of their own, not a picture.</summary>
    public const int MostBins = 160;

    /// <summary>One bin where it stands; its floor is the plank.</summary>
    public sealed record Place(BinLine Line, double X, double Floor, double W)
    {
        /// <summary>Boxes of free items, or of promised ones, which stand before them.</summary>
        public string Boxes(bool promised)
        {
            var path = new StringBuilder();
            for (var i = 0; i < Math.Min(Line.Items, MostBoxes); i++)
            {
                if (i < Line.Promised == promised)
                {
                    var x = X + 3 + (Pitch * (i / High));
                    var y = Floor - Pitch - (Pitch * (i % High)) + 1;
                    path.Append(FormattableString.Invariant($"M{x:0.#} {y:0.#}h{Box}v{Box}h-{Box}z"));
                }
            }

            return path.ToString();
        }

        /// <summary>How many are there that have no box.</summary>
        public int Beyond => Math.Max(0, Line.Items - MostBoxes);
    }

    public static ShelfWall? Of(IReadOnlyList<BinLine> bins, IReadOnlySet<string>? meant)
    {
        List<BinLine> shelves = [.. bins.Where(b => b.Bin.Kind == BinKind.Shelf)];
        return shelves.Count is 0 or > MostBins ? null : new ShelfWall(shelves, meant);
    }

    public IReadOnlyList<Place> Places => Laid.Places;

    /// <summary>Each plank: its shelf's name, named once, and how high it lies.</summary>
    public IReadOnlyList<(string? Shelf, double Floor)> Planks => Laid.Planks;

    public double Height => Laid.Planks.Count * RowHeight;

    /// <summary>What comes before the last dash of a bin's code: "A" of "A-07".</summary>
    public static string ShelfOf(string code) => code.LastIndexOf('-') is > 0 and var dash ? code[..dash] : "";

    private (IReadOnlyList<Place> Places, IReadOnlyList<(string?, double)> Planks) Laid => laid ??= Lay();

    private (IReadOnlyList<Place>, IReadOnlyList<(string?, double)>)? laid;

    private (IReadOnlyList<Place>, IReadOnlyList<(string?, double)>) Lay()
    {
        var (places, planks) = (new List<Place>(), new List<(string?, double)>());
        foreach (var shelf in Bins.GroupBy(b => ShelfOf(b.Bin.Code)))
        {
            var x = Left;
            planks.Add((shelf.Key, Floor()));
            foreach (var bin in shelf)
            {
                var boxes = (Math.Min(bin.Items, MostBoxes) + High - 1) / High;
                var wide = Math.Max(Math.Max(46, bin.Bin.Code.Length * 8.5), (boxes * Pitch) + 6);
                if (x > Left && x + wide > Width)
                {
                    x = Left;
                    planks.Add((null, Floor()));
                }

                places.Add(new Place(bin, x, planks[^1].Item2, wide));
                x += wide + 8;
            }
        }

        return (places, planks);

        double Floor() => (planks.Count * RowHeight) + (High * Pitch) + 4;
    }
}
