using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Zenrik.Core.Triage;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.ServiceMaps;
using Zenrik.Workshop.Triage;

namespace Zenrik.Web.Rooms.House;

/// <summary>What closed repairs have done to the weights of faults; a lead may set it aside.</summary>
[PostingNeeds(Policies.House)]
public sealed class LearnedModel(ViewMaps maps, LearnedFaults learned, IAuthorizationService authorization) : RoomPage
{
    public IReadOnlyList<Model> Models { get; private set; } = [];

    public Model Chosen { get; private set; } = null!;

    public IReadOnlyList<LearnedWeight> Weights { get; private set; } = [];

    public int Repairs { get; private set; }

    public int OfClass { get; private set; }

    public LearnedReset? Reset { get; private set; }

    public bool MayReset { get; private set; }

    public async Task<IActionResult> OnGet(string? model, CancellationToken stop)
    {
        Models = await maps.Known(stop);
        if ((Models.FirstOrDefault(m => m.Code == model) ?? (Models.Count > 0 ? Models[0] : null)) is not { } chosen)
        {
            return NotFound();
        }

        Chosen = chosen;
        Weights = await learned.Of(chosen.Code, chosen.Class, stop);
        var counts = await learned.Counts(chosen.Class, stop);
        (Repairs, OfClass) = (
            counts.Where(c => c.ModelCode == chosen.Code).Sum(c => c.Count),
            counts.Sum(c => c.Count)
        );
        Reset = (await learned.Resets(stop)).FirstOrDefault(r => r.Class == chosen.Class);
        MayReset = (await authorization.AuthorizeAsync(User, Policies.House)).Succeeded;
        return Page();
    }

    public async Task<IActionResult> OnPost(string? model, CancellationToken stop) =>
        (await maps.Known(stop)).FirstOrDefault(m => m.Code == model) is { } known
            ? Did((await learned.Reset(known.Class, User.Actor(), stop)).Value, "/House/Learned", new { model })
            : NotFound();
}
