using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Core.ServiceMaps;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.MapMaking;
using Zenrik.Workshop.ServiceMaps;

namespace Zenrik.Web.Rooms.Fleet;

[PostingNeeds(Policies.Counter)]
public sealed class RegisterModel(
    RegisterUnits register,
    KeepModel models,
    ViewMaps maps,
    ListUnits units,
    TimeProvider clock
) : RoomPage
{
    private static readonly char[] Between = [' ', '\t', '\r', '\n', ',', ';'];

    public Guid RequestId { get; private set; } = Guid.CreateVersion7();

    public string? Lines { get; private set; }

    public string? ModelCode { get; private set; }

    public string? Site { get; private set; }

    public DateOnly? Bought { get; private set; }

    public DateOnly? Warranty { get; private set; }

    /// <summary>A model that is not in the list yet.</summary>
    public ModelFacts Facts { get; private set; } = new(null, null, null, null, null, null);

    public Refusal? Refusal { get; private set; }

    public IReadOnlyList<string> Sites { get; private set; } = [];

    public IReadOnlyList<(string Code, string Name)> Models { get; private set; } = [];

    public async Task OnGet(string? model, CancellationToken stop)
    {
        ModelCode = model;
        Bought = clock.Today();
        await Choices(stop);
    }

    public async Task<IActionResult> OnPost(
        Guid request,
        string? model,
        string? site,
        DateOnly? bought,
        DateOnly? warranty,
        string? lines,
        string? maker,
        string? name,
        DeviceClass? kind,
        CancellationToken stop
    )
    {
        (RequestId, ModelCode, Site, Bought, Warranty, Lines) = (request, model, site, bought, warranty, lines);
        var words = (lines ?? "").Split(Between, StringSplitOptions.RemoveEmptyEntries);
        Facts = new ModelFacts(maker, name, kind, null, null, null);
        var outcome =
            bought is not { } day ? new Refusal(RefusalReason.Invalid, "Say when they were bought.")
            : words.Length % 2 == 1
                ? new Refusal(
                    RefusalReason.Invalid,
                    $"The last tag, {words[^1]}, has no serial yet. Scan it, or take the line away."
                )
            : await Enter(day);
        if (outcome.Try(out var said, out var refusal))
        {
            return Did(said, "/Fleet/Index", new { site, model });
        }

        async Task<Outcome<string>> Enter(DateOnly day)
        {
            if (string.IsNullOrWhiteSpace(model) && !string.IsNullOrWhiteSpace(name))
            {
                if (!(await models.Add(Facts, User.Actor(), stop)).Try(out var made, out var unnamed))
                {
                    return unnamed;
                }

                ModelCode = model = made;
            }

            return await register.Run(
                request,
                model,
                site,
                day,
                warranty,
                [.. words.Chunk(2).Select(pair => new NewUnit(pair[0], pair[1]))],
                User.Actor(),
                stop
            );
        }

        Refusal = refusal;
        Response.StatusCode = Statuses.OnPage(refusal);
        await Choices(stop);
        return Page();
    }

    /// <summary>Sites, and models that are still bought.</summary>
    private async Task Choices(CancellationToken stop)
    {
        Sites = (await units.Choices(stop)).Sites;
        Models = [.. (await maps.Known(stop)).Where(m => !m.IsRetired).Select(m => (m.Code, m.Name))];
    }
}
