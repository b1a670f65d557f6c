using Microsoft.AspNetCore.Mvc;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Book;
using Zenrik.Workshop.Scheduling;

namespace Zenrik.Web.Rooms.Fleet;

/// <summary>When which units of a campaign travel.</summary>
[PostingNeeds(Policies.Counter)]
public sealed class WavesModel(PlanWaves waves, TimeProvider clock) : RoomPage
{
    private const string Here = "/Fleet/Waves";

    public WavesView View { get; private set; } = null!;

    /// <summary>The last day it can be planned to begin on.</summary>
    public DateOnly Latest => clock.Today().AddDays(PlanWaves.Ahead);

    public async Task<IActionResult> OnGet(string name, CancellationToken stop)
    {
        if (await waves.Of(name, stop) is not { } view)
        {
            return NotFound();
        }

        View = view;
        return Page();
    }

    /// <param name="sites">Those of <paramref name="spares"/>, in their order.</param>
    /// <param name="spares">Null: the site can spare all.</param>
    public Task<IActionResult> OnPostAgree(
        string name,
        DateOnly? begins,
        int share,
        int carry,
        [FromForm] string[] sites,
        [FromForm] int?[] spares,
        CancellationToken stop
    ) =>
        Say(
            waves.Agree(
                name,
                new WaveTerms(
                    begins,
                    share,
                    carry,
                    sites
                        .Zip(spares)
                        .Where(s => s.Second is not null)
                        .DistinctBy(s => s.First)
                        .ToDictionary(s => s.First, s => s.Second!.Value)
                ),
                User.Actor(),
                stop
            ),
            Here,
            new { name }
        );

    public Task<IActionResult> OnPostTakeIn(
        string name,
        Guid request,
        string site,
        int units,
        DateOnly? back,
        CancellationToken stop
    ) => Say(waves.TakeIn(request, name, site, units, back, User.Actor(), stop), Here, new { name });
}
