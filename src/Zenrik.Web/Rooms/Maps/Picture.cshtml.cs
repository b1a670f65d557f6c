using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Core.ServiceMaps;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.MapMaking;

namespace Zenrik.Web.Rooms.Maps;

/// <summary>The photographs of a model; lays one under the drawing of its draft, by two of its points.</summary>
[PostingNeeds(Policies.Bench)]
[RequestSizeLimit(Uploads.MostBytes)]
[RequestFormLimits(MultipartBodyLengthLimit = Uploads.MostBytes)]
public sealed class PictureModel(ViewDraft drafts, SayOfModel say, KeepModelPhoto keep) : RoomPage
{
    private const string Here = "/Maps/Picture";

    public DraftView View { get; private set; } = null!;

    public IReadOnlyList<PhotoOfModel> Photos { get; private set; } = [];

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
        Response.StatusCode = Statuses.OnPage(refusal);
        return Page();
    }

    public async Task<IActionResult> OnPostKeep(string code, IFormFile? file, CancellationToken stop) =>
        await Say(
            file is null
                ? Task.FromResult<Outcome<string>>(
                    new Refusal(RefusalReason.Invalid, "No photograph was sent. Choose one.")
                )
                : keep.Run(code, await Uploads.Read(file, stop), User.Actor(), stop),
            Here,
            new { code }
        );

    public Task<IActionResult> OnPostRemove(string code, Guid request, Guid photo, CancellationToken stop) =>
        Say(keep.Remove(request, code, photo, User.Actor(), stop), Here, new { code });

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
