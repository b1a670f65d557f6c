using Zenrik.Core.Scheduling;
using Zenrik.Workshop.Scheduling;

namespace Zenrik.Web.Drawing;

/// <summary>
/// A row for each site, along it the days: a line while units of it are away, a block while they are on the bench, and how
/// many they are. The day all is to be done by stands across. The partial draws it.
/// </summary>
public sealed record WaveChart(
    DateOnly First,
    DateOnly Last,
    DateOnly? By,
    IReadOnlyList<string> Sites,
    IReadOnlyList<Wave> Waves
)
{
    public const double Width = 900;
    public const double Names = 130;
    public const double Head = 24;
    public const double RowHeight = 34;

    private const int WeeksLabelled = 12;

    public double Height => Head + (RowHeight * Sites.Count) + 4;

    public static WaveChart Of(WavesView view)
    {
        var by = view.Line.Campaign.EndsOn is { } day && day >= view.From ? day : (DateOnly?)null;
        var last = view.Plan.Waves.Select(w => w.Back).Append(by ?? view.From).Max();
        return new WaveChart(
            view.From,
            last.AddDays(2),
            by,
            [.. view.Plan.Waves.Select(w => w.Site).Distinct().Order(StringComparer.Ordinal)],
            view.Plan.Waves
        );
    }

    /// <summary>The left edge of a day.</summary>
    public double X(DateOnly day) =>
        Names + ((Width - Names) * (day.DayNumber - First.DayNumber) / (Last.DayNumber - First.DayNumber));

    /// <summary>The top of a site's row.</summary>
    public double Y(string site) => Head + (RowHeight * Sites.Index().First(s => s.Item == site).Index);

    /// <summary>The Mondays, thinned out where there are many.</summary>
    public IEnumerable<DateOnly> Weeks()
    {
        var monday = First.AddDays((8 - (int)First.DayOfWeek) % 7);
        var apart = 7 * (1 + ((Last.DayNumber - First.DayNumber) / (7 * WeeksLabelled)));
        for (; monday < Last; monday = monday.AddDays(apart))
        {
            yield return monday;
        }
    }
}
