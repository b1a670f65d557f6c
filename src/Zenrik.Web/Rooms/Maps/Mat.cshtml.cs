using Microsoft.AspNetCore.Mvc;
using Zenrik.Core.Teardown;
using Zenrik.Web.Rooms.Prints;
using Zenrik.Workshop.ServiceMaps;
using Zenrik.Workshop.Teardown;

namespace Zenrik.Web.Rooms.Maps;

/// <summary>The mat of a plan asked for in Maps.</summary>
public sealed class MatModel(ViewMaps maps, PlanFor plans) : RoomPage
{
    public MatSheet Sheet { get; private set; } = null!;

    public string Back { get; private set; } = "";

    public async Task<IActionResult> OnGet(string code, CancellationToken stop)
    {
        if (!(await maps.Newest(code, stop)).Try(out var map, out _))
        {
            return NotFound();
        }

        var ask = MapQuery.From(Request.Query);
        var basis = await plans.Basis(code, stop);
        Back = ask.At(code, 0);
        if (
            !ask.ReadGoals().Try(out var goals, out _)
            || !TeardownPlanner
                .Plan(ask.Unit(map), goals, basis with { Practice = ask.Practice(basis.Practice) })
                .Try(out var plan, out _)
        )
        {
            // The room itself says what is wrong with the question.
            return Redirect(Back);
        }

        Sheet = new MatSheet(map.Model.Name, GoalsInWords.Of(plan), plan);
        return Page();
    }
}
