using Microsoft.AspNetCore.Mvc.RazorPages;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Reliability;

namespace Zenrik.Web.Rooms.Outlook;

/// <summary>What the fleet will want of the shelf until what is ordered now is here.</summary>
[MayBeOld]
public sealed class SparesModel(ExpectedDemand demand) : PageModel
{
    public static IReadOnlyList<(int Days, string Says)> Times { get; } =
    [
        (14, "two weeks"),
        (30, "a month"),
        (60, "two months"),
        (90, "three months"),
        (182, "half a year"),
        (365, "a year"),
    ];

    public static IReadOnlyList<int> Levels { get; } = [80, 90, 95, 99];

    /// <summary>Slots of a row that are named.</summary>
    public const int Most = 4;

    public int Days { get; private set; }

    public int Sure { get; private set; }

    public IReadOnlyList<ShelfDemand> Rows { get; private set; } = [];

    public async Task OnGet(int? days, int? sure, CancellationToken stop)
    {
        Days = Times.Any(t => t.Days == days) ? days!.Value : 60;
        Sure = sure is { } level && Levels.Contains(level) ? level : 95;
        Rows = await demand.Run(Days, Sure / 100.0, stop);
    }
}
