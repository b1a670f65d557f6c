using Zenrik.Core.Economics;
using Zenrik.Workshop.Economics;

namespace Zenrik.Web.Drawing;

/// <summary>One way's cost a month over months of use left.</summary>
public sealed record CostLine(string Name, bool Best, IReadOnlyList<double> Values);

/// <summary>Cost a month of each way against months of use left, as figures; the partial draws it.</summary>
/// <param name="Top">Upper end of the cost axis.</param>
public sealed record CostChart(IReadOnlyList<double> Months, IReadOnlyList<CostLine> Lines, double Now, double Top)
{
    public const double Width = 640;
    public const double Height = 220;
    private const double Left = 48;
    private const double Bottom = 30;
    private const double Right = 8;
    private const double Above = 8;

    /// <summary>Null when only retiring is left.</summary>
    public static CostChart? Of(DecisionView view)
    {
        if (view.Decision.Ways.Count < 2)
        {
            return null;
        }

        var most = Math.Max(24, Math.Ceiling(view.Left.Months / 12) * 12);
        double[] months = [.. Enumerable.Range(1, 12).Select(i => Math.Round(most * i / 12, 1))];
        var rates = new Rates(view.Figures.LabourPerHour, view.Figures.LoanPerDay);
        var ways = view.Decision.Ways.Select(w => w.Option).ToList();
        var at = months
            .Select(m => Deciding.Order([.. ways.Select(w => w.Way == Way.Retire ? w : w with { Months = m })], rates))
            .ToList();
        CostLine[] lines =
        [
            .. ways.Select(w => new CostLine(
                w.Name,
                w.Name == view.Decision.Best.Option.Name,
                [.. at.Select(ordered => (double)ordered.First(o => o.Option.Name == w.Name).PerMonth)]
            )),
        ];
        var retiring = (double)view.Decision.Ways.First(w => w.Option.Way == Way.Retire).PerMonth;
        return new CostChart(months, lines, view.Left.Months, Nice(retiring * 3));
    }

    public double X(double months) => Left + ((Width - Left - Right) * months / Months[^1]);

    public double Y(double cost) => Above + ((Height - Above - Bottom) * (1 - (Math.Min(cost, Top) / Top)));

    /// <summary>Marks of the cost axis.</summary>
    public IReadOnlyList<double> Marks => [0, Top / 4, Top / 2, Top * 3 / 4, Top];

    private static double Nice(double value)
    {
        var step = Math.Pow(10, Math.Floor(Math.Log10(Math.Max(value, 1))));
        return Math.Ceiling(value / step) * step;
    }
}
