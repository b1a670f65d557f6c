using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Core.Fit;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Parts;

namespace Zenrik.Web.Rooms.Stores;

[PostingNeeds(Policies.Counter)]
public sealed class NewNumberModel(AddNumber add, ListUnits units) : RoomPage
{
    public string? Number { get; private set; }

    public string? Name { get; private set; }

    public ItemKind Kind { get; private set; }

    public string? Fits { get; private set; }

    public string? Replaces { get; private set; }

    /// <summary>The person has said that the number is right although it is one slip from a known one.</summary>
    public bool Sure { get; private set; }

    public Refusal? Refusal { get; private set; }

    public IReadOnlyList<(string Code, string Name)> Models { get; private set; } = [];

    public async Task OnGet(string? number, CancellationToken stop)
    {
        Number = number;
        (_, Models, _) = await units.Choices(stop);
    }

    public async Task<IActionResult> OnPost(
        string? number,
        string? name,
        ItemKind kind,
        string? fits,
        string? replaces,
        bool sure,
        CancellationToken stop
    )
    {
        (Number, Name, Kind, Fits, Replaces, Sure) = (number, name, kind, fits, replaces, sure);
        var pairs = (fits ?? "")
            .Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)
            .Select(l => l.Split(' ', 2, StringSplitOptions.TrimEntries))
            .ToList();
        var outcome = pairs.Exists(p => p.Length < 2 || p[1].Length is 0 or > 40)
            ? new Refusal(RefusalReason.Invalid, "Each line of “fits” is a model and a slot: sandpiper-14 battery.")
            : await add.Run(
                number,
                name,
                kind,
                [.. pairs.Select(p => (p[0], p[1]))],
                replaces,
                sure,
                User.Actor(),
                stop
            );
        if (outcome.Try(out var kept, out var refusal))
        {
            return Did($"{kept} is known now.", "/Stores/Number", new { number = kept });
        }

        return await Again(refusal, stop);
    }

    private async Task<IActionResult> Again(Refusal refusal, CancellationToken stop)
    {
        Refusal = refusal;
        Response.StatusCode = Statuses.OnPage(refusal);
        (_, Models, _) = await units.Choices(stop);
        return Page();
    }
}
