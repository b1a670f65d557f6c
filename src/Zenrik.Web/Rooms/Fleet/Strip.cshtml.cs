using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Core.Fleet;
using Zenrik.Web.Hosting;
using Zenrik.Web.Rooms.Counter;
using Zenrik.Workshop.Economics;
using Zenrik.Workshop.Fleet;

namespace Zenrik.Web.Rooms.Fleet;

[PostingNeeds(Policies.Counter)]
public sealed class StripModel(PassportOf passports, StripDonor strip, EndDonor end) : RoomPage
{
    public Passport Passport { get; private set; } = null!;

    public Guid RequestId { get; private set; } = Guid.CreateVersion7();

    public IReadOnlyList<Stripped> Parts { get; private set; } = [];

    public string? Bin { get; private set; }

    public Refusal? Refusal { get; private set; }

    /// <summary>In which repair it was given up; null when in none.</summary>
    public GivenUp? GivenUp { get; private set; }

    public IReadOnlyList<StorageToErase> Storage => DecideFor.StorageOf(Passport);

    /// <param name="take">Slots to be ticked, with commas between.</param>
    public async Task<IActionResult> OnGet(string tag, string? take, CancellationToken stop)
    {
        Parts =
        [
            .. (take ?? "").Split(',', StringSplitOptions.RemoveEmptyEntries).Select(s => new Stripped(s, null, true)),
        ];
        if (!(await passports.Run(tag, stop)).Try(out var passport, out _))
        {
            return NotFound();
        }

        (Passport, GivenUp) = (passport, await strip.GivenUp(passport.Unit.Id, stop));
        return passport.Unit.State == UnitState.Donor
            ? Page()
            : RedirectToPage("/Fleet/Passport", new { tag = passport.Unit.Tag });
    }

    public async Task<IActionResult> OnPost(
        string tag,
        Guid request,
        [FromForm] string[] slots,
        [FromForm] string[] bad,
        string? bin,
        CancellationToken stop
    )
    {
        (RequestId, Bin) = (request, bin);
        Parts = [.. slots.Select(s => new Stripped(s, Request.Form[$"number-{s}"], !bad.Contains(s)))];
        if ((await strip.Run(request, tag, Parts, bin, User.Actor(), stop)).Try(out var said, out var refusal))
        {
            return Did(said, "/Fleet/Passport", new { tag });
        }

        if (!(await passports.Run(tag, stop)).Try(out var passport, out _))
        {
            return NotFound();
        }

        (Passport, Refusal, GivenUp) = (passport, refusal, await strip.GivenUp(passport.Unit.Id, stop));
        Response.StatusCode = Statuses.OnPage(refusal);
        return Page();
    }

    public Task<IActionResult> OnPostBack(string tag, Guid request, CancellationToken stop) =>
        End(tag, end.BackInUse(request, tag, User.Actor(), stop));

    public Task<IActionResult> OnPostRetire(string tag, Guid request, CancellationToken stop) =>
        End(tag, end.Retire(request, tag, ErasureForm.Read(Request.Form), User.Actor(), stop));

    /// <summary>Ended: to the passport. Not ended: back here with the reason.</summary>
    private async Task<IActionResult> End(string tag, Task<Outcome<string>> ending) =>
        (await ending).Try(out var done, out var refusal)
            ? Did(done, "/Fleet/Passport", new { tag })
            : Refused(refusal, "/Fleet/Strip", new { tag });
}
