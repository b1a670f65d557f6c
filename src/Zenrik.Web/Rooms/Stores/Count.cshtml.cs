using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Stock;

namespace Zenrik.Web.Rooms.Stores;

[PostingNeeds(Policies.Counter)]
public sealed class CountModel(CountBin count) : RoomPage
{
    public CountView View { get; private set; } = null!;

    /// <summary>What came of the last scan.</summary>
    public string? Said { get; private set; }

    public bool WasRefused { get; private set; }

    public async Task<IActionResult> OnGet(string code, CancellationToken stop) =>
        await Load(code, stop) ? Page() : RedirectToPage("/Stores/Bin", new { code });

    public Task<IActionResult> OnPostScan(string code, string? scanned, CancellationToken stop) =>
        Go(code, count.Scan(code, scanned, User.Actor(), stop), stop);

    public Task<IActionResult> OnPostQuantity(string code, string number, int? counted, CancellationToken stop) =>
        Go(code, count.Quantity(code, number, counted ?? -1, User.Actor(), stop), stop);

    public Task<IActionResult> OnPostLookAgain(string code, CancellationToken stop) =>
        Go(code, count.LookAgain(code, User.Actor(), stop), stop);

    public Task<IActionResult> OnPostGiveUp(string code, CancellationToken stop) =>
        Say(count.GiveUp(code, User.Actor(), stop), "/Stores/Bin", new { code });

    public async Task<IActionResult> OnPostPost(
        string code,
        Guid request,
        [FromForm] string[] keys,
        [FromForm] string?[] whys,
        CancellationToken stop
    )
    {
        var reasons = keys.Zip(whys).DistinctBy(p => p.First).ToDictionary(p => p.First, p => p.Second);
        var outcome = await count.Post(request, code, reasons, User.Actor(), stop);
        return outcome.Try(out var said, out var refusal) ? Did(said, "/Stores/Bin", new { code })
            : await Load(code, stop) ? Show(refusal)
            : Refused(refusal, "/Stores/Bin", new { code });
    }

    private async Task<IActionResult> Go(string code, Task<Outcome<string>> work, CancellationToken stop)
    {
        var outcome = await work;
        if (!await Load(code, stop))
        {
            return RedirectToPage("/Stores/Bin", new { code });
        }

        (Said, WasRefused) = (outcome.Refusal?.Message ?? outcome.Value, outcome.Refusal is not null);
        return Request.IsFragment() ? Partial("_Count", this) : Page();
    }

    private Microsoft.AspNetCore.Mvc.RazorPages.PageResult Show(Refusal refusal)
    {
        (Said, WasRefused) = (refusal.Message, true);
        Response.StatusCode = Statuses.OnPage(refusal);
        return Page();
    }

    private async Task<bool> Load(string code, CancellationToken stop)
    {
        if (await count.Find(code, stop) is not { } view)
        {
            return false;
        }

        View = view;
        return true;
    }
}
