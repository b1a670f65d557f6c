using Microsoft.AspNetCore.Mvc;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Stock;

namespace Zenrik.Web.Rooms.Stores;

[PostingNeeds(Policies.Counter)]
public sealed class IssueModel(ViewStock stock, IssueItem issue) : RoomPage
{
    public string Code { get; private set; } = "";

    public IReadOnlyList<Item> Items { get; private set; } = [];

    /// <summary>What came of the last scan.</summary>
    public string? Said { get; private set; }

    public bool WasRefused { get; private set; }

    public async Task<IActionResult> OnGet(string code, CancellationToken stop)
    {
        if (Repair.NumberOf(code) is not { } number)
        {
            return NotFound();
        }

        (Code, Items) = (Repair.CodeOf(number), await stock.PromisedTo(number, stop));
        return Page();
    }

    public async Task<IActionResult> OnPost(string code, Guid request, string? item, CancellationToken stop)
    {
        if (Repair.NumberOf(code) is not { } number)
        {
            return NotFound();
        }

        var outcome = await issue.ForRepair(request, number, item, User.Actor(), stop);
        (Said, WasRefused) = (outcome.Refusal?.Message ?? outcome.Value, outcome.Refusal is not null);
        (Code, Items) = (Repair.CodeOf(number), await stock.PromisedTo(number, stop));
        return Request.IsFragment() ? Partial("_Issue", this) : Page();
    }
}
