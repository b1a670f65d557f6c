using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Fleet;

namespace Zenrik.Web.Rooms.Fleet;

[PostingNeeds(Policies.Counter)]
public sealed class RegisterModel(RegisterUnits register, ListUnits units, TimeProvider clock) : RoomPage
{
    private static readonly char[] Between = [' ', '\t', '\r', '\n', ',', ';'];

    public Guid RequestId { get; private set; } = Guid.CreateVersion7();

    public string? Lines { get; private set; }

    public string? ModelCode { get; private set; }

    public string? Site { get; private set; }

    public DateOnly? Bought { get; private set; }

    public DateOnly? Warranty { get; private set; }

    public Refusal? Refusal { get; private set; }

    public IReadOnlyList<string> Sites { get; private set; } = [];

    public IReadOnlyList<(string Code, string Name)> Models { get; private set; } = [];

    public async Task OnGet(CancellationToken stop)
    {
        Bought = DateOnly.FromDateTime(clock.GetLocalNow().DateTime);
        (Sites, Models, _) = await units.Choices(stop);
    }

    public async Task<IActionResult> OnPost(
        Guid request,
        string? model,
        string? site,
        DateOnly? bought,
        DateOnly? warranty,
        string? lines,
        CancellationToken stop
    )
    {
        (RequestId, ModelCode, Site, Bought, Warranty, Lines) = (request, model, site, bought, warranty, lines);
        var words = (lines ?? "").Split(Between, StringSplitOptions.RemoveEmptyEntries);
        var outcome =
            bought is not { } day ? new Refusal(RefusalReason.Invalid, "Say when they were bought.")
            : words.Length % 2 == 1
                ? new Refusal(
                    RefusalReason.Invalid,
                    $"The last tag, {words[^1]}, has no serial yet. Scan it, or take the line away."
                )
            : await register.Run(
                request,
                model,
                site,
                day,
                warranty,
                [.. words.Chunk(2).Select(pair => new NewUnit(pair[0], pair[1]))],
                User.Actor(),
                stop
            );
        if (outcome.Try(out var said, out var refusal))
        {
            return Did(said, "/Fleet/Index", new { site, model });
        }

        Refusal = refusal;
        Response.StatusCode = Statuses.Of(refusal);
        (Sites, Models, _) = await units.Choices(stop);
        return Page();
    }
}
