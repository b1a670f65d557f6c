namespace Zenrik.Web.Drawing;

/// <summary>One bar with the interval it lies in.</summary>
/// <param name="Near">True for one within what is asked for.</param>
public sealed record Bar(string Name, double Value, double Low, double High, bool Near);

/// <summary>Counts side by side, as figures; the partial draws them.</summary>
public sealed record BarChart(IReadOnlyList<Bar> Bars)
{
    public const double Width = 1000;
    public const double Height = 190;
    private const double Left = 40;
    private const double Bottom = 26;
    private const double Above = 10;

    /// <summary>Upper end of the axis: a round number above everything drawn.</summary>
    public double Top { get; } = Nice(Math.Max(4, Bars.Max(b => Math.Max(b.Value, b.High))));

    /// <summary>Marks of the axis, whole numbers.</summary>
    public IReadOnlyList<double> Marks => [0, Top / 4, Top / 2, Top * 3 / 4, Top];

    public double Step => (Width - Left) / Bars.Count;

    public double X(int bar) => Left + (Step * (bar + 0.5));

    public double Y(double value) => Above + ((Height - Above - Bottom) * (1 - (value / Top)));

    private static double Nice(double value) => Math.Ceiling(value / 4) * 4;
}
