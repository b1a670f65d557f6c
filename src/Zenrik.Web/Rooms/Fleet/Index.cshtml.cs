using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.WebUtilities;
using Zenrik.Core;
using Zenrik.Web.Drawing;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.People;

namespace Zenrik.Web.Rooms.Fleet;

[MayBeOld]
[PostingNeeds(Policies.Counter)]
public sealed class IndexModel(ListUnits units, WallOf wall, ChangeUnits change, SavedViews views, TimeProvider clock)
    : RoomPage
{
    private const string Here = "/Fleet/Index";

    [BindProperty(SupportsGet = true, Name = "")]
    public UnitQuery Query { get; set; } = new();

    public UnitPage Units { get; private set; } = null!;

    public FleetWall Wall { get; private set; } = null!;

    public DateOnly Today => clock.Today();

    public IReadOnlyList<string> Sites { get; private set; } = [];

    public IReadOnlyList<(string Code, string Name)> Models { get; private set; } = [];

    public IReadOnlyList<string> Campaigns { get; private set; } = [];

    /// <summary>The list's address with something in it changed.</summary>
    public IDictionary<string, string?> With(int page) =>
        new Dictionary<string, string?>
        {
            ["search"] = Query.Search,
            ["site"] = Query.Site,
            ["model"] = Query.Model,
            ["state"] = Query.State?.ToString(),
            ["campaign"] = Query.Campaign,
            ["loaners"] = Query.Loaners ? "true" : null,
            ["order"] = Query.Order == UnitOrder.Tag ? null : Query.Order.ToString(),
            ["page"] = page == 0 ? null : page.ToString(System.Globalization.CultureInfo.InvariantCulture),
        };

    /// <summary>Where the same units are a file.</summary>
    public string AsFile =>
        QueryHelpers.AddQueryString(
            "/house/export/units.csv",
            With(0).Where(w => w.Value is not null).ToDictionary(w => w.Key, w => w.Value)
        );

    public async Task<IActionResult> OnGet(CancellationToken stop)
    {
        Units = await units.Run(Query, stop);
        Wall = new FleetWall(await wall.Run(Query, stop), Query);
        if (Request.IsFragment())
        {
            return Partial("_Units", this);
        }

        (Sites, Models, Campaigns) = await units.Choices(stop);
        Views = await views.Of("/fleet", User.Actor(), stop);
        return Page();
    }

    public IReadOnlyList<SavedView> Views { get; private set; } = [];

    /// <summary>What the list is narrowed by, as it follows its address.</summary>
    public string Conditions =>
        QueryHelpers.AddQueryString(
            "",
            With(0).Where(w => w.Value is { Length: > 0 }).ToDictionary(w => w.Key, w => w.Value)
        );

    /// <param name="what">"move", "mark" or "done".</param>
    /// <param name="all">True: every unit the query means, not only those ticked.</param>
    public async Task<IActionResult> OnPost(
        Guid request,
        string what,
        [FromForm] string[] tags,
        bool all,
        string? to,
        string? name,
        CancellationToken stop
    )
    {
        var wanted = all ? await units.Tags(Query, stop) : tags;
        var by = User.Actor();
        return await Say(
            what switch
            {
                "move" => change.Move(request, wanted, to, by, stop),
                "mark" => change.Mark(request, wanted, name, by, stop),
                "done" => change.Done(request, wanted, name, by, stop),
                _ => Task.FromResult<Outcome<string>>(
                    new Refusal(RefusalReason.Invalid, "Choose what to do with them.")
                ),
            },
            Here,
            With(0)
        );
    }
}
