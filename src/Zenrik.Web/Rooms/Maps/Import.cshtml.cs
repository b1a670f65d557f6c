using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Core.ServiceMaps;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.MapMaking;

namespace Zenrik.Web.Rooms.Maps;

[Authorize(Policies.House)]
[RequestSizeLimit(Uploads.MostBytes)]
[RequestFormLimits(MultipartBodyLengthLimit = Uploads.MostBytes)]
public sealed class ImportModel(PublishMap publish) : RoomPage
{
    public Guid RequestId { get; private set; } = Guid.CreateVersion7();

    public Refusal? Refusal { get; private set; }

    /// <summary>An empty form.</summary>
    public void OnGet() { }

    /// <summary>What the file holds, and what in it is otherwise than ours; null until one was checked.</summary>
    public (ServiceMap Map, IReadOnlyList<MapChange>? Changes)? Looked { get; private set; }

    /// <summary>How many photographs it brings.</summary>
    public int Photos { get; private set; }

    /// <summary>Checks a file and shows what it would change.</summary>
    public async Task<IActionResult> OnPost(IFormFile? file, CancellationToken stop)
    {
        if (!(await Sent(file, stop)).Try(out var sent, out var unreadable))
        {
            return Wrong(unreadable);
        }

        if (!(await publish.Look(sent.Json, stop)).Try(out var looked, out var refusal))
        {
            return Wrong(refusal);
        }

        (Looked, Photos) = (looked, sent.Photos.Count);
        return Answer();
    }

    /// <summary>Takes the file in that was looked at; the form still holds it.</summary>
    public async Task<IActionResult> OnPostTake(Guid request, IFormFile? file, CancellationToken stop)
    {
        RequestId = request;
        return !(await Sent(file, stop)).Try(out var sent, out var unreadable) ? Wrong(unreadable)
            : (await publish.File(request, sent.Json, User.Actor(), sent.Photos, stop)).Try(
                out var said,
                out var refusal
            )
                ? Did(said, "/Maps/Index")
            : Wrong(refusal);
    }

    private static async Task<Outcome<SharedMap>> Sent(IFormFile? file, CancellationToken stop) =>
        file is null
            ? new Refusal(RefusalReason.Invalid, "No file was sent. Choose one.")
            : await SharedMap.Read(await Uploads.Read(file, Uploads.MostBytes, stop), stop);

    private IActionResult Wrong(Refusal refusal)
    {
        Refusal = refusal;
        Response.StatusCode = Statuses.OnPage(refusal);
        return Answer();
    }

    private IActionResult Answer() => Request.IsFragment() ? Partial("_Looked", this) : Page();
}
