using Microsoft.AspNetCore.Mvc;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Stock;

namespace Zenrik.Web.Rooms.Stores;

[PostingNeeds(Policies.Counter)]
public sealed class BinModel(ViewBin bins, CountBin count) : RoomPage
{
    public BinView View { get; private set; } = null!;

    public async Task<IActionResult> OnGet(string code, CancellationToken stop)
    {
        if (!(await bins.Run(code, stop)).Try(out var view, out _))
        {
            return RedirectToPage("/Scan", new { code });
        }

        View = view;
        return Page();
    }

    public async Task<IActionResult> OnPostCount(string code, CancellationToken stop) =>
        (await count.Start(code, User.Actor(), stop)).Try(out var bin, out var refusal)
            ? RedirectToPage("/Stores/Count", new { code = bin })
            : Refused(refusal, "/Stores/Bin", new { code });
}
