using Zenrik.Core.Scheduling;
using Zenrik.Workshop.Scheduling;

namespace Zenrik.Web.Drawing;

/// <summary>A job as a bar.</summary>
/// <param name="Pieces">From and width, one for each shift it reaches into.</param>
public sealed record ChartedJob(CalendarJob Job, int Row, IReadOnlyList<(double X, double Width)> Pieces);

/// <summary>
/// The coming days of everybody at the bench: a row each, along it the hours somebody works; nights and closed days are left
/// out. The partial draws it.
/// </summary>
public sealed record BenchChart(
    IReadOnlyList<BenchHand> Hands,
    IReadOnlyList<(double X, double Width, int Row)> Working,
    IReadOnlyList<ChartedJob> Jobs,
    IReadOnlyList<(double X, string Day)> Days
)
{
    public const double Width = 1200;
    public const double Names = 96;
    public const double Head = 20;
    public const double RowHeight = 32;

    /// <summary>Days drawn at most.</summary>
    private const int MostDays = 5;

    public double Height => Head + (RowHeight * Hands.Count) + 2;

    public static BenchChart Of(BenchCalendar calendar, TimeZoneInfo zone)
    {
        List<BenchHand> hands = [.. calendar.Hands.Where(h => h.Shifts.Minutes > 0)];
        DateOnly DayOf(DateTimeOffset at) => DateOnly.FromDateTime(TimeZoneInfo.ConvertTime(at, zone).DateTime);
        var together = Shifts.Together(hands.Select(h => h.Shifts));
        var last = calendar.Jobs.Select(j => j.Placed.Ends).DefaultIfEmpty(DateTimeOffset.MinValue).Max();
        var shown = together
            .All.GroupBy(s => DayOf(s.From))
            .Take(MostDays)
            .TakeWhile((day, i) => i == 0 || day.First().From < last)
            .ToList();
        var minutes = shown.Sum(day => day.Sum(s => s.Minutes));
        if (minutes == 0)
        {
            return new BenchChart(hands, [], [], []);
        }

        double X(DateTimeOffset at) => Names + ((Width - Names) * Math.Min(minutes, together.Before(at)) / minutes);
        var end = shown[^1].Last().Until;
        IReadOnlyList<(double, double)> Pieces(BenchHand hand, DateTimeOffset from, DateTimeOffset until) =>
            [
                .. hand
                    .Shifts.All.Where(s => s.From < until && s.Until > from && s.From < end)
                    .Select(s => (From: X(s.From > from ? s.From : from), Until: X(s.Until < until ? s.Until : until)))
                    .Select(p => (p.From, p.Until - p.From)),
            ];
        return new BenchChart(
            hands,
            [
                .. hands.SelectMany(
                    (h, row) =>
                        h.Shifts.All.Where(s => s.From < end).Select(s => (X(s.From), X(s.Until) - X(s.From), row))
                ),
            ],
            [
                .. calendar
                    .Jobs.Where(j => j.Placed.Begins < end)
                    .Select(j => new ChartedJob(
                        j,
                        hands.FindIndex(h => h.Id == j.Placed.Hand.Id),
                        Pieces(j.Placed.Hand, j.Placed.Begins, j.Placed.Ends)
                    )),
            ],
            [
                .. shown.Select(day =>
                    (
                        X(day.First().From),
                        day.Key.ToString("ddd d MMM", System.Globalization.CultureInfo.InvariantCulture)
                    )
                ),
            ]
        );
    }
}
