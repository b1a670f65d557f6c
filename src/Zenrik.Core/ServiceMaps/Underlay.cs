using System.Text.Json.Serialization;

namespace Zenrik.Core.ServiceMaps;

/// <summary>A photograph of the opened machine under its drawing, laid by two of its points.</summary>
/// <param name="Photo">Its id.</param>
/// <param name="Width">Picture elements across.</param>
/// <param name="Height">Picture elements down.</param>
/// <param name="First">A point of the picture, in picture elements from its top left.</param>
/// <param name="FirstMm">Where that lies on the machine.</param>
/// <param name="Second">Another point of the picture.</param>
/// <param name="SecondMm">Where that lies.</param>
public sealed record Underlay(
    Guid Photo,
    int Width,
    int Height,
    Point First,
    Point FirstMm,
    Point Second,
    Point SecondMm
)
{
    private const int MaxSide = 20_000;

    /// <summary>
    /// The matrix a b c d e f of the one similarity (turn, scale, shift; not mirrored) that takes both points to their places:
    /// x = a·u + c·v + e, y = b·u + d·v + f.
    /// </summary>
    [JsonIgnore]
    public (double A, double B, double C, double D, double E, double F) Matrix
    {
        get
        {
            // As complex numbers: (second − first) on the machine ÷ (second − first) in the picture.
            var (u, v) = (Second.X - First.X, Second.Y - First.Y);
            var (x, y) = (SecondMm.X - FirstMm.X, SecondMm.Y - FirstMm.Y);
            var square = (u * u) + (v * v);
            var (a, b) = (((x * u) + (y * v)) / square, ((y * u) - (x * v)) / square);
            return (a, b, -b, a, FirstMm.X - (a * First.X) + (b * First.Y), FirstMm.Y - (b * First.X) - (a * First.Y));
        }
    }

    /// <summary>Why it cannot be laid so; null when it can.</summary>
    public Refusal? Refuse()
    {
        if (Width is < 1 or > MaxSide || Height is < 1 or > MaxSide)
        {
            return Invalid(
                "The photograph's size is not known. Open the page again and click the two points once more."
            );
        }

        if (!Within(First) || !Within(Second))
        {
            return Invalid("Both points are clicked on the photograph itself.");
        }

        if (Distance(First, Second) < 0.05 * Math.Max(Width, Height) || Distance(FirstMm, SecondMm) < 10)
        {
            return Invalid(
                "The two points lie on one spot, or nearly: choose two far apart, two corners of the machine at best."
            );
        }

        return null;

        bool Within(Point p) => p.X >= 0 && p.Y >= 0 && p.X <= Width && p.Y <= Height;

        static double Distance(Point p, Point q) => Math.Sqrt(Math.Pow(p.X - q.X, 2) + Math.Pow(p.Y - q.Y, 2));

        static Refusal Invalid(string message) => new(RefusalReason.Invalid, message);
    }
}
