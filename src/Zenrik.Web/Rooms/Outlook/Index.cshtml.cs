using System.Globalization;
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
                    m.Month.ToString("MMM yy", CultureInfo.InvariantCulture),
                    m.Count.Expected,
                    m.Count.Low,
                    m.Count.High,
                    m.Month <= By
                )),
        ]);
        Needs = FleetBatteries.Needs(Wear, By, Sure / 100.0);
        Numbers = await batteries.ByNumber(Wear, By, Sure / 100.0, stop);
    }

    /// <summary>The units of one row, the surest first; read only when somebody asks.</summary>
    public async Task<IActionResult> OnGetDue(
        string? site,
        string? model,
        string? number,
        DateOnly? by,
        CancellationToken stop
    ) => Partial("_Tags", Due(await batteries.Run(stop), site, model, number, Within(by)));

    /// <summary>Where the units of a row are named.</summary>
    public string DueOf(BatteryNeed need) =>
        Url.Page(
            "/Outlook/Index",
            "Due",
            new
            {
                need.Site,
                need.Model,
                need.Number,
                by = Show.Iso(By),
            }
        )!;

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
        var due = Due(await batteries.Run(stop), site, model, number, day);
        return (await change.Mark(request, due, name, User.Actor(), stop)).Try(out var said, out var refusal)
            ? Did(said, "/Fleet/Campaign", new { name = name!.Trim() })
            : Refused(refusal, "/Outlook/Index", new { by = Show.Iso(day) });
    }

    private static List<string> Due(FleetWear wear, string? site, string? model, string? number, DateOnly by) =>
        [
            .. FleetBatteries
                .Needs(wear, by, 0.9)
                .Where(n => n.Site == site && n.Model == model && n.Number == number)
                .SelectMany(n => n.Due),
        ];

    private DateOnly Within(DateOnly? by) =>
        by is { } day && day >= Today && day <= Today.AddYears(BatteryForecast.FarthestYears)
            ? day
            : Today.AddDays(182);
}
