using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Core.ServiceMaps;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.MapMaking;

namespace Zenrik.Web.Rooms.Maps;

/// <summary>Lays a photograph under the drawing of a draft, by two of its points.</summary>
[PostingNeeds(Policies.Bench)]
public sealed class PictureModel(ViewDraft drafts, SayOfModel say) : RoomPage
{
    public DraftView View { get; private set; } = null!;

    public IReadOnlyList<ModelPhoto> Photos { get; private set; } = [];

    /// <summary>The one that is laid; null while one is chosen.</summary>
    public Guid? Chosen { get; private set; }

    /// <summary>What was sent and not taken.</summary>
    public SayForm? Sent { get; private set; }

    public Refusal? Refusal { get; private set; }

    public Underlay? Laid => View.Draft.Underlay;

    public async Task<IActionResult> OnGet(string code, Guid? photo, CancellationToken stop) =>
        await Show(code, photo, stop) ? Page() : NotFound();

    public async Task<IActionResult> OnPost(string code, SayForm form, CancellationToken stop)
    {
        if ((await form.Send(say, code, User.Actor(), stop)).Try(out _, out var refusal))
        {
            return Did("The photograph lies under the drawing.", "/Maps/Draft", new { code });
        }

        if (!await Show(code, form.Photo, stop))
        {
            return NotFound();
        }

        (Sent, Refusal) = (form, refusal);
        Response.StatusCode = Statuses.Of(refusal);
        return Page();
    }

    private async Task<bool> Show(string code, Guid? photo, CancellationToken stop)
    {
        if (!(await drafts.Run(code, stop)).Try(out var view, out _))
        {
            return false;
        }

        View = view;
        Photos = await drafts.Photos(code, stop);
        Chosen = Photos.FirstOrDefault(p => p.Id == photo)?.Id;
        return true;
    }
}
