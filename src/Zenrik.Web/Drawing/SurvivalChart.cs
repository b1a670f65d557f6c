using System.Text;
using Zenrik.Core.Reliability;

namespace Zenrik.Web.Drawing;

/// <summary>A survival curve with its interval and the law fitted to it, as figures; the partial draws them.</summary>
public sealed record SurvivalChart(SurvivalCurve Curve, WeibullLife? Law)
{
    public const double Width = 640;
    public const double Height = 260;
    private const double Left = 46;
    private const double Right = 10;
    private const double Bottom = 36;
    private const double Above = 8;
    private const double Year = 365.25;

    /// <summary>Steps that can be told apart: one to two units of the drawing.</summary>
    private const int MostSteps = 300;

    private readonly IReadOnlyList<SurvivalPoint> points = Curve.InSpans(MostSteps);

    /// <summary>Right end of the age axis, whole years.</summary>
    public double Years => Math.Max(1, Math.Ceiling(Curve.LongestDays / Year));

    public double X(double days) => Left + ((Width - Left - Right) * days / (Years * Year));

    public static double Y(double share) => Above + ((Height - Above - Bottom) * (1 - share));

    /// <summary>The curve as steps.</summary>
    public string Steps => Path(p => p.Survival, 1);

    /// <summary>Its interval: along the lower ends and back along the upper.</summary>
    public string Band
    {
        get
        {
            var back = new StringBuilder();
            foreach (var (point, before) in points.Zip(points.Select(p => p.High).Prepend(1)).Reverse())
            {
                back.Append(FormattableString.Invariant($"V{Y(point.High):0.#}H{X(point.Days):0.#}V{Y(before):0.#}"));
            }

            return $"{Path(p => p.Low, 1)}{back}H{X(0):0.#}Z";
        }
    }

    public string LawLine =>
        Law is null
            ? ""
            : string.Join(
                " ",
                Enumerable
                    .Range(0, 61)
                    .Select(i => i / 60.0 * Curve.LongestDays)
                    .Select(d => FormattableString.Invariant($"{X(d):0.#},{Y(Law.Survival(d)):0.#}"))
            );

    private string Path(Func<SurvivalPoint, double> of, double begins)
    {
        var path = new StringBuilder(FormattableString.Invariant($"M{X(0):0.#} {Y(begins):0.#}"));
        foreach (var point in points)
        {
            path.Append(FormattableString.Invariant($"H{X(point.Days):0.#}V{Y(of(point)):0.#}"));
        }

        return path.Append(FormattableString.Invariant($"H{X(Curve.LongestDays):0.#}")).ToString();
    }
}
