using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.MapMaking;

namespace Zenrik.Web.Rooms.Maps;

[Authorize(Policies.House)]
public sealed class PublishModel(ViewDraft drafts, PublishMap publish) : RoomPage
{
    public DraftView View { get; private set; } = null!;

    public Guid RequestId { get; } = Guid.CreateVersion7();

    public async Task<IActionResult> OnGet(string code, CancellationToken stop)
    {
        if (!(await drafts.Run(code, stop)).Try(out var view, out _))
        {
            return NotFound();
        }

        View = view;
        return Page();
    }

    public async Task<IActionResult> OnPost(string code, Guid request, int seen, CancellationToken stop) =>
        (await publish.Draft(request, code, seen, User.Actor(), stop)).Try(out var said, out var refusal)
            ? Did(said, "/Maps/Map", new { code })
            : Refused(refusal, "/Maps/Draft", new { code });
}
