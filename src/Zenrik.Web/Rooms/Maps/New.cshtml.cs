using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.MapMaking;

namespace Zenrik.Web.Rooms.Maps;

[PostingNeeds(Policies.Counter)]
public sealed class NewModel(KeepModel models) : RoomPage
{
    public ModelFacts Facts { get; private set; } = new(null, null, null, null, null, null);

    public Refusal? Refusal { get; private set; }

    /// <summary>An empty form.</summary>
    public void OnGet() { }

    public async Task<IActionResult> OnPost(ModelFacts facts, CancellationToken stop)
    {
        Facts = facts;
        if ((await models.Add(Facts, User.Actor(), stop)).Try(out var code, out var refusal))
        {
            return Did(
                "It is entered. Enter its units next; the first repair makes its map.",
                "/Maps/Draft",
                new { code }
            );
        }

        Refusal = refusal;
        Response.StatusCode = Statuses.OnPage(refusal);
        return Page();
    }
}
