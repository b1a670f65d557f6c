using Microsoft.AspNetCore.Mvc;
using Zenrik.Core.Batteries;
using Zenrik.Web.Drawing;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Batteries;
using Zenrik.Workshop.Fleet;

namespace Zenrik.Web.Rooms.Outlook;

/// <summary>When the fleet's batteries come under the limit, and what to do about it.</summary>
[MayBeOld]
[PostingNeeds(Policies.Counter)]
public sealed class IndexModel(FleetBatteries batteries, ChangeUnits change) : RoomPage
{
    /// <summary>Tags written out of one row, the surest first; a campaign takes all.</summary>
    public const int MostTags = 60;

    public static IReadOnlyList<int> Levels { get; } = [80, 90, 95, 99];

    public DateOnly By { get; private set; }

    public int Sure { get; private set; }

    public DateOnly Today => batteries.Today;

    public FleetWear Wear { get; private set; } = null!;

    public BarChart Chart { get; private set; } = null!;

    public IReadOnlyList<BatteryNeed> Needs { get; private set; } = [];

    public IReadOnlyList<NumberNeed> Numbers { get; private set; } = [];

    /// <param name="by">The day it is asked for; half a year from now, as nothing else is said.</param>
    /// <param name="sure">With which chance, in 100, there should be enough.</param>
    public async Task OnGet(DateOnly? by, int? sure, CancellationToken stop)
    {
        (By, Sure) = (Within(by), sure is { } level && Levels.Contains(level) ? level : 90);
        Wear = await batteries.Run(stop);
        Chart = new BarChart([
            .. batteries
                .Calendar(Wear)
                .Select(m => new Bar(
                    m.Month.ToString("MMM yy", System.Globalization.CultureInfo.InvariantCulture),
                    m.Count.Expected,
                    m.Count.Low,
                    m.Count.High,
                    m.Month <= By
                )),
        ]);
        Needs = FleetBatteries.Needs(Wear, By, Sure / 100.0);
        Numbers = await batteries.ByNumber(Wear, By, Sure / 100.0, stop);
    }

    /// <summary>Marks those that are due of one model at one site for a campaign.</summary>
    public async Task<IActionResult> OnPost(
        Guid request,
        string? name,
        string? site,
        string? model,
        string? number,
        DateOnly? by,
        CancellationToken stop
    )
    {
        var day = Within(by);
        var wear = await batteries.Run(stop);
        var due = FleetBatteries
            .Needs(wear, day, 0.9)
            .Where(n => n.Site == site && n.Model == model && n.Number == number)
            .SelectMany(n => n.Due)
            .ToList();
        return (await change.Mark(request, due, name, User.Actor(), stop)).Try(out var said, out var refusal)
            ? Did(said, "/Fleet/Campaign", new { name = name!.Trim() })
            : Refused(
                refusal,
                "/Outlook/Index",
                new { by = day.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture) }
            );
    }

    private DateOnly Within(DateOnly? by) =>
        by is { } day && day >= Today && day <= Today.AddYears(BatteryForecast.FarthestYears)
            ? day
            : Today.AddDays(182);
}
