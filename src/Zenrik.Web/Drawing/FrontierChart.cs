using Zenrik.Workshop.Economics;

namespace Zenrik.Web.Drawing;

/// <summary>
/// A row for each part, along it the months of use left: hatched where another unit costs less a month. Above it how many
/// units have so many left. The partial draws it.
/// </summary>
/// <param name="Months">Right end of the axis.</param>
/// <param name="Units">Units by months left, a bar for each <see cref="Step"/> months; the last takes what has more.</param>
public sealed record FrontierChart(double Months, IReadOnlyList<int> Units, IReadOnlyList<FrontierPart> Parts)
{
    public const double Width = 1200;
    public const double Names = 210;
    public const double Head = 92;
    public const double RowHeight = 26;
    public const int Step = 3;

    /// <summary>Room for the tallest bar.</summary>
    public const double Bars = 54;

    public double Height => Head + (RowHeight * Parts.Count) + 36;

    public static FrontierChart Of(FrontierView view)
    {
        var most = Math.Max(view.Model.LifeMonths, view.Left.Count == 0 ? 0 : view.Left[^1]);
        var months = Math.Max(12, Math.Ceiling(most / 12) * 12);
        var units = new int[(int)months / Step];
        foreach (var left in view.Left)
        {
            units[Math.Min(units.Length - 1, (int)(left / Step))]++;
        }

        return new FrontierChart(months, units, view.Parts);
    }

    public double X(double months) => Names + ((Width - Names - 12) * Math.Min(months, Months) / Months);

    public double Y(int row) => Head + (row * RowHeight);

    /// <summary>Height of a bar of so many units.</summary>
    public double Tall(int units) => Bars * units / Math.Max(1, Units.Max());
}
